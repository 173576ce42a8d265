"""Tightening and loosening the crop."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from oak_ledge.core.placements.fit import keep_inside, resized
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.planes.points import rotated
from oak_ledge.core.values import Value


class Scale(Value):
    """Loosen (factor above 1) or tighten the crop about the point at shares u, v of it."""

    kind: Literal["scale"]
    factor: float = Field(ge=1e-9, le=1000)
    u: float = Field(default=0.5, ge=0, le=1)
    v: float = Field(default=0.5, ge=0, le=1)


def scaled(lying: Lying, factor: float, u: float, v: float) -> Placement:
    """Loosen or tighten the crop about the point at shares u, v of it."""
    lies, before = lying.placement, lying.crop
    made = resized(lying, lies.width * factor)
    after = made.crop
    dx, dy = rotated(
        (u - 0.5) * (before.width - after.width),
        (v - 0.5) * (before.height - after.height),
        lies.angle,
    )
    return keep_inside(made.changed(cx=lies.cx + dx, cy=lies.cy + dy)).placement
