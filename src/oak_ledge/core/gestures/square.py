"""Squaring up four corners."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import (
    Corners,
    Placement,
    changed,
    crop_of,
    size_at,
)
from oak_ledge.core.placements.suggestion import laid
from oak_ledge.core.planes.matrices import mapped_share
from oak_ledge.core.planes.surface import Squared
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.values import Extent, Value


class Square(Value):
    """Square up what four corners go round, clockwise from its top left; None leaves that."""

    kind: Literal["square"]
    corners: Corners | None
    fit: bool = Field(default=False, description="take the size's own ratio, whatever it truly is")
    focal: Extent | None = Field(default=None, description="photo pixels, where it is known")


MOST_MAPPED = 24  # mapped pixels to one of the photo, at the density of the most slanted part


def check_plane(size: Size, upright: Pixels, placement: Placement) -> None:
    """Refuse a crop that comes so near to where its plane vanishes that it can't be drawn.

    Raises
    ------
    PlacementError
        If it does.
    """
    lying = lying_on(size, upright, placement)
    surface, output = lying.surface, lying.asked
    if not isinstance(surface, Squared):
        return
    matrix = surface.onto @ lying.crop.matrix(output)
    if mapped_share(matrix, output, surface.photo) > MOST_MAPPED:
        msg = (
            "there the crop comes too near to where the plane vanishes, far behind what the "
            "corners go round. Keep it tighter, or set the corners anew"
        )
        raise PlacementError(msg)


def squared(
    size: Size,
    upright: Pixels,
    placement: Placement,
    corners: Corners | None,
    focal: float | None,
    *,
    fit: bool = False,
) -> Placement:
    """Square up what four corners go round, or leave that again; the crop begins anew.

    With `fit` the corners become the size's own ratio, whatever it truly is.

    Raises
    ------
    PlacementError
        If the corners are no picture of a rectangle, with what is wrong.
    """
    new_placement = laid(
        size_at(size, placement),
        upright,
        placement.turned,
        quarter=placement.quarter,
        mirror=placement.mirror,
        corners=corners,
        focal=focal if corners else None,
        fit_corners=fit and corners is not None,
    )
    over = changed(
        placement,
        corners=new_placement.corners,
        fit_corners=new_placement.fit_corners,
        focal=new_placement.focal,
        upright=None,
        continued=None,
    )
    return changed(over, **crop_of(new_placement))
