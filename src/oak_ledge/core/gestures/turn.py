"""Turning: the crop by an angle, the shape between wide and tall, the photo by quarters; mirroring it."""

from __future__ import annotations

from math import atan2, degrees
from typing import ClassVar, Literal

from pydantic import Field
from typing_extensions import override

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.gestures.gesture import BaseGesture, CropGesture, Start
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.angle import at_angle
from oak_ledge.core.placements.crop import face_of
from oak_ledge.core.placements.fit import (
    adopt,
    as_tight,
    fitting_width,
    keep_inside,
    resized,
    tightness,
)
from oak_ledge.core.placements.former import gone_back, remembering
from oak_ledge.core.placements.lying import Lying, lying_on, surface_of
from oak_ledge.core.placements.placement import (
    Placement,
    changed,
    crop_of,
    photo_quartered,
)
from oak_ledge.core.placements.suggestion import laid_as, suggested
from oak_ledge.core.planes.points import Point
from oak_ledge.core.sizes.choices import Turned
from oak_ledge.core.sizes.file_geometry import printed_pixels
from oak_ledge.core.sizes.geometry import ratio_is_open
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.values import Coordinate


class Turn(CropGesture):
    """Turn the shape between wide and tall; a crop that was largest stays largest."""

    kind: Literal["turn"]

    remembers: ClassVar[bool] = True

    @property
    @override
    def name(self) -> str:
        return "turned"

    @override
    def reshape(self, start: Start) -> Placement:
        return turned(start.lying)


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
    W, H = printed_pixels(size, lying.asked)
    if W == H or not size.shape.has_other_way:
        return placement
    crop = lying.crop
    if ratio_is_open(size):
        return keep_inside(adopt(lying, crop.height, crop.width)).placement
    other: Turned = "tall" if W > H else "wide"
    back = printed_pixels(size, suggested(size, surface).asked)
    turned_to = None if (back[0] > back[1]) == (other == "wide") else other
    over = suggested(size, surface, turned_to).changed(
        cx=placement.cx, cy=placement.cy, angle=placement.angle
    )
    if size.differ == "stretch":
        return keep_inside(adopt(over, crop.width, crop.height)).placement
    share = placement.width / fitting_width(
        size, lying.extent, face_of(size, lying.asked), placement.angle
    )
    fitting = fitting_width(size, lying.extent, over.proportions, placement.angle)
    return keep_inside(resized(over, share * fitting)).placement


_QUARTERS: tuple[Literal[0], Literal[1], Literal[2], Literal[3]] = (0, 1, 2, 3)


class Quarter(BaseGesture):
    """Turn the photo by a quarter, clockwise or back."""

    kind: Literal["quarter"]
    by: Literal[-1, 1]

    @property
    @override
    def name(self) -> str:
        return "photo turned"

    @override
    def apply(self, start: Start) -> Placement:
        return quartered(start.size, start.upright, start.placement, self.by)


class Mirror(BaseGesture):
    """Flip the photo left to right."""

    kind: Literal["mirror"]

    @property
    @override
    def name(self) -> str:
        return "mirrored"

    @override
    def apply(self, start: Start) -> Placement:
        return mirrored(start.size, start.upright, start.placement)


def quartered(size: Size, upright: Pixels, placement: Placement, by: int) -> Placement:
    """Turn the photo itself by quarters clockwise, as it is seen; the crop goes round with it where it fits.

    A mirrored photo is mirrored after its quarters, so that those count the other way.
    """
    was = photo_quartered(upright, placement)
    quarter = _QUARTERS[(placement.quarter + (-by if placement.mirror else by)) % 4]
    corners = placement.corners
    for _ in range(by % 4):
        if corners is not None:
            nw, ne, se, sw = ((was[1] - y, x) for x, y in corners)
            corners = (sw, nw, ne, se)
        was = (was[1], was[0])
    over = changed(placement, quarter=quarter, corners=corners, before_levelling=None)
    return _laid_anew(size, upright, placement, over, by % 4)


def mirrored(size: Size, upright: Pixels, placement: Placement) -> Placement:
    """Flip the photo left to right; the crop goes with it."""
    wide = photo_quartered(upright, placement)[0]
    corners = placement.corners
    if corners is not None:
        nw, ne, se, sw = ((wide - x, y) for x, y in corners)
        corners = (ne, nw, sw, se)
    over = changed(placement, mirror=not placement.mirror, corners=corners, before_levelling=None)
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


class Angle(BaseGesture):
    """Level the crop at an angle, in degrees clockwise on the photo; `turn_to` is its former name."""

    kind: Literal["angle", "turn_to"]
    angle: float = Field(gt=-180, le=180)
    hold_size: bool = Field(
        default=False, description="keep the crop as large as it is, wherever it fits"
    )

    @property
    @override
    def name(self) -> str:
        return "turned by hand" if self.hold_size else "levelled"

    @override
    def apply(self, start: Start) -> Placement:
        return at_angle(start.lying, self.angle, hold_size=self.hold_size)


class Level(BaseGesture):
    """Draw a line of the photo that shall be level or plumb, whichever is nearer."""

    kind: Literal["level"]
    x0: Coordinate
    y0: Coordinate
    x1: Coordinate
    y1: Coordinate

    @property
    @override
    def name(self) -> str:
        return "levelled"

    @override
    def apply(self, start: Start) -> Placement:
        angle = level_angle((self.x0, self.y0), (self.x1, self.y1))
        return at_angle(start.lying, angle)


# Photo pixels; a shorter one has no direction worth the name.
SHORTEST_LINE = 2.0


def level_angle(start: Point, end: Point) -> float:
    """Return the smaller turn that makes a drawn line level or plumb, within ±45°.

    A horizon that falls to the right needs a positive one.

    >>> round(level_angle((0, 0), (100, 5)), 2)
    2.86
    """
    dx, dy = end[0] - start[0], end[1] - start[1]
    if abs(dx) + abs(dy) < SHORTEST_LINE:
        msg = "the line is too short to tell a direction; draw it along the horizon or a wall"
        raise PlacementError(msg)
    angle = degrees(atan2(dy, dx)) % 90
    return angle if angle <= 45 else angle - 90
