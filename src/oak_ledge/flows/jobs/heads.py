"""One head size and one eye line over a whole series."""

from __future__ import annotations

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.heads import LayHead
from oak_ledge.core.measures.numbers import rounded, scale_words
from oak_ledge.core.notes.heads import surely_found
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.placements.zones.head import HeadOnPiece, head_length, head_on_piece
from oak_ledge.core.reports.tally import tally
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.photos.photos import context_of
from oak_ledge.store import jobs
from oak_ledge.store.database import Session
from oak_ledge.store.placements import Placed

# Millimetres, or where there are none a share of the head's height: what counts as equally large.
EQUAL_MM, EQUAL_SHARE = 0.1, 0.003

# Of the piece's height: what counts as one eye line.
ONE_LINE = 0.002

_MM = 25.4


def head_of(placed: Placed) -> HeadOnPiece:
    """Return the head of a piece that others shall be as large as.

    Raises
    ------
    RequestError
        If none is known there.
    """
    face = placed.photo.face
    head = None if face is None else head_on_piece(placed.lying, face)
    if head is None:
        msg = f"No head is known in {placed.photo.name}. Set its eyes, chin and crown first."
        raise RequestError(msg)
    return head


def surely_found_in(session: Session, job_id: int) -> int:
    """Return of how many photos of a job the points that were found may be confirmed by one look over all."""
    return sum(surely_found(member.photo.faces) for member in jobs.members(session, job_id))


def with_head_of(placed: Placed, model: Placed) -> Placement:
    """Lay a piece so that its head is as large as the model's, and its eyes on the same line.

    Raises
    ------
    PlacementError
        If it has no head, lies too near the photo's edge, or has too few pixels.
    """
    if placed.id == model.id:
        return placed.placement
    wanted = head_of(model)
    size, ppi = placed.lying.size, model.lying.size.ppi
    pixels = wanted.pixels
    if ppi is not None and size.ppi is not None:
        pixels *= float(size.ppi / ppi)
    upright, context = placed.photo.facts.upright, context_of(placed.photo)
    gesture = LayHead(
        kind="lay_head", height=head_length(size, pixels)[0], eyes=wanted.eye_line * 100
    )
    placement = apply(placed.size, upright, placed.placement, gesture, context)
    lying = lying_on(placed.size, upright, placement)
    assert context.face is not None  # or it could not have been laid by it
    head = head_on_piece(lying, context.face)
    equal = EQUAL_SHARE * pixels if size.ppi is None else EQUAL_MM / _MM * float(size.ppi)
    if head is None or abs(head.pixels - pixels) > equal:
        came = 0.0 if head is None else head.height
        msg = f"too near the edge: its head would be {rounded(came)} {wanted.unit}"
        raise PlacementError(msg)
    if abs(head.eye_line - wanted.eye_line) > ONE_LINE:
        msg = f"too near the edge: its eyes would lie at {rounded(head.eye_line * 100)} % of the height"
        raise PlacementError(msg)
    scale = tally(lying).scale
    if scale > size.greatest_enlargement:
        msg = f"too few pixels: it would be enlarged {scale_words(scale)}"
        raise PlacementError(msg)
    return placement
