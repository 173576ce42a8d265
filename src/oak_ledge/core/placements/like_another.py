"""Laying one placement like another: the same turn, level, place and tightness, ground."""

from __future__ import annotations

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.fit import as_tight, tightness
from oak_ledge.core.placements.held import held_at
from oak_ledge.core.placements.placement import Placement, changed, size_at
from oak_ledge.core.placements.suggestion import laid_as
from oak_ledge.core.sizes.size import Size, size_from


def laid_like(
    size: Size,
    upright: Pixels,
    source: tuple[Size, Pixels, Placement],
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
    from_size, from_upright, model = source
    from_at, from_held = size_at(from_size, model), held_at(from_size, from_upright, model)
    own = size
    if (from_at.differ, from_at.ground) != (size.differ, size.ground) and model.size is not None:
        own = size_from(dict(size) | {"differ": from_at.differ, "ground": from_at.ground})
    flat = changed(model, corners=None, focal=None, fit_corners=False)
    made = laid_as(own, upright, model if same_photo else flat)
    made = changed(made, size=None if own == size else own, angle=model.angle)
    held = held_at(own, upright, made)
    if model.corners is None or same_photo:
        x, y = model.cx / from_held[0], model.cy / from_held[1]
        made = changed(made, cx=x * held[0], cy=y * held[1])
    return as_tight(own, held, made, tightness(from_at, from_held, model))
