"""An ordered sheet → its file: a PDF of every piece's own pixels, or a picture drawn from the photos."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory

from oak_ledge.core.errors import FileError
from oak_ledge.core.files.limits import Limits, check_output
from oak_ledge.core.files.proof import Asked
from oak_ledge.core.pixels.encode.encode import encode
from oak_ledge.core.pixels.finish.profile import SRGB
from oak_ledge.core.pixels.paper.sheet_pdf import OnPage, Page, write_sheet
from oak_ledge.core.pixels.paper.sheet_picture import Drawn, draw_page
from oak_ledge.core.placements.placement import changed
from oak_ledge.core.sheets.canvas import canvas_pixels, extent_of, is_paper, on_pixels
from oak_ledge.core.sheets.piece import PieceOn, drawn_on, piece_on
from oak_ledge.core.sheets.pixel_boxes import pixel_boxes
from oak_ledge.core.sheets.print_order import OrderedPiece, SheetOrder
from oak_ledge.core.sheets.sheet import Place
from oak_ledge.core.sheets.trim_marks import TrimMark, trim_marks
from oak_ledge.core.sizes.edges.panels import PanelBox
from oak_ledge.core.sizes.file_geometry import file_pixels
from oak_ledge.core.sizes.geometry import outside_of
from oak_ledge.core.sizes.size import changed_size
from oak_ledge.flows.delivery.making import (
    MadePiece,
    Work,
    cut_in_panels,
    draw_anew,
    pixels_of,
    proven,
)
from oak_ledge.store.folders import CHUNK

# Gives what a piece is made from.
WorkOf = Callable[[OrderedPiece], Work]


def make_sheet(order: SheetOrder, work_of: WorkOf, limits: Limits, path: Path, title: str) -> None:
    """Make the file of a sheet at a path; one piece at a time is held in memory.

    Raises
    ------
    CoreError
        If a piece, or the sheet, can't be made.
    """
    if order.layout.kind == "pdf":
        _make_pdf(order, work_of, limits, path, title)
    else:
        path.write_bytes(_picture(order, work_of, limits))


def finish_sheet(
    order: SheetOrder, work_of: WorkOf, limits: Limits, folder: Path, stem: str, name: str | None
) -> MadePiece:
    """Make the file of a sheet, and measure it from disk before it bears its name.

    Raises
    ------
    CoreError
        If it can't be made, written, or is not measured as asked.
    """
    with TemporaryDirectory() as beside:
        path = Path(beside) / "sheet"
        make_sheet(order, work_of, limits, path, stem)
        with path.open("rb") as file:
            parts = iter(lambda: file.read(CHUNK), b"")
            return proven(order.layout.canvas, asked_of_sheet(order), parts, folder, stem, name)


def asked_of_sheet(order: SheetOrder) -> Asked:
    """Return what the file of a sheet shall be."""
    canvas, kind = order.layout.canvas, order.layout.kind
    width, height = canvas_pixels(canvas)
    return Asked(
        width=width,
        height=height,
        ppi=None if canvas.ppi is None else float(canvas.ppi),
        format=kind,
        at_most=None if kind == "pdf" else canvas.file.at_most,
        pages=len(order.pages) if kind == "pdf" else None,
    )


def _make_pdf(order: SheetOrder, work_of: WorkOf, limits: Limits, path: Path, title: str) -> None:
    canvas = order.layout.canvas
    if not is_paper(canvas):
        msg = "a PDF needs a paper in lengths. Make a PNG, TIFF or JPEG of a face"
        raise FileError(msg)
    numbers: dict[tuple[int, int], int] = {}
    works = {piece.number: work_of(piece) for piece in order.pieces}
    for piece in order.pieces:
        panels = works[piece.number].lying.size.panels
        for panel in range(panels.count if panels else 1):
            numbers[piece.number, panel] = len(numbers)
    labels = {piece.number: piece.label for piece in order.pieces}

    def files() -> Iterator[bytes]:
        for piece in order.pieces:
            yield from draw_anew(_lossless_or_jpeg(works[piece.number]), limits)

    pages = [
        Page(
            [
                OnPage(
                    numbers[place.piece, (place.panel or 1) - 1],
                    _on(order, works, place).whole(place.x, place.y, turned=place.turned),
                    place.turned,
                    labels[place.piece] if order.layout.names else "",
                )
                for place in order.on(page)
            ],
            _marks(order, works, page),
        )
        for page in order.pages
    ]
    write_sheet(path, extent_of(canvas), pages, files(), title)


def _lossless_or_jpeg(work: Work) -> Work:
    """Make a piece as what a PDF can hold untouched: its own JPEG, else its pixels without loss."""
    size = work.lying.size
    if size.file.format == "jpeg":
        return work
    file = size.file.model_copy(update={"format": "png", "at_most": None})
    bare = changed(work.placement, size=None)
    return replace(work, size=changed_size(size, file=file), placement=bare)


def _on(order: SheetOrder, works: dict[int, Work], place: Place) -> PieceOn:
    return piece_on(order.layout.canvas, works[place.piece].lying, named=order.layout.names)


def _marks(order: SheetOrder, works: dict[int, Work], page: int) -> list[TrimMark]:
    layout = order.layout
    if not layout.marks or not is_paper(layout.canvas) or layout.cells:
        return []
    placed = [(place, _on(order, works, place)) for place in order.on(page)]
    return trim_marks(
        [on.trimmed(place.x, place.y, turned=place.turned) for place, on in placed],
        [on.whole(place.x, place.y, turned=place.turned) for place, on in placed],
        extent_of(layout.canvas),
    )


def _picture(order: SheetOrder, work_of: WorkOf, limits: Limits) -> bytes:
    layout, canvas = order.layout, order.layout.canvas
    check_output(canvas_pixels(canvas), limits)
    works = {piece.number: _for_picture(work_of(piece), order) for piece in order.pieces}
    places = order.on(order.pages[0])
    boxes = _boxes(order, works, places)
    labels = {piece.number: piece.label for piece in order.pieces}

    def drawn() -> Iterator[Drawn]:
        for number, work in works.items():
            check_output(work.lying.asked, limits)
            parts = cut_in_panels(work.lying, pixels_of(work)[0])
            for place, box in zip(places, boxes, strict=True):
                if place.piece == number:
                    name = labels[number] if layout.names else ""
                    yield Drawn(parts[(place.panel or 1) - 1], box, place.turned, name)

    settings = canvas.file.model_copy(update={"format": layout.kind})
    ppi = None if canvas.ppi is None or not is_paper(canvas) else float(canvas.ppi)
    marks = _marks(order, works, order.pages[0])
    page = draw_page(canvas_pixels(canvas), outside_of(canvas), drawn(), marks, ppi)
    return encode(page, settings, canvas.ppi, SRGB)


def _for_picture(work: Work, order: SheetOrder) -> Work:
    """Draw a piece at the sheet's own resolution, in its profile, clear where it is cut out."""
    lying = drawn_on(order.layout.canvas, work.lying)
    file = lying.size.file.model_copy(update={"format": "png", "profile": "srgb", "icc": None})
    size = changed_size(lying.size, file=file)
    return replace(work, size=size, placement=changed(lying.placement, size=None))


def _boxes(order: SheetOrder, works: dict[int, Work], places: tuple[Place, ...]) -> list[PanelBox]:
    canvas, wanted = order.layout.canvas, []
    for place in places:
        lying = works[place.piece].lying
        wide, high = file_pixels(lying.size, lying.asked)
        left, top = on_pixels(canvas, place.x), on_pixels(canvas, place.y)
        wanted.append(
            PanelBox(left, top, high, wide) if place.turned else PanelBox(left, top, wide, high)
        )
    return pixel_boxes(wanted, canvas_pixels(canvas))
