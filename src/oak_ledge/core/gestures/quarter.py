"""Turning the photo itself by quarters, and mirroring it."""

from __future__ import annotations

from typing import Literal

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.fit import as_tight, tightness
from oak_ledge.core.placements.lying import Lying, lying_on, surface_of
from oak_ledge.core.placements.placement import (
    Placement,
    changed,
    crop_of,
    photo_quartered,
)
from oak_ledge.core.placements.suggestion import laid_as
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.values import Value

_QUARTERS: tuple[Literal[0], Literal[1], Literal[2], Literal[3]] = (0, 1, 2, 3)


class Quarter(Value):
    """Turn the photo by a quarter, clockwise or back."""

    kind: Literal["quarter"]
    by: Literal[-1, 1]


class Mirror(Value):
    """Flip the photo left to right."""

    kind: Literal["mirror"]


def quartered(size: Size, upright: Pixels, placement: Placement, by: int) -> Placement:
    """Turn the photo itself by quarters clockwise; the crop goes round with it where it fits."""
    was = photo_quartered(upright, placement)
    quarter = _QUARTERS[(placement.quarter + by) % 4]
    corners = placement.corners
    for _ in range(by % 4):
        if corners is not None:
            nw, ne, se, sw = ((was[1] - y, x) for x, y in corners)
            corners = (sw, nw, ne, se)
        was = (was[1], was[0])
    over = changed(placement, quarter=quarter, corners=corners, upright=None)
    return _laid_anew(size, upright, placement, over, by % 4)


def mirrored(size: Size, upright: Pixels, placement: Placement) -> Placement:
    """Flip the photo left to right; the crop goes with it."""
    wide = photo_quartered(upright, placement)[0]
    corners = placement.corners
    if corners is not None:
        nw, ne, se, sw = ((wide - x, y) for x, y in corners)
        corners = (ne, nw, sw, se)
    over = changed(placement, mirror=not placement.mirror, corners=corners, upright=None)
    return _laid_anew(size, upright, placement, over, 0)


def _laid_anew(
    size: Size, upright: Pixels, placement: Placement, over: Placement, quarters: int
) -> Placement:
    """Lay the crop on a photo turned otherwise: at the same place, as tight as it was."""
    before = lying_on(size, upright, placement)
    x, y = placement.cx / before.extent[0], placement.cy / before.extent[1]
    angle = placement.angle
    if over.mirror != placement.mirror:
        x, angle = 1 - x, -angle if angle != 180 else angle
    for _ in range(quarters):
        x, y = 1 - y, x
    surface = surface_of(size, upright, over)
    first = crop_of(laid_as(before.size, upright, over))
    after = Lying(before.size, surface, changed(over, **first)).changed(angle=angle)
    after = after.changed(cx=x * surface.extent[0], cy=y * surface.extent[1])
    ratio = None
    if placement.free is not None:  # an open ratio goes round as it is
        across, along = before.proportions
        ratio = (across, along) if quarters % 2 == 0 else (along, across)
    return as_tight(after, tightness(before), ratio).placement
