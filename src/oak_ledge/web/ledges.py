"""Where pieces stand on a job's ledge: true relative scale, in the drawing's own units."""

from __future__ import annotations

from dataclasses import dataclass

from oak_ledge.flows.jobs import JobView, PieceView

SCREEN_PPI = 96.0  # what a pixel size is taken as beside prints, only so that it can be drawn
GAP = 16.0


@dataclass(frozen=True)
class Standing:
    """A piece on the ledge: its box, and the photo's box behind that box as a window."""

    piece: PieceView
    left: float
    top: float
    width: float
    height: float
    photo: tuple[float, float, float, float]


@dataclass(frozen=True)
class Ledge:
    """A drawing of `width` × `height`, feet of all pieces on its lower edge."""

    width: float
    height: float
    standing: list[Standing]
    scale: float
    """drawing units per inch"""


def ledge_of(job: JobView, *, width: float = 1200.0, height: float = 118.0) -> Ledge:
    """Stand a job's pieces side by side, as large as the ledge allows, all at one scale."""
    sizes = [_inches(piece) for piece in job.pieces]
    wide, high = sum(w for w, _ in sizes), max(h for _, h in sizes)
    gap = min(GAP, width * 0.3 / len(sizes))
    scale = min((height - 6) / high, (width - gap * (len(sizes) + 1)) / wide)
    left, standing = gap, []
    for piece, (w, h) in zip(job.pieces, sizes, strict=True):
        box = (left, height - h * scale, w * scale, h * scale)
        zoom = box[2] / piece.crop[2]
        photo = (
            box[0] - piece.crop[0] * zoom,
            box[1] - piece.crop[1] * zoom,
            piece.held[0] * zoom,
            piece.held[1] * zoom,
        )
        standing.append(Standing(piece, *box, photo))
        left += box[2] + gap
    return Ledge(width, height, standing, scale)


def _inches(piece: PieceView) -> tuple[float, float]:
    return piece.inches or (piece.width / SCREEN_PPI, piece.height / SCREEN_PPI)
