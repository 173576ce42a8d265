"""Laying one placement like another: the same turn, level, place and tightness, ground."""

from __future__ import annotations

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.fit import adopt, as_tight, keep_inside, tightness
from oak_ledge.core.placements.lying import Lying, lying_on
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.placements.suggestion import laid_as
from oak_ledge.core.sizes.geometry import ratio_is_open
from oak_ledge.core.sizes.size import Size, size_from


def laid_like(
    size: Size,
    upright: Pixels,
    source: Lying,
    *,
    same_photo: bool = False,
) -> Placement:
    """Lay a photo on its own size as another lies on its.

    Quarter turns, mirror, angle, wide or tall and ground are taken as they are; the place as
    shares of the photo, the tightness as a share of the largest crop; a size that leaves the ratio
    open takes the crop's edges as shares of the photo's. Four corners, a continued ground
    and a mark belong to their photo and are taken only where it is the `same_photo` on another size.

    Raises
    ------
    PlacementError, SizeError
        If that can't be, such as ground on a size that fixes no shape.
    """
    theirs, model, own = source.size, source.placement, size
    if (theirs.differ, theirs.ground) != (size.differ, size.ground) and model.size is not None:
        own = size_from(dict(size) | {"differ": theirs.differ, "ground": theirs.ground})
    flat = changed(model, corners=None, focal=None, fit_corners=False, continued=None)
    placement = laid_as(own, upright, model if same_photo else flat)
    mark = model.mark if same_photo else None
    placement = changed(placement, size=None if own == size else own, angle=model.angle, mark=mark)
    lying = lying_on(own, upright, placement)
    is_open = ratio_is_open(own)
    if model.corners is None or same_photo:
        wider, higher = (new / old for new, old in zip(lying.extent, source.extent, strict=True))
        lying = lying.changed(cx=model.cx * wider, cy=model.cy * higher)
        if is_open:
            crop = source.crop
            return keep_inside(adopt(lying, crop.width * wider, crop.height * higher)).placement
    ratio = source.proportions if is_open else None
    return as_tight(lying, tightness(source), ratio).placement
