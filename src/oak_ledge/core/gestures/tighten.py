"""Tightening and loosening the crop."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field
from typing_extensions import override

from oak_ledge.core.gestures.gesture import CropGesture, Start
from oak_ledge.core.placements.fit import keep_inside, resized
from oak_ledge.core.placements.former import gone_back, remembering
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.planes.points import rotated

# By so little a product of factors may miss 1.
SAME = 1e-9
# Times as far: a crop that is no other then has come to its limit, and was not only rounded.
FURTHER = 2.0


class Scale(CropGesture):
    """Loosen (factor above 1) or tighten the crop about the point at shares u, v of it."""

    kind: Literal["scale"]
    factor: float = Field(ge=1e-9, le=1000)
    u: float = Field(default=0.5, ge=0, le=1)
    v: float = Field(default=0.5, ge=0, le=1)

    remembers: ClassVar[bool] = True

    @property
    @override
    def name(self) -> str:
        return "loosened" if self.factor > 1 else "tightened"

    @override
    def reshape(self, start: Start) -> Placement:
        return scaled(start.lying, self.factor, self.u, self.v)


def scaled(lying: Lying, factor: float, u: float, v: float) -> Placement:
    """Loosen or tighten the crop about the point at shares u, v of it.

    Several in a row are worked out from where the first began, so that no rounding adds up, and the
    way back ends where it began, bit for bit. What the photo's edge did not let grow is not counted.
    """
    placed, former = lying.placement, lying.placement.former
    goes_on = former is not None and former.by == "scale" and (former.u, former.v) == (u, v)
    begun, whole = (gone_back(placed), former.factor) if goes_on and former else (placed, 1.0)
    whole *= factor
    first = Lying(lying.size, lying.surface, begun)
    if abs(whole - 1) < SAME:
        return changed(begun, former=None)
    placement = _scaled(first, whole, u, v)
    if placement == begun:
        return changed(begun, former=None)
    further = _scaled(first, whole * FURTHER if factor > 1 else whole / FURTHER, u, v)
    wished = whole * begun.width
    short = placement.width < wished if factor > 1 else placement.width > wished
    if short and further.width == placement.width:
        whole = placement.width / begun.width
    return remembering(placement, begun, "scale", factor=whole, at=(u, v))


def _scaled(lying: Lying, factor: float, u: float, v: float) -> Placement:
    placement, before = lying.placement, lying.crop
    new_lying = resized(lying, placement.width * factor)
    after = new_lying.crop
    dx, dy = rotated(
        (u - 0.5) * (before.width - after.width),
        (v - 0.5) * (before.height - after.height),
        placement.angle,
    )
    return keep_inside(new_lying.changed(cx=placement.cx + dx, cy=placement.cy + dy)).placement
