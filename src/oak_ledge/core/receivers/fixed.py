"""All that would fix a piece for a receiver, done in one step."""

from __future__ import annotations

from oak_ledge.core.files.wishes import granted
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.receivers.answer import Answer
from oak_ledge.core.sizes.size import Size


def fixed(size: Size, upright: Pixels, placement: Placement, answer: Answer) -> Placement:
    """Return how a piece lies with all done that would fix it, cutting its thing out aside.

    Raises
    ------
    PlacementError, SizeError, SizeTextError
        If it can't be so.
    """
    for offered in answer.fixes:
        placement = granted(size, upright, placement, offered.wish)
    return placement
