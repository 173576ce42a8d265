"""A sheet as it is shown: its paper, its pages, what lies where, in the paper's own unit."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from pathlib import PurePath

from pydantic import BaseModel

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.sheets.canvas import canvas_pixels, extent_of, extent_words, is_paper, shown
from oak_ledge.core.sheets.lay import by_page, room_of, share_used, too_large
from oak_ledge.core.sheets.piece import PieceOn, piece_on
from oak_ledge.core.sheets.sheet import Kind, Layout, Sheet
from oak_ledge.core.sheets.trim_marks import trim_marks
from oak_ledge.core.sizes.file_geometry import panel_boxes
from oak_ledge.core.sizes.geometry import outside_of
from oak_ledge.core.sizes.text.write import shape_label, write_size
from oak_ledge.flows.errors import NotFoundError
from oak_ledge.flows.jobs.jobs import find_job
from oak_ledge.flows.pieces.fingerprint import hash_of
from oak_ledge.flows.pieces.pieces import PieceView, piece_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import placements
from oak_ledge.store.database import Session, reading
from oak_ledge.store.placements import Placed
from oak_ledge.store.sheets import sheets
from oak_ledge.store.sheets.sheets import KeptSheet
from oak_ledge.store.work import deliveries

# Left, top, width and height.
Box = tuple[float, float, float, float]


class LayoutView(BaseModel):
    """How a sheet is laid out, as it is written."""

    paper: str
    """the text of the paper or face"""
    label: str
    margin: str
    gap: str
    marks: bool
    names: bool
    kind: Kind
    cells: str
    """columns × rows; empty where pieces are packed"""


class OnSheet(BaseModel):
    """A piece on a sheet; of a piece in panels, one of them."""

    n: int
    """its number on the sheet; gestures name it"""
    placement_id: int
    panel: int | None
    photo: str
    size: str
    label: str
    """short, for a badge: what it measures"""
    page: int | None
    x: float
    y: float
    width: float
    height: float
    turned: bool
    cut: Box
    """which part of its piece's picture it shows, as shares: all of it, or its panel's"""
    look: str
    """tells its picture as it is now"""
    drawn: bool
    """shown by its own picture; else its photo is, laid out by crop, extent and angle"""
    photo_id: int
    photo_look: str
    quarter: int
    mirror: bool
    crop: Box
    extent: Pixels
    angle: float
    asked: Pixels
    """the pixels of its whole picture"""
    ground: str
    why: str
    """why it lies on no page"""


class Counted(BaseModel):
    """How often a piece lies on the sheet."""

    placement_id: int
    photo: str
    size: str
    count: int
    word: str
    """as shot, rotated to fit, both ways, or that it does not fit"""


class SheetView(BaseModel):
    """A sheet as it is drawn: pages, pieces, and what is wrong with it."""

    id: int
    job_id: int
    job_name: str
    name: str
    step: int
    can_undo: bool
    can_redo: bool
    undo_word: str
    redo_word: str
    layout: LayoutView
    unit: str
    width: float
    height: float
    """of the paper, in its own unit"""
    ppi: float | None
    pixels: str
    ground: str
    room: Box
    """what may be laid on"""
    pages: int
    used: list[float]
    """the share of each page that pieces cover"""
    words: list[str]
    """of each page: how much of it is used, and what did not fit"""
    pieces: list[OnSheet]
    counted: list[Counted]
    marks: list[list[Box]]
    """of each page: its trim marks, from a point to a point"""
    file: str
    """what becomes of it, in one sentence"""
    sheet: Sheet
    """as it is kept; a `PUT` takes the same"""
    made_in: int | None
    """the delivery it was last made in"""


def sheet_in(session: Session, sheet_id: int) -> KeptSheet:
    """Return a sheet within a session; one that is not here is refused."""
    kept = sheets.find(session, sheet_id)
    if kept is None:
        msg = f"There is no sheet {sheet_id}."
        raise NotFoundError(msg)
    return kept


def placed_on(session: Session, sheet: Sheet) -> dict[int, Placed]:
    """Return the placements of a sheet's pieces, as they are now."""
    pieces: dict[int, Placed] = placements.find_many(
        session, [*{pieces.piece for pieces in sheet.places}]
    )
    return pieces


