"""Squaring up four corners."""

from __future__ import annotations

from typing import Literal

from pydantic import Field
from typing_extensions import override

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.gestures.gesture import BaseGesture, Start
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


class Square(BaseGesture):
    """Square up what four corners go round, clockwise from its top left; None leaves that."""

    kind: Literal["square"]
    corners: Corners | None
    fit: bool = Field(default=False, description="take the size's own ratio, whatever it truly is")

    @property
    @override
    def name(self) -> str:
        return "squared up" if self.corners else "no longer squared up"

    @override
    def apply(self, start: Start) -> Placement:
        return squared(
            start.size,
            start.upright,
            start.placement,
            self.corners,
            start.photo.focal,
            fit=self.fit,
        )


# Mapped pixels to one of the photo, at the density of the most slanted part.
MOST_MAPPED = 24


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
        before_levelling=None,
        continued=None,
    )
    return changed(over, **crop_of(new_placement))
