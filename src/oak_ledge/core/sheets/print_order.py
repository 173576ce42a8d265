"""A sheet as it was asked for: frozen, with all its files are made from."""

from __future__ import annotations

from pydantic import Field

from oak_ledge.core.files.names import safe
from oak_ledge.core.photos.retouches import NO_RETOUCHES, Retouches
from oak_ledge.core.placements.placement import Placement, size_at
from oak_ledge.core.sheets.sheet import Layout, Place
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.write import shape_label
from oak_ledge.core.values import Value


class OrderedPiece(Value):
    """A piece as it was when its sheet was asked for; `number` is what it is called by there."""

    number: int
    photo_id: int = 0
    photo_name: str
    photo_hash: str = ""
    size: Size
    placement: Placement
    retouches: Retouches = NO_RETOUCHES

    @property
    def label(self) -> str:
        """What is written below it: its photo and what it measures."""
        return f"{self.photo_name}, {shape_label(size_at(self.size, self.placement))}"


class SheetOrder(Value):
    """The pages of a sheet that make one file: all of a PDF, one of a picture."""

    layout: Layout
    pieces: tuple[OrderedPiece, ...]
    places: tuple[Place, ...]
    pages: tuple[int, ...] = Field(description="which of the sheet's, from 0")

    def on(self, page: int) -> tuple[Place, ...]:
        """Return what lies on a page."""
        return tuple(place for place in self.places if place.page == page)


def files_of(
    layout: Layout, pieces: tuple[OrderedPiece, ...], places: tuple[Place, ...]
) -> tuple[SheetOrder, ...]:
    """Return each file of a sheet: one PDF of all its pages, or a picture of each; none if nothing lies on it."""
    laid = tuple(place for place in places if place.page is not None)
    pages = sorted({place.page for place in laid if place.page is not None})
    groups: list[tuple[int, ...]] = [(page,) for page in pages]
    if layout.kind == "pdf" and pages:
        groups = [tuple(pages)]
    sheet_orders = []
    for group in groups:
        here = tuple(place for place in laid if place.page in group)
        used = {place.piece for place in here}
        sheet_orders.append(
            SheetOrder(
                layout=layout,
                pieces=tuple(piece for piece in pieces if piece.number in used),
                places=here,
                pages=group,
            )
        )
    return tuple(sheet_orders)


def sheet_stem(name: str, page: int, pages: int) -> str:
    """Name a sheet's file; of several its page stands behind it."""
    stem = safe(name)
    return stem if pages == 1 else f"{stem}_{page + 1}"