def extents(layout: Layout, placed: Mapping[int, Placed]) -> dict[int, PieceOn]:
    """Return what each piece takes of the paper."""
    return {
        key: piece_on(layout.canvas, piece.lying, named=layout.names)
        for key, piece in placed.items()
    }


def names_of(sheet: Sheet, placed: Mapping[int, Placed]) -> list[str]:
    """Return what each of a sheet's pieces is called in a sentence."""
    return [_called(placed[place.piece], place.panel) for place in sheet.places]


def _called(placed: Placed, panel: int | None) -> str:
    name = f"{PurePath(placed.photo.name).stem}, {shape_label(placed.lying.size)}"
    return name if panel is None else f"{name}, panel {panel}"


def view(workspace: Workspace, sheet_id: int) -> SheetView:
    """Return a sheet as it is drawn; one that is not here is refused."""
    with reading(workspace.sessions) as session:
        return view_in(session, sheet_in(session, sheet_id))


class SheetName(BaseModel):
    """A sheet of a job, by its name."""

    id: int
    name: str


def of_job(workspace: Workspace, job_id: int) -> list[SheetName]:
    """Return the sheets of a job: which, and what they are called."""
    with reading(workspace.sessions) as session:
        find_job(session, job_id)
        return [SheetName(id=kept.id, name=kept.name) for kept in sheets.of_job(session, job_id)]


def known(workspace: Workspace, sheet_ids: set[int]) -> set[int]:
    """Those of some sheets that are still there."""
    with reading(workspace.sessions) as session:
        return sheets.known(session, sheet_ids)


def queue(workspace: Workspace, sheet_id: int, placement_id: int) -> list[Placed]:
    """Return the pieces of a sheet, to go through them on the bench; the one at hand is always among them."""
    with reading(workspace.sessions) as session:
        sheet = sheet_in(session, sheet_id).sheet
        order = [*dict.fromkeys(place.piece for place in sheet.places)]
        if placement_id not in order:
            order.append(placement_id)
        pieces = placements.find_many(session, order)
    return [pieces[key] for key in order if key in pieces]


def view_in(session: Session, kept: KeptSheet) -> SheetView:
    """Return a kept sheet as it is drawn."""
    sheet, canvas = kept.sheet, kept.sheet.layout.canvas
    placed = placed_on(session, sheet)
    steps, last = sheets.steps_of(session, kept.id), deliveries.of_sheet(session, kept.id)
    at = [number for number, _ in steps].index(kept.step)
    on = extents(sheet.layout, placed)
    wide, high = canvas_pixels(canvas)
    pages, places = range(sheet.pages), by_page(sheet)
    used = [share_used(sheet, on, places.get(page, ())) for page in pages]
    left = len(places.get(None, ()))
    room = (0, 0, *extent_of(canvas)) if sheet.layout.cells else room_of(sheet.layout)
    known = {key: (piece_of(piece), hash_of(piece)[:16]) for key, piece in placed.items()}
    pieces = [
        _on_sheet(sheet, n, placed, on, *known[place.piece]) for n, place in enumerate(sheet.places)
    ]
    return SheetView(
        id=kept.id,
        job_id=kept.job_id,
        job_name=find_job(session, kept.job_id).name,
        name=kept.name,
        step=kept.step,
        can_undo=at > 0,
        can_redo=at + 1 < len(steps),
        undo_word=f"Undo {steps[at][1]}" if at else "Undo",
        redo_word=f"Redo {steps[at + 1][1]}" if at + 1 < len(steps) else "Redo",
        layout=layout_view(sheet.layout),
        unit=canvas.shape.measured_in or "px",
        width=_figure(sheet, extent_of(canvas)[0]),
        height=_figure(sheet, extent_of(canvas)[1]),
        ppi=None if canvas.ppi is None else float(canvas.ppi),
        pixels=f"{wide} × {high} px",
        ground=outside_of(canvas),
        room=_box(sheet, room),
        pages=sheet.pages,
        used=used,
        words=[_words(sheet, used[page], left) for page in pages],
        pieces=pieces,
        counted=_counted(sheet, placed),
        marks=[_marks(sheet, on, places.get(page, ())) for page in pages],
        file=_file_words(sheet.layout),
        sheet=sheet,
        made_in=None if last is None else last.delivery_id,
    )


