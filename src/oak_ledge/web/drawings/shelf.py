"""Where pieces stand on a job's shelves, in the drawing's own units; one is a pixel at 1280."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.planes.points import Point
from oak_ledge.flows.jobs.job_views import JobBrief, JobPhoto
from oak_ledge.flows.jobs.ledge import By
from oak_ledge.flows.jobs.survivors import Survival
from oak_ledge.flows.pieces.pieces import PieceView, standing
from oak_ledge.web.drawings.picture import Rect, photo_in, picture_in
from oak_ledge.web.drawings.wall import CM, Tick, ticks

WIDE = 1200.0


# At the left: the photo, or the size's name.
SIDE = 200.0


# A piece with its label takes at least so much.
SLOT, GAP = 116.0, 26.0


# Of a label, about.
LETTER = 7.0


PHOTO = (180.0, 130.0)


# The widest screen of a job is drawn so wide.
SCREEN = 160.0


# Units to the inch one can choose.
SCALES = (3, 4, 6, 8, 10, 12, 16, 20, 26, 34, 44)


RULER = 245.0


MANY = 5


# Pieces of the usual scale are no taller.
TALL = 330.0


@dataclass(frozen=True)
class Stood:
    """A piece on its shelf: x, y, width and height of what stands there and of the piece in it."""

    piece: PieceView
    outer: Rect
    inner: Rect
    sight: Rect | None
    """the moulding's inner edge; None without a frame"""
    window: Rect | None
    """the mat's window; None without a mat"""
    picture: Rect
    photo: Rect
    left: float
    """where its label begins"""
    state: str
    ruler: int | None
    """a screen's width in its own pixels"""


@dataclass(frozen=True)
class ShelfRow:
    """One oak line with what stands on it."""

    height: float
    pieces: list[Stood]


@dataclass(frozen=True)
class Leaning:
    """The whole photo at the left: the crops of all its pieces, and what survives them."""

    photo: JobPhoto
    box: Rect
    outlines: list[str]
    survives: str
    share: str
    zones: list[str]


@dataclass(frozen=True)
class ShelfDrawing:
    """All that stands for one photo or one size: its rows, and its name."""

    key: str
    title: str
    below: str
    leaning: Leaning | None
    rows: list[ShelfRow]


def usual_scale(pieces: Iterable[PieceView], by: By, wide: float = WIDE) -> int:
    """Return the largest scale at which the tallest print still fits a screen `wide` units across.

    By size, `MANY` of the widest stand on one shelf.
    """
    edges = [_size(piece, 1.0, 1.0) for piece in pieces if piece.inches]
    if not edges:
        return 12
    tallest, widest = max(high for _, high in edges), max(wide for wide, _ in edges)
    many = MANY if wide >= WIDE else max(1.0, MANY * wide / WIDE)
    room = wide - SIDE if by == "photo" else (wide - SIDE) / many - GAP
    fits = [
        scale_there
        for scale_there in SCALES
        if scale_there * tallest <= TALL and scale_there * widest <= room
    ]
    return fits[-1] if fits else SCALES[0]


def screen_scale(pieces: Iterable[PieceView], most: float | None = None) -> float:
    """Return units to the pixel, for pieces that have no physical size.

    `most` is that of the shelves above: it stays as long as all pieces find room at it.
    """
    screens = [piece for piece in pieces if not piece.inches]
    if not screens:
        return most or 1.0
    fits = SCREEN / max(piece.width for piece in screens)
    if most is None:
        return fits
    room = min((WIDE - SIDE) / max(p.width for p in screens), TALL / max(p.height for p in screens))
    return min(most, room)


def ruler_of(scale: float) -> tuple[list[Tick], list[Tick]]:
    """Return the ticks of a ruler in inches and centimetres at a drawing's scale."""
    return ticks(RULER, scale, "in"), ticks(RULER, scale / CM, "cm")


def shelves(
    job: JobBrief,
    pieces: Sequence[PieceView],
    survivals: Sequence[Survival],
    by: By,
    scale: float,
    per_pixel: float,
    wide: float = WIDE,
) -> list[ShelfDrawing]:
    """Stand pieces on shelves `wide` units long, one for each photo or size, in the job's order."""
    groups: dict[int, list[PieceView]] = {}
    for piece in pieces:
        groups.setdefault(piece.member_id if by == "photo" else piece.size_id, []).append(piece)
    drawn = []
    if by == "photo":
        survives = {survival.photo_id: survival for survival in survivals}
        for photo in job.photos:
            if photo.id in groups:
                leaning = _leaning(photo, groups[photo.id], survives.get(photo.photo_id))
                below = f"{photo.upright[0]} × {photo.upright[1]} px"
                rows = _rows(groups[photo.id], by, scale, per_pixel, wide)
                drawn.append(ShelfDrawing(str(photo.id), photo.name, below, leaning, rows))
        return drawn
    for size in job.sizes:
        below = "" if size.label == size.name else size.label
        for n, (name, on_it) in enumerate(_by_own(groups.get(size.id, ()), size.name)):
            rows = _rows(on_it, by, scale, per_pixel, wide)
            if name == size.name:
                drawn.append(ShelfDrawing(str(size.id), name, below, None, rows))
            else:
                drawn.append(
                    ShelfDrawing(f"{size.id}-{n}", name, f"instead of {size.name}", None, rows)
                )
    return drawn


