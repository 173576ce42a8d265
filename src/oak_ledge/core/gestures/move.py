"""Moving the crop over the photo, or the photo under the crop."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field
from typing_extensions import override

from oak_ledge.core.gestures.gesture import CropGesture, Start
from oak_ledge.core.placements.fit import keep_inside
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.planes.points import rotated
from oak_ledge.core.values import Coordinate

# Whole output pixels.
Steps = Annotated[int, Field(ge=-1_000_000, le=1_000_000)]


class Move(CropGesture):
    """Move the crop over the photo by photo pixels."""

    kind: Literal["move"]
    dx: Coordinate
    dy: Coordinate

    @property
    @override
    def name(self) -> str:
        return "moved"

    @override
    def reshape(self, start: Start) -> Placement:
        return moved(start.lying, self.dx, self.dy)


class Slide(CropGesture):
    """Move the photo under the fixed crop by output pixels."""

    kind: Literal["slide"]
    dx: Coordinate
    dy: Coordinate

    @property
    @override
    def name(self) -> str:
        return "slid"

    @override
    def reshape(self, start: Start) -> Placement:
        return stepped(start.lying, -self.dx, -self.dy)


class Nudge(CropGesture):
    """Move the crop by whole output pixels."""

    kind: Literal["nudge"]
    dx: Steps
    dy: Steps

    @property
    @override
    def name(self) -> str:
        return "nudged"

    @override
    def reshape(self, start: Start) -> Placement:
        return stepped(start.lying, self.dx, self.dy)


def moved(lying: Lying, dx: float, dy: float) -> Placement:
    """Move the crop by photo pixels."""
    cx, cy = lying.placement.cx + dx, lying.placement.cy + dy
    return keep_inside(lying.changed(cx=cx, cy=cy)).placement


def stepped(lying: Lying, dx: float, dy: float) -> Placement:
    """Move the crop by output pixels, along its own edges."""
    crop, (W, H) = lying.crop, lying.asked
    return moved(lying, *rotated(dx * (crop.width / W), dy * (crop.height / H), crop.angle))
