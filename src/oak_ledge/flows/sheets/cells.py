"""Photos in the cells of one face: each cell is a size of its own, which only its photo lies on."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from fractions import Fraction

from oak_ledge.core.placements.like_another import laid_like
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.sheets.canvas import extent_words, per_unit
from oak_ledge.core.sheets.cells import cell_boxes, cell_size
from oak_ledge.core.sheets.sheet import Layout, Place, Sheet
from oak_ledge.core.sizes.edges.panels import PanelBox
from oak_ledge.core.sizes.size import Size
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.photos.photos import first_on
from oak_ledge.store import placements
from oak_ledge.store.database import Session
from oak_ledge.store.placements import Placed
from oak_ledge.store.sheets import cells


def laid_in_cells(
    session: Session, job_id: int, layout: Layout, chosen: Sequence[Placed], now: datetime
) -> Sheet:
    """Lay the photos of pieces in the cells of a face, row by row.

    What lay in a cell before keeps its work as far as the new cell lets it.

    Raises
    ------
    RequestError
        If there are more photos than cells.
    SizeError
        If a cell would have no pixel.
    """
    assert layout.cells is not None
    boxes = cell_boxes(layout.canvas, layout.cells, layout.margin, layout.gap)
    if len(chosen) > len(boxes):
        msg = (
            f"{len(chosen)} photos are chosen for {len(boxes)} cells. Choose fewer, or divide the "
            "face in more"
        )
        raise RequestError(msg)
    places = []
    for number, (placed, box) in enumerate(zip(chosen, boxes, strict=False), 1):
        size = cell_size(layout.canvas, box, _name(layout, number, len(boxes)))
        placement = _lies(placed, size)
        piece = cells.add(session, job_id, placed.job_photo_id, size, placement, now)
        places.append(_place(layout, piece, box))
    return Sheet(layout=layout, places=tuple(places))


def _name(layout: Layout, number: int, count: int) -> str:
    face = layout.canvas.name or extent_words(layout.canvas)
    return f"{face}, cell {number} of {count}"[:80]


def _lies(placed: Placed, size: Size) -> Placement:
    if placed.size.name.find(", cell ") < 0:
        return first_on(size, placed.photo)
    placement = laid_like(size, placed.photo.facts.upright, placed.lying, same_photo=True)
    return changed(placement, size=None)


def _place(layout: Layout, piece: int, box: PanelBox) -> Place:
    scale = per_unit(layout.canvas)
    return Place(piece=piece, page=0, x=Fraction(box.left) / scale, y=Fraction(box.top) / scale)


def swapped(
    session: Session, job_id: int, sheet: Sheet, n: int, other: int, now: datetime
) -> Sheet:
    """Swap the photos of two cells; each is laid in its new cell as it lay before."""
    places = list(sheet.places)
    placed = placements.find_many(session, [places[at].piece for at in (n, other)])
    cell_placed, two = placed[places[n].piece], placed[places[other].piece]
    for at, photo, cell in ((n, two, cell_placed), (other, cell_placed, two)):
        placement = changed(
            laid_like(cell.size, photo.photo.facts.upright, photo.lying, same_photo=True), size=None
        )
        piece = cells.add(session, job_id, photo.job_photo_id, cell.size, placement, now)
        places[at] = places[at].model_copy(update={"piece": piece})
    return sheet.model_copy(update={"places": tuple(places)})