def _by_own(pieces: Iterable[PieceView], name: str) -> list[tuple[str, list[PieceView]]]:
    """Part the pieces of a job's size, by its name, from those on sizes of their own."""
    groups: dict[str, list[PieceView]] = {name: []}
    for piece in pieces:
        groups.setdefault(piece.own or name, []).append(piece)
    return [(on, those) for on, those in groups.items() if those]


def _label(piece: PieceView, by: By) -> str:
    return piece.photo_name if by == "size" else piece.on


def _rows(
    pieces: Sequence[PieceView], by: By, scale: float, per_pixel: float, most: float
) -> list[ShelfRow]:
    rows: list[list[tuple[PieceView, float, float]]] = [[]]
    left = SIDE
    for piece in pieces:
        wide = _size(piece, scale, per_pixel)[0]
        slot = max(wide, SLOT, LETTER * min(22, len(_label(piece, by))) + 30)
        if left + slot > most and rows[-1]:
            rows.append([])
            left = 0.0  # beside the first row only stands what the shelf is of
        rows[-1].append((piece, left, slot))
        left += slot + GAP
    return [_row(row, scale, per_pixel) for row in rows]


def _row(row: list[tuple[PieceView, float, float]], scale: float, per_pixel: float) -> ShelfRow:
    tallest = max(_size(piece, scale, per_pixel)[1] for piece, _, _ in row)
    rulers = any(not piece.inches for piece, _, _ in row)
    height = max(PHOTO[1] + 20, tallest + (38 if rulers else 20))
    return ShelfRow(
        height, [_stood(piece, left, height, scale, per_pixel) for piece, left, _ in row]
    )


def _size(piece: PieceView, scale: float, per_pixel: float) -> tuple[float, float]:
    """Return width and height of what stands on the shelf, its frame counted."""
    wide, high = _file(piece, scale, per_pixel)
    around, below = piece.hung.frame if piece.hung else (1.0, 1.0)
    return wide * around, high * below


def _file(piece: PieceView, scale: float, per_pixel: float) -> tuple[float, float]:
    if piece.inches:
        return piece.inches[0] * scale, piece.inches[1] * scale
    wide = piece.width / piece.inner[2] * per_pixel
    return wide, wide * piece.face[1] / piece.face[0]


def _stood(piece: PieceView, left: float, foot: float, scale: float, per_pixel: float) -> Stood:
    wide, high = _size(piece, scale, per_pixel)
    outer = (left, foot - high, wide, high)
    inner = _about(outer, *_file(piece, scale, per_pixel))
    sight, window = (
        _about(outer, inner[2] * share[0], inner[3] * share[1]) if share else None
        for share in ((piece.hung.sight, piece.hung.window) if piece.hung else (None, None))
    )
    picture = picture_in(piece, inner)
    return Stood(
        piece=piece,
        outer=outer,
        inner=inner,
        sight=sight,
        window=window,
        picture=picture,
        photo=photo_in(piece, picture),
        left=left,
        state=standing(piece.state, piece.level),
        ruler=None if piece.inches else round(piece.width / piece.inner[2]),
    )


def _about(rect: Rect, wide: float, high: float) -> Rect:
    """Return a rectangle of an extent about another's middle."""
    return rect[0] + (rect[2] - wide) / 2, rect[1] + (rect[3] - high) / 2, wide, high


def _leaning(photo: JobPhoto, pieces: list[PieceView], survival: Survival | None) -> Leaning:
    extent = pieces[0].extent
    scale = min(PHOTO[0] / extent[0], PHOTO[1] / extent[1])
    box = (0.0, -extent[1] * scale, extent[0] * scale, extent[1] * scale)

    def path(points: Sequence[Point]) -> str:
        if len(points) < 3:
            return ""
        at = (f"{x * scale:.1f} {box[1] + y * scale:.1f}" for x, y in points)
        return f"M{'L'.join(at)}z"

    alike = [piece for piece in pieces if piece.extent == extent]
    not_turned = pieces[0].quarter == 0 and not pieces[0].mirror
    zones = [
        path([(z.left, z.top), (z.left + z.width, z.top), (z.left + z.width, z.top + z.height),
              (z.left, z.top + z.height)])
        for z in (photo.found if not_turned else ())
    ]  # fmt: skip
    return Leaning(
        photo=photo,
        box=box,
        outlines=[path(piece.outline) for piece in alike],
        survives=path(survival.area) if survival else "",
        share=f"{rounded(survival.share * 100, 0)} % is in every crop" if survival else "",
        zones=zones,
    )
