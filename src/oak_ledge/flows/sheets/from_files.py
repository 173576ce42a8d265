"""What the command line asks of sheets: photo files on sizes, laid on a paper or in cells, made."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

from pydantic import BaseModel

from oak_ledge.core.errors import CoreError, FileError
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.files.proof import Measured
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.placements.placement import Placement, size_at
from oak_ledge.core.sheets.canvas import extent_of, per_unit, shown
from oak_ledge.core.sheets.cells import cell_boxes, cell_size
from oak_ledge.core.sheets.lay import Pieces, placed_by_itself, too_large
from oak_ledge.core.sheets.piece import piece_on
from oak_ledge.core.sheets.print_order import OrderedPiece, SheetOrder, files_of, sheet_stem
from oak_ledge.core.sheets.sheet import Layout, Place, Sheet
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.write import size_name, write_size
from oak_ledge.flows.commands.make import Failed
from oak_ledge.flows.commands.tell import (
    LyingOptions,
    heads_in,
    look,
    place,
    shown as shown_path,
    stopped,
)
from oak_ledge.flows.delivery.making import Work, panels_of
from oak_ledge.flows.delivery.sheet_file import finish_sheet
from oak_ledge.flows.pieces.figures import Around, figures


class LaidPiece(BaseModel):
    """A piece on a sheet: its top left corner and extent, in the paper's own unit."""

    photo: str
    size: str
    x: float
    y: float
    width: float
    height: float
    turned: bool


class MadeSheet(BaseModel):
    """A page of a sheet, and the file it is in; several pages of a PDF are in one."""

    file: str
    page: int
    width: float
    height: float
    ppi: float | None
    pieces: list[LaidPiece]
    measured: Measured


class Unplaced(BaseModel):
    """A piece that lies on no sheet, and why."""

    photo: str
    size: str
    reason: str


class SheetOutcome(BaseModel):
    """The sheets one call made, and what lies on none of them."""

    sheets: list[MadeSheet]
    unplaced: list[Unplaced]
    failed: list[Failed]


@dataclass(frozen=True)
class _Piece:
    path: Path
    facts: PhotoFacts
    ordered: OrderedPiece
    work: Work

    @property
    def size(self) -> str:
        """The size as it is written in a line."""
        return write_size(size_at(self.ordered.size, self.ordered.placement))


def make_sheets(
    paths: Sequence[Path],
    sizes: Sequence[Size],
    layout: Layout,
    way: LyingOptions,
    out: Path,
    limits: Limits,
    allowed: frozenset[str] = frozenset(),
) -> SheetOutcome:
    """Lay every photo on every size, all of them on sheets, and make these; in cells, one photo to each.

    What can't be read or is stopped is told and left out; what is larger than the paper lies on none.

    Raises
    ------
    CoreError
        If the sheet itself can't be.
    """
    wanted = [(path, size) for path in paths for size in sizes]
    if layout.cells is not None:
        boxes = cell_boxes(layout.canvas, layout.cells, layout.margin, layout.gap)
        if len(paths) != len(boxes):
            msg = f"{len(boxes)} cells take {len(boxes)} photos, one each; {len(paths)} are given"
            raise FileError(msg)
        wanted = [
            (path, cell_size(layout.canvas, box)) for path, box in zip(paths, boxes, strict=True)
        ]
    return make_pairs(wanted, layout, way, out, limits, allowed)


def make_pairs(
    wanted: Sequence[tuple[Path, Size]],
    layout: Layout,
    way: LyingOptions,
    out: Path,
    limits: Limits,
    allowed: frozenset[str] = frozenset(),
) -> SheetOutcome:
    """Lay photos on sheets, each on a size of its own, and make these.

    Raises
    ------
    CoreError
        If a sheet can't be made.
    """
    outcome = SheetOutcome(sheets=[], unplaced=[], failed=[])
    pieces: list[_Piece | None] = []
    for number, (path, size) in enumerate(wanted):
        try:
            pieces.append(_piece(number, path, size, way, limits, allowed))
        except CoreError as exc:
            pieces.append(None)
            outcome.failed.append(Failed(photo=shown_path(path), reason=str(exc)))
    known = {piece.ordered.number: piece for piece in pieces if piece is not None}
    sheet = _laid(layout, known)
    for spot in sheet.places:
        if spot.page is None:
            piece = known[spot.piece]
            reason = too_large(layout, size_name(piece.work.lying.size))
            outcome.unplaced.append(
                Unplaced(photo=shown_path(piece.path), size=piece.size, reason=reason)
            )
    ordered = tuple(photo.ordered for photo in known.values())
    orders = files_of(layout, ordered, sheet.places)
    for order in orders:
        stem = sheet_stem(out.stem, order.pages[0], len(orders))
        finished = finish_sheet(
            order, lambda piece: known[piece.number].work, limits, out.parent, stem, None
        )
        outcome.sheets += [
            _page(order, page, known, finished.path, finished.measured) for page in order.pages
        ]
    return outcome


def _laid(layout: Layout, known: dict[int, _Piece]) -> Sheet:
    if layout.cells is not None:
        scale = per_unit(layout.canvas)
        boxes = cell_boxes(layout.canvas, layout.cells, layout.margin, layout.gap)
        places = tuple(
            Place(piece=n, page=0, x=Fraction(box.left) / scale, y=Fraction(box.top) / scale)
            for n, box in enumerate(boxes)
            if n in known
        )
        return Sheet(layout=layout, places=places)
    places = tuple(
        Place(piece=n, panel=panel) for n, photo in known.items() for panel in panels_of(photo.work)
    )
    return placed_by_itself(Sheet(layout=layout, places=places), _extents(layout, known))


def _extents(layout: Layout, known: dict[int, _Piece]) -> Pieces:
    return {
        n: piece_on(layout.canvas, photo.work.lying, named=layout.names)
        for n, photo in known.items()
    }


def _piece(
    number: int, path: Path, size: Size, way: LyingOptions, limits: Limits, allowed: frozenset[str]
) -> _Piece:
    facts = look(path, limits)
    known = Around(faces=None if size.head is None else heads_in(path, facts, way))
    placement: Placement = place(size, facts, way, known)
    why = stopped(figures(size, facts, placement, known), allowed)
    if why is not None:
        raise FileError(why)
    ordered = OrderedPiece(number=number, photo_name=path.name, size=size, placement=placement)
    return _Piece(path, facts, ordered, Work(path, path.name, facts, size, placement))


def _page(
    order: SheetOrder, page: int, known: dict[int, _Piece], file: Path, measured: Measured
) -> MadeSheet:
    canvas = order.layout.canvas
    extents = _extents(order.layout, known)
    pieces = []
    for spot in order.on(page):
        rect = extents[spot.piece].whole(spot.x, spot.y, turned=spot.turned)
        x, y, width, height = (round(float(shown(canvas, edge)), 6) for edge in rect)
        piece = known[spot.piece]
        pieces.append(
            LaidPiece(
                photo=shown_path(piece.path), size=piece.size, x=x, y=y, width=width,
                height=height, turned=spot.turned,
            )
        )  # fmt: skip
    wide, high = (round(float(shown(canvas, edge)), 6) for edge in extent_of(canvas))
    ppi = None if canvas.ppi is None else float(canvas.ppi)
    return MadeSheet(
        file=shown_path(file), page=page + 1, width=wide, height=high, ppi=ppi, pieces=pieces,
        measured=measured,
    )  # fmt: skip
