"""Moving the crop over the photo, or the photo under the crop."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.crop import asked_pixels, crop_of
from oak_ledge.core.placements.fit import keep_inside
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.planes.points import turned
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.values import Coordinate, Value

Steps = Annotated[int, Field(ge=-1_000_000, le=1_000_000)]
"""Whole output pixels."""


class Move(Value):
    """Move the crop over the photo by photo pixels."""

    kind: Literal["move"]
    dx: Coordinate
    dy: Coordinate


class Slide(Value):
    """Move the photo under the fixed crop by output pixels."""

    kind: Literal["slide"]
    dx: Coordinate
    dy: Coordinate


class Nudge(Value):
    """Move the crop by whole output pixels."""

    kind: Literal["nudge"]
    dx: Steps
    dy: Steps


def moved(size: Size, held: Pixels, placement: Placement, dx: float, dy: float) -> Placement:
    """Move the crop by photo pixels."""
    return keep_inside(size, held, changed(placement, cx=placement.cx + dx, cy=placement.cy + dy))


def stepped(size: Size, held: Pixels, placement: Placement, dx: float, dy: float) -> Placement:
    """Move the crop by output pixels, along its own edges."""
    crop, (W, H) = crop_of(size, held, placement), asked_pixels(size, held, placement)
    along = turned(dx * (crop.width / W), dy * (crop.height / H), placement.angle)
    return moved(size, held, placement, *along)
