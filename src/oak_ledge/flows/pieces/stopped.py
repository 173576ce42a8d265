"""What stops a piece, and the ways out of it, wherever it is met."""

from __future__ import annotations

from pydantic import BaseModel

from oak_ledge.core.notes.note import Way, stops
from oak_ledge.core.pixels.weight.estimate import Weights
from oak_ledge.flows.pieces.pieces import figures_of
from oak_ledge.flows.pieces.weight_notes import fits, ways_of
from oak_ledge.store.placements import Placed


class Stopped(BaseModel):
    """The first stop of a piece as it lies now.

    `way` names the one step that takes it away, `ways` several to choose from; without one a person
    moves the piece on the bench or takes the responsibility. Either names the `step` it saw.
    """

    placement_id: int
    step: int
    code: str
    text: str
    way: str | None
    ways: tuple[Way, ...] = ()


def stopped(placed: Placed) -> Stopped | None:
    """Return what stops a piece; None where nothing does."""
    note = next(stops(figures_of(placed)[1]), None)
    if note is None:
        return None
    return Stopped(
        placement_id=placed.id, step=placed.step, code=note.code, text=note.text, way=note.way
    )


def too_heavy(placed: Placed, weights: Weights | None) -> Stopped | None:
    """Return what would keep a piece's file within its greatest bytes, once making it has failed."""
    if placed.lying.size.file.at_most is None or weights is None:
        return None
    ways = fits(placed.lying, placed.photo.facts, weights, figures_of(placed)[0].scale)
    return Stopped(
        placement_id=placed.id,
        step=placed.step,
        code="over-limit",
        text="",
        way=None,
        ways=ways_of(ways),
    )
