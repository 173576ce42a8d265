"""Levelling the crop, by an angle or along a drawn line."""

from __future__ import annotations

from math import atan2, degrees
from typing import Literal

from pydantic import Field
from typing_extensions import override

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.gestures.gesture import BaseGesture, Start
from oak_ledge.core.placements.angle import at_angle
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.planes.points import Point
from oak_ledge.core.values import Coordinate


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
