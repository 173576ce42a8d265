"""Laying one placement like another: the same turn, level, place and tightness, ground."""

from __future__ import annotations

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.fit import as_tight, tightness
from oak_ledge.core.placements.lying import Lying, lying_on
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.placements.suggestion import laid_as
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
    shares of the photo, the tightness as a share of the largest crop. Four corners belong to
    their photo and are taken only where it is the `same_photo` on another size.

    Raises
    ------
    PlacementError, SizeError
        If that can't be, such as ground on a size that fixes no shape.
    """
    theirs, model, own = source.size, source.placement, size
    if (theirs.differ, theirs.ground) != (size.differ, size.ground) and model.size is not None:
        own = size_from(dict(size) | {"differ": theirs.differ, "ground": theirs.ground})
    flat = changed(model, corners=None, focal=None, fit_corners=False)
    made = laid_as(own, upright, model if same_photo else flat)
    made = changed(made, size=None if own == size else own, angle=model.angle)
    lies = lying_on(own, upright, made)
    if model.corners is None or same_photo:
        x, y = model.cx / source.extent[0], model.cy / source.extent[1]
        lies = lies.changed(cx=x * lies.extent[0], cy=y * lies.extent[1])
    return as_tight(lies, tightness(source)).placement
