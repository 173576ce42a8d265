"""Tightening and loosening the crop."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.crop import crop_of
from oak_ledge.core.placements.fit import keep_inside, resized
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.planes.points import turned
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.values import Value


class Scale(Value):
    """Loosen (factor above 1) or tighten the crop about the point at shares u, v of it."""

    kind: Literal["scale"]
    factor: float = Field(ge=1e-9, le=1000)
    u: float = Field(default=0.5, ge=0, le=1)
    v: float = Field(default=0.5, ge=0, le=1)


def scaled(
    size: Size, held: Pixels, placement: Placement, factor: float, u: float, v: float
) -> Placement:
    """Loosen or tighten the crop about the point at shares u, v of it."""
    before = crop_of(size, held, placement)
    made = resized(size, held, placement, placement.width * factor)
    after = crop_of(size, held, made)
    dx, dy = turned(
        (u - 0.5) * (before.width - after.width),
        (v - 0.5) * (before.height - after.height),
        placement.angle,
    )
    return keep_inside(size, held, changed(made, cx=placement.cx + dx, cy=placement.cy + dy))
