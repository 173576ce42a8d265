"""Dragging a corner or an edge, and drawing the crop afresh."""

from __future__ import annotations

from typing import Literal

from pydantic import Field
from typing_extensions import override

from oak_ledge.core.gestures.gesture import CropGesture, Start
from oak_ledge.core.placements.fit import (
    SMALLEST_CROP,
    adopt,
    keep_inside,
    may_change_ratio,
    resized,
    shrunk,
    smallest_width,
    widest,
)
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.planes.points import Point, rotated
from oak_ledge.core.planes.surface import Squared
from oak_ledge.core.values import Coordinate


class Pull(CropGesture):
    """Drag a corner or an edge to a point of the photo; what is opposite, or the centre, is held."""

    kind: Literal["pull"]
    at: Literal["nw", "n", "ne", "e", "se", "s", "sw", "w"]
    x: Coordinate
    y: Coordinate
    centre: bool = False
    hold_ratio: bool = Field(default=False, description="on a free size: keep the ratio")

    @property
    @override
    def name(self) -> str:
        return "corner dragged" if len(self.at) == 2 else "edge dragged"

    @override
    def reshape(self, start: Start) -> Placement:
        across = sum(SIGNS[part][0] for part in self.at)
        along = sum(SIGNS[part][1] for part in self.at)
        how = {"centre": self.centre, "hold_ratio": self.hold_ratio}
        return pulled(start.lying, (across, along), (self.x, self.y), **how)


class Draw(CropGesture):
    """Draw the crop afresh from one point of the photo to another, or about the first."""

    kind: Literal["draw"]
    x0: Coordinate
    y0: Coordinate
    x1: Coordinate
    y1: Coordinate
    centre: bool = False
    hold_ratio: bool = Field(default=False, description="on a free size: keep the ratio")

    @property
    @override
    def name(self) -> str:
        return "drawn afresh"

    @override
    def reshape(self, start: Start) -> Placement:
        how = {"centre": self.centre, "hold_ratio": self.hold_ratio}
        return drawn(start.lying, (self.x0, self.y0), (self.x1, self.y1), **how)


SIGNS = {"n": (0.0, -1.0), "s": (0.0, 1.0), "w": (-1.0, 0.0), "e": (1.0, 0.0)}


# For each axis: 1 or −1 where the crop grows that way from what is held, 0 where both ways.
Signs = tuple[float, float]


def pulled(
    lying: Lying,
    signs: Signs,
    pointer: Point,
    *,
    centre: bool,
    hold_ratio: bool,
) -> Placement:
    """Move a corner or an edge to the pointer; what lies opposite, or the centre, is held.

    Parameters
    ----------
    signs : which is pulled: (1, 1) the bottom right corner, (−1, 0) the left edge
    pointer : a point of the photo
    centre : hold the centre instead
    hold_ratio : where the ratio is open, keep it
    """
    crop, placement = lying.crop, lying.placement
    px, py = rotated(pointer[0] - placement.cx, pointer[1] - placement.cy, -placement.angle)
    reach = 1.0 if centre else 0.5
    hold = (0.0, 0.0) if centre else (-signs[0] * crop.width / 2, -signs[1] * crop.height / 2)
    wide, high = (
        sign * (point - at) * 2 * reach if sign else extent
        for sign, point, at, extent in zip(
            signs, (px, py), hold, (crop.width, crop.height), strict=True
        )
    )
    if centre:
        grows: Signs = (0.0, 0.0)
    else:
        grows = signs
    freely = may_change_ratio(lying.size) and not hold_ratio
    if not freely:
        across, along = lying.proportions
        if not signs[1]:
            high = wide * along / across
        elif not signs[0]:
            wide = high * across / along
        else:  # the pointer, projected on the crop's diagonal
            share = (wide * across + high * along) / (across * across + along * along)
            wide, high = share * across, share * along
    return grown(lying, hold, grows, (wide, high), freely=freely)


def drawn(
    lying: Lying,
    start: Point,
    end: Point,
    *,
    centre: bool,
    hold_ratio: bool,
) -> Placement:
    """Draw the crop afresh from a point of the photo to another; with `centre` about the first."""
    placement = lying.placement
    x0, y0 = rotated(start[0] - placement.cx, start[1] - placement.cy, -placement.angle)
    x1, y1 = rotated(end[0] - placement.cx, end[1] - placement.cy, -placement.angle)
    reach = 2.0 if centre else 1.0
    wide, high = reach * abs(x1 - x0), reach * abs(y1 - y0)
    freely = may_change_ratio(lying.size) and not hold_ratio
    if not freely:
        across, along = lying.proportions
        wide = max(wide, high * across / along)
        high = wide * along / across
    signs = (0.0, 0.0) if centre else (1.0 if x1 >= x0 else -1.0, 1.0 if y1 >= y0 else -1.0)
    return grown(lying, (x0, y0), signs, (wide, high), freely=freely)


def grown(
    lying: Lying,
    hold: Point,
    signs: Signs,
    wanted: Point,
    *,
    freely: bool,
) -> Placement:
    """Return a crop of wanted width and height that grows from a held point the way `signs` say.

    `hold` is a step from the old centre along the crop's own edges. The crop stops at the photo's
    edge where it lies upright; turned, or beyond the photo, it is kept inside as a whole.
    """
    across, along = ratio = lying.proportions
    placement, extent = lying.placement, lying.extent
    angle = placement.angle
    if lying.size.differ == "extend" or angle or isinstance(lying.surface, Squared):
        room_x = widest(lying.size, lying.surface, ratio, angle)
        room_y = room_x * along / across
    else:
        at = (placement.cx + hold[0], placement.cy + hold[1])
        room_x, room_y = (
            _room(point, edge, sign) for point, edge, sign in zip(at, extent, signs, strict=True)
        )
    wide, high = wanted
    # a crop begun at the very edge, where there is no room, slides back in
    room_x, room_y = (
        max(room, min(SMALLEST_CROP, edge))
        for room, edge in zip((room_x, room_y), extent, strict=True)
    )
    if freely:
        smallest = min(SMALLEST_CROP, room_x, room_y)
        wide, high = min(max(wide, smallest), room_x), min(max(high, smallest), room_y)
        new_lying = shrunk(adopt(lying, wide, high))
    else:
        smallest = smallest_width(extent, ratio, angle)
        width = min(max(wide, smallest), room_x, room_y * across / along)
        new_lying = resized(lying, width)
    after = new_lying.crop
    dx, dy = rotated(
        hold[0] + signs[0] * after.width / 2, hold[1] + signs[1] * after.height / 2, angle
    )
    return keep_inside(new_lying.changed(cx=placement.cx + dx, cy=placement.cy + dy)).placement


def _room(point: float, edge: int, sign: float) -> float:
    """Return how far a crop can grow from a point of one axis inside the photo."""
    before, after = max(0.0, point), max(0.0, edge - point)
    return after if sign > 0 else before if sign < 0 else 2 * min(before, after)