def layout_view(layout: Layout) -> LayoutView:
    """Write a layout as a person does."""
    return LayoutView(
        paper=write_size(layout.canvas).removesuffix(" fixed"),
        label=layout.canvas.name or extent_words(layout.canvas),
        margin=layout.margin,
        gap=layout.gap,
        marks=layout.marks,
        names=layout.names,
        kind=layout.kind,
        cells="" if layout.cells is None else layout.cells.text,
    )


def _on_sheet(
    sheet: Sheet,
    n: int,
    placed: Mapping[int, Placed],
    on: Mapping[int, PieceOn],
    shown_piece: PieceView,
    look: str,
) -> OnSheet:
    place = sheet.places[n]
    piece = placed[place.piece]
    lying = piece.lying
    boxes = panel_boxes(lying.size, lying.asked)
    box = boxes[min(place.panel or 1, len(boxes)) - 1]
    wide, high = lying.asked
    x, y, width, height = _box(sheet, on[place.piece].whole(place.x, place.y, turned=place.turned))
    return OnSheet(
        n=n,
        placement_id=place.piece,
        panel=place.panel,
        photo=piece.photo.name,
        size=shape_label(lying.size),
        label=shape_label(lying.size),
        page=place.page,
        x=x,
        y=y,
        width=width,
        height=height,
        turned=place.turned,
        cut=(box.left / wide, box.top / high, box.width / wide, box.height / high),
        look=look,
        drawn=shown_piece.drawn,
        photo_id=piece.photo.id,
        photo_look=shown_piece.look,
        quarter=shown_piece.quarter,
        mirror=shown_piece.mirror,
        crop=shown_piece.crop,
        extent=shown_piece.extent,
        angle=shown_piece.angle,
        asked=lying.asked,
        ground=shown_piece.ground,
        why="" if place.page is not None else too_large(sheet.layout, _called(piece, place.panel)),
    )


def _counted(sheet: Sheet, placed: Mapping[int, Placed]) -> list[Counted]:
    counted: list[Counted] = []
    firsts = [place for place in sheet.places if place.panel in (None, 1)]
    for piece, count in Counter(first.piece for first in firsts).items():
        its = [first for first in firsts if first.piece == piece]
        word = "rotated to fit" if all(place.turned for place in its) else "as shot"
        if any(place.turned for place in its) and word == "as shot":
            word = "both ways"
        if all(place.page is None for place in its):
            word = "does not fit"
        photo = PurePath(placed[piece].photo.name).stem
        size = shape_label(placed[piece].lying.size)
        counted.append(Counted(placement_id=piece, photo=photo, size=size, count=count, word=word))
    return counted


def _words(sheet: Sheet, used: float, left: int) -> str:
    canvas = sheet.layout.canvas
    what = "paper" if is_paper(canvas) else "face"
    parts = [extent_words(canvas), f"{rounded(used * 100, 0)} % of the {what} used"]
    if left:
        parts.append("1 piece does not fit" if left == 1 else f"{left} pieces do not fit")
    return " · ".join(parts)


def _marks(sheet: Sheet, on: Mapping[int, PieceOn], numbers: Sequence[int]) -> list[Box]:
    layout = sheet.layout
    if not layout.marks or not is_paper(layout.canvas) or layout.cells:
        return []
    places = [sheet.places[n] for n in numbers]
    marks = trim_marks(
        [on[place.piece].trimmed(place.x, place.y, turned=place.turned) for place in places],
        [on[place.piece].whole(place.x, place.y, turned=place.turned) for place in places],
        extent_of(layout.canvas),
    )
    per = float(shown(layout.canvas, extent_of(layout.canvas)[0]) / extent_of(layout.canvas)[0])
    return [(m.x0 * per, m.y0 * per, m.x1 * per, m.y1 * per) for m in marks]


def _file_words(layout: Layout) -> str:
    if layout.kind == "pdf":
        return (
            "In the PDF every piece keeps its own pixels and lies to a hundredth of a millimetre; "
            "trim marks are lines, not pixels."
        )
    return "Every piece is drawn straight from its photo onto the sheet's own pixels, in sRGB."


def _box(sheet: Sheet, rect: Sequence[object]) -> Box:
    x, y, width, height = (_figure(sheet, edge) for edge in rect)
    return x, y, width, height


def _figure(sheet: Sheet, amount: object) -> float:
    return round(float(shown(sheet.layout.canvas, amount)), 6)  # type: ignore[arg-type]
