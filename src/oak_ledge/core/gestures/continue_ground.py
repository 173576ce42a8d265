"""Continuing the scene beyond the photo: one of several tries is taken."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from oak_ledge.core.gestures.beyond_photo import grounded
from oak_ledge.core.photos.keep_zones import MOST, Zone
from oak_ledge.core.photos.retouches import Tried
from oak_ledge.core.photos.strokes import Strokes
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.placements.scene import ground_for, ground_needed
from oak_ledge.core.sizes.ground import CONTINUED
from oak_ledge.core.sizes.size import Size


class Continue(Tried):
    """Fill beyond the photo with more of the scene, by one of the tries of a seed.

    `take_from` is what alone is copied, where it says something, brushed where the crop is meant;
    left out, it stays as it was.
    `avoid` is what must not be copied; whoever asks over HTTP leaves it to the photo's keep zones.
    """

    kind: Literal["continue"]
    take_from: Strokes | None = None
    avoid: tuple[Zone, ...] = Field(default=(), max_length=2 * MOST)


def continued(size: Size, lying: Lying, gesture: Continue) -> Placement:
    """Take a try for a placement as it lies; `size` is the one of the job.

    Raises
    ------
    FillError
        If so large a ground can't be made.
    """
    surface, was = lying.surface, lying.placement.continued
    beyond = None if lying.size.differ == "extend" else True
    made = grounded(size, lying, beyond=beyond, fill=CONTINUED)
    lying = Lying(made.size or size, surface, made)
    if ground_needed(lying) is None:
        return changed(made, continued=None)
    take_from = gesture.take_from
    if take_from is None:
        take_from = was.take_from if was is not None else ()
    ground = ground_for(
        lying,
        gesture.avoid,
        seed=gesture.seed,
        attempt=gesture.attempt,
        take_from=take_from,
    )
    return changed(made, continued=ground)
