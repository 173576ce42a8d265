"""Turning and mirroring the photo, and turning the shape between wide and tall."""

from __future__ import annotations

from typing import Literal

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.crop import face_of
from oak_ledge.core.placements.fit import (
    adopt,
    as_tight,
    fitting_width,
    keep_inside,
    resized,
    tightness,
)
from oak_ledge.core.placements.lying import Lying, lying_on, surface_of
from oak_ledge.core.placements.placement import Placement, changed, photo_turned
from oak_ledge.core.placements.suggestion import laid_as, suggested
from oak_ledge.core.sizes.choices import Turned
from oak_ledge.core.sizes.shapes.own import OwnShape
from oak_ledge.core.sizes.size import Size, ratio_is_open
from oak_ledge.core.values import Value


class Quarter(Value):
    """Turn the photo by a quarter, clockwise or back."""

    kind: Literal["quarter"]
    by: Literal[-1, 1]


class Mirror(Value):
    """Flip the photo left to right."""

    kind: Literal["mirror"]


class TurnOver(Value):
    """Turn the shape between wide and tall; a crop that was largest stays largest."""

    kind: Literal["turn"]


def quartered(size: Size, upright: Pixels, placement: Placement, by: int) -> Placement:
    """Turn the photo itself by quarters clockwise; the crop goes round with it where it fits."""
    was = photo_turned(upright, placement)
    quarter = (placement.quarter + by) % 4
    corners = placement.corners
    for _ in range(by % 4):
        if corners is not None:
            nw, ne, se, sw = ((was[1] - y, x) for x, y in corners)
            corners = (sw, nw, ne, se)
        was = (was[1], was[0])
    return _laid_anew(size, upright, placement, by % 4, quarter=quarter, corners=corners)


def mirrored(size: Size, upright: Pixels, placement: Placement) -> Placement:
    """Flip the photo left to right; the crop goes with it."""
    wide = photo_turned(upright, placement)[0]
    corners = placement.corners
    if corners is not None:
        nw, ne, se, sw = ((wide - x, y) for x, y in corners)
        corners = (ne, nw, sw, se)
    return _laid_anew(size, upright, placement, 0, mirror=not placement.mirror, corners=corners)


def _laid_anew(
    size: Size, upright: Pixels, placement: Placement, quarters: int, **how: object
) -> Placement:
    """Lay the crop on a photo turned otherwise: at the same place, as tight as it was."""
    before = lying_on(size, upright, placement)
    x, y = placement.cx / before.extent[0], placement.cy / before.extent[1]
    angle = placement.angle
    if "mirror" in how:
        x, angle = 1 - x, -angle if angle != 180 else angle
    for _ in range(quarters):
        x, y = 1 - y, x
    over = changed(placement, **how, upright=None)
    surface = surface_of(size, upright, over)
    first = changed(laid_as(before.size, upright, over), size=placement.size, angle=angle)
    after = Lying(before.size, surface, first)
    after = after.changed(cx=x * surface.extent[0], cy=y * surface.extent[1])
    ratio = None
    if placement.free is not None:  # an open ratio goes round as it is
        across, along = before.proportions
        ratio = (across, along) if quarters % 2 == 0 else (along, across)
    return as_tight(after, tightness(before), ratio).placement


def turned_over(lying: Lying) -> Placement:
    """Turn the shape between wide and tall; a crop that was largest stays largest."""
    size, surface, lies = lying.size, lying.surface, lying.placement
    W, H = lying.asked
    if W == H or isinstance(size.shape, OwnShape):
        return lies
    crop = lying.crop
    if ratio_is_open(size):
        return keep_inside(adopt(lying, crop.height, crop.width)).placement
    other: Turned = "tall" if W > H else "wide"
    back = suggested(size, surface).asked
    turned_to = None if (back[0] > back[1]) == (other == "wide") else other
    over = suggested(size, surface, turned_to).changed(cx=lies.cx, cy=lies.cy, angle=lies.angle)
    if size.differ == "stretch":
        return keep_inside(adopt(over, crop.width, crop.height)).placement
    share = lies.width / fitting_width(size, lying.extent, face_of(size, (W, H)), lies.angle)
    fitting = fitting_width(size, lying.extent, over.proportions, lies.angle)
    return keep_inside(resized(over, share * fitting)).placement
