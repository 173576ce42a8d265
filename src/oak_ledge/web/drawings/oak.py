"""Where pieces stand on a job's ledge: true relative scale, in the drawing's own units."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from oak_ledge.flows.pieces.pieces import PieceView
from oak_ledge.web.drawings.picture import Rect, photo_in, picture_in

# What a pixel size is taken as beside prints, only so that it can be drawn.
SCREEN_PPI = 96.0


GAP = 18.0


OVERLAP = 0.42


@dataclass(frozen=True)
class Standing:
    """A piece on the ledge: its box, and the photo's box behind that box as a window."""

    piece: PieceView
    left: float
    top: float
    width: float
    height: float
    picture: Rect
    photo: Rect


@dataclass(frozen=True)
class LedgeDrawing:
    """A drawing of `width` × `height`, feet of all pieces on its lower edge."""

    width: float
    height: float
    standing: list[Standing]
    scale: float
    """drawing units per inch"""


def ledge_of(pieces: Sequence[PieceView], *, width: float, height: float) -> LedgeDrawing:
    """Stand pieces photo by photo, as large as the ledge allows, all at one scale.

    Of one photo the largest stands at the back, smaller ones lean over its foot.
    """
    if not pieces:
        return LedgeDrawing(width, height, [], 1.0)
    groups: dict[int, list[PieceView]] = {}
    for piece in pieces:
        groups.setdefault(piece.photo_id, []).append(piece)
    for group in groups.values():
        group.sort(key=lambda piece: -_inches(piece)[0] * _inches(piece)[1])
    wide = sum(_steps(group)[-1] + _inches(group[-1])[0] for group in groups.values())
    high = max(_inches(piece)[1] for piece in pieces)
    gap = min(GAP, width * 0.3 / len(groups))
    scale = min((height - 6) / high, (width - gap * (len(groups) + 1)) / wide)
    left, standing = gap, []
    for group in groups.values():
        for piece, step in zip(group, _steps(group), strict=True):
            standing.append(_stand(piece, left + step * scale, height, scale))
        left = standing[-1].left + standing[-1].width + gap
    return LedgeDrawing(width, height, standing, scale)


def _steps(group: list[PieceView]) -> list[float]:
    """How far right of the first each piece of a photo begins, in inches."""
    steps = [0.0]
    for before, piece in pairwise(group):
        reach = steps[-1] + _inches(before)[0]
        steps.append(reach - OVERLAP * min(_inches(before)[0], _inches(piece)[0]))
    return steps


def _stand(piece: PieceView, left: float, foot: float, scale: float) -> Standing:
    width, height = (edge * scale for edge in _inches(piece))
    top = foot - height
    picture = picture_in(piece, (left, top, width, height))
    return Standing(piece, left, top, width, height, picture, photo_in(piece, picture))


def _inches(piece: PieceView) -> tuple[float, float]:
    if piece.inches:
        return piece.inches
    width = piece.width / piece.inner[2] / SCREEN_PPI
    return width, width * piece.face[1] / piece.face[0]
