"""A stretched canvas whose sides continue the scene: its crop as far as they reach."""

from __future__ import annotations

from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import changed
from oak_ledge.core.sizes.file_geometry import file_pixels
from oak_ledge.core.sizes.ground import CONTINUED
from oak_ledge.core.sizes.size import changed_size


def with_continued_sides(lying: Lying) -> Lying:
    """Return a piece as it lies with its sides, where these continue the scene; else as it is.

    Its face stays where it was: what lies around it is the photo as far as that goes, then ground.
    """
    size = lying.size
    if size.sides is None or size.sides.ground != CONTINUED:
        return lying
    output = lying.asked
    times = file_pixels(size, output)[0] / output[0]
    whole = changed_size(size, sides=None, differ="extend", ground=CONTINUED)
    placement = lying.placement
    return Lying(whole, lying.surface, changed(placement, width=placement.width * times, size=None))
