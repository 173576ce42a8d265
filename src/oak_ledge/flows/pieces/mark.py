"""Where a piece's mark lies, for a hand that moves it over the piece."""

from __future__ import annotations

from pydantic import BaseModel

from oak_ledge.core.marks.mark import PieceMark, Place
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.marks.lay import lies_at
from oak_ledge.core.pixels.subject.dropper import pixels_of
from oak_ledge.core.placements.placement import mark_on, size_at
from oak_ledge.core.placements.zones.mark_box import MarkBox
from oak_ledge.flows.marks.laid import boxes_on, laid_here
from oak_ledge.flows.pieces.pictures import piece_preview
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.placements import Placed

# Pixels of the longer edge: enough to tell detail, and a place to a thousandth.
_EDGE = 1024

# Left, top, width and height, as shares of the piece's picture.
ShareBox = tuple[float, float, float, float]


class Lies(BaseModel):
    """Where a mark lies on a piece's picture, and where a drag may put it."""

    box: ShareBox
    place: Place
    """where a calm one came to lie, else as it was said"""
    picture: str
    """the hash of the picture that is laid: of two that which can be seen on the ground below"""
    places: dict[Place, ShareBox]


class PieceMarkView(BaseModel):
    """A piece's mark: what is laid, whose it is, and where it lies."""

    mark: PieceMark | None
    """its own or its size's, hidden or not; None where there is none"""
    own: bool
    """this piece's, and not its size's"""
    lies: Lies | None
    """None where it is hidden or does not fit"""


def mark_view(workspace: Workspace, placed: Placed) -> PieceMarkView:
    """Return the mark of a piece and where it lies.

    Raises
    ------
    CoreError
        If its file is not here, or it does not fit on the piece.
    """
    own = placed.placement.mark
    of_size = size_at(placed.size, placed.placement).mark
    mark = own or (None if of_size is None else PieceMark(**dict(of_size)))
    lies = None if mark_on(placed.size, placed.placement) is None else _lies(workspace, placed)
    return PieceMarkView(mark=mark, own=own is not None, lies=lies)


def _lies(workspace: Workspace, placed: Placed) -> Lies | None:
    laid = laid_here(workspace, placed)
    assert laid is not None
    pixels = pixels_of(piece_preview(workspace, placed, _EDGE, with_mark=False))
    shown = (pixels.shape[1], pixels.shape[0])
    at, barred = boxes_on(placed.lying, laid, shown)
    place, file = lies_at(pixels, None, laid, at, barred)
    exactly, _ = boxes_on(placed.lying, laid, placed.lying.asked)
    places = {place: _shares(box, placed.lying.asked) for place, box in exactly.items()}
    return Lies(box=places[place], place=place, picture=file.path.name, places=places)


def _shares(box: MarkBox, whole: Pixels) -> ShareBox:
    return box.left / whole[0], box.top / whole[1], box.width / whole[0], box.height / whole[1]
