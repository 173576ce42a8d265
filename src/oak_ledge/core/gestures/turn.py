"""Turning the shape between wide and tall."""

from __future__ import annotations

from typing import Literal

from oak_ledge.core.placements.crop import face_of
from oak_ledge.core.placements.fit import adopt, fitting_width, keep_inside, resized
from oak_ledge.core.placements.former import gone_back, remembering
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.placements.suggestion import suggested
from oak_ledge.core.sizes.choices import Turned
from oak_ledge.core.sizes.size import ratio_is_open
from oak_ledge.core.values import Value


class Turn(Value):
    """Turn the shape between wide and tall; a crop that was largest stays largest."""

    kind: Literal["turn"]


def turned(lying: Lying) -> Placement:
    """Turn the shape between wide and tall; a crop that was largest stays largest.

    Turned back at once it lies as before, bit for bit, also where it had to shrink meanwhile.
    """
    placed = lying.placement
    if placed.former is not None and placed.former.by == "turn":
        return gone_back(placed)
    placement = _turned(lying)
    return placed if placement == placed else remembering(placement, placed, "turn")


def _turned(lying: Lying) -> Placement:
    size, surface, placement = lying.size, lying.surface, lying.placement
    W, H = lying.asked
    if W == H or not size.shape.has_other_way:
        return placement
    crop = lying.crop
    if ratio_is_open(size):
        return keep_inside(adopt(lying, crop.height, crop.width)).placement
    other: Turned = "tall" if W > H else "wide"
    back = suggested(size, surface).asked
    turned_to = None if (back[0] > back[1]) == (other == "wide") else other
    over = suggested(size, surface, turned_to).changed(
        cx=placement.cx, cy=placement.cy, angle=placement.angle
    )
    if size.differ == "stretch":
        return keep_inside(adopt(over, crop.width, crop.height)).placement
    share = placement.width / fitting_width(
        size, lying.extent, face_of(size, (W, H)), placement.angle
    )
    fitting = fitting_width(size, lying.extent, over.proportions, placement.angle)
    return keep_inside(resized(over, share * fitting)).placement
