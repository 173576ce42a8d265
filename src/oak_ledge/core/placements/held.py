"""What a placement lies on: the photo as held, or the plane its four corners define."""

from __future__ import annotations

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.crop import face_of
from oak_ledge.core.placements.placement import Placement, photo_held, size_at
from oak_ledge.core.planes.four_corners import Squared, plane_of, true_ratio
from oak_ledge.core.planes.surface import plane_over
from oak_ledge.core.sizes.pixels import turned_pixels
from oak_ledge.core.sizes.size import Size, written_pixels


def held_at(size: Size, upright: Pixels, placement: Placement) -> Pixels:
    """Give the extent a placement lies on: the photo as held, or the plane its corners define.

    The plane, a `Plane`, has its true proportions (`squaring`), or with `fit_corners` those of a size
    that fixes some. A crop turned by hand is turned on it, and may reach as far as the photo does.
    """
    held = photo_held(upright, placement)
    if placement.corners is None:
        return held
    at, written = size_at(size, placement), written_pixels(size_at(size, placement))
    flat = plane_of(placement.corners, squared_up(placement, held).ratio)
    if written is None or at.differ != "trim" or not placement.fit_corners:
        return plane_over(flat, placement.corners, held)
    across, along = face_of(at, turned_pixels(written, at.turn, flat, None))
    extent = plane_of(placement.corners, across / along)
    return plane_over(extent, placement.corners, held)


def squared_up(placement: Placement, held: Pixels) -> Squared:
    """Work out the true proportions of what a placement's four corners go round."""
    assert placement.corners is not None
    return true_ratio(placement.corners, held, placement.focal)
