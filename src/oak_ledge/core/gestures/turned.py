"""Holding the photo otherwise, and turning the shape between wide and tall."""

from __future__ import annotations

from typing import Literal

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.crop import asked_pixels, crop_of, face_of, proportions
from oak_ledge.core.placements.fit import (
    adopt,
    as_tight,
    fitting_width,
    keep_inside,
    resized,
    tightness,
)
from oak_ledge.core.placements.held import held_at
from oak_ledge.core.placements.placement import Placement, changed, photo_held, size_at
from oak_ledge.core.placements.suggestion import laid_as, suggest
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
    was = photo_held(upright, placement)
    quarter = (placement.quarter + by) % 4
    corners = placement.corners
    for _ in range(by % 4):
        if corners is not None:
            nw, ne, se, sw = ((was[1] - y, x) for x, y in corners)
            corners = (sw, nw, ne, se)
        was = (was[1], was[0])
    return _held_anew(size, upright, placement, by % 4, quarter=quarter, corners=corners)


def mirrored(size: Size, upright: Pixels, placement: Placement) -> Placement:
    """Flip the photo left to right; the crop goes with it."""
    wide = photo_held(upright, placement)[0]
    corners = placement.corners
    if corners is not None:
        nw, ne, se, sw = ((wide - x, y) for x, y in corners)
        corners = (ne, nw, sw, se)
    return _held_anew(size, upright, placement, 0, mirror=not placement.mirror, corners=corners)


def _held_anew(
    size: Size, upright: Pixels, placement: Placement, quarters: int, **how: object
) -> Placement:
    """Lay the crop on a photo held otherwise: at the same place, as tight as it was."""
    at = size_at(size, placement)
    before = held_at(size, upright, placement)
    x, y = placement.cx / before[0], placement.cy / before[1]
    angle = placement.angle
    if "mirror" in how:
        x, angle = 1 - x, -angle if angle != 180 else angle
    for _ in range(quarters):
        x, y = 1 - y, x
    over = changed(placement, **how, upright=None)
    after = held_at(size, upright, over)
    made = laid_as(at, upright, over)
    made = changed(made, cx=x * after[0], cy=y * after[1], angle=angle, size=placement.size)
    ratio = None
    if placement.free is not None:  # an open ratio goes round as it is
        across, along = proportions(at, before, placement)
        ratio = (across, along) if quarters % 2 == 0 else (along, across)
    return as_tight(at, after, made, tightness(at, before, placement), ratio)


def turned_over(size: Size, held: Pixels, placement: Placement) -> Placement:
    """Turn the shape between wide and tall; a crop that was largest stays largest."""
    W, H = asked_pixels(size, held, placement)
    if W == H or isinstance(size.shape, OwnShape):
        return placement
    crop = crop_of(size, held, placement)
    if ratio_is_open(size):
        return keep_inside(size, held, adopt(size, held, placement, crop.height, crop.width))
    other: Turned = "tall" if W > H else "wide"
    natural = suggest(size, held)
    back = asked_pixels(size, held, natural)
    turned_to = None if (back[0] > back[1]) == (other == "wide") else other
    over = changed(
        suggest(size, held, turned_to), cx=placement.cx, cy=placement.cy, angle=placement.angle
    )
    if size.differ == "stretch":
        return keep_inside(size, held, adopt(size, held, over, crop.width, crop.height))
    share = placement.width / fitting_width(size, held, face_of(size, (W, H)), placement.angle)
    fitting = fitting_width(size, held, proportions(size, held, over), placement.angle)
    return keep_inside(size, held, resized(size, held, over, share * fitting))
