"""Figures typed for the crop, and a whole placement given as figures."""

from __future__ import annotations

from typing import Literal

from typing_extensions import override

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.gestures.gesture import CropGesture, Start
from oak_ledge.core.measures.lengths import CM_PER_INCH, Pixels
from oak_ledge.core.placements.crop import face_of
from oak_ledge.core.placements.fit import (
    SMALLEST_CROP,
    adopt,
    keep_inside,
    may_change_ratio,
    most_edges,
    resized,
    shrunk,
)
from oak_ledge.core.placements.lying import Lying, lying_on
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.sizes.geometry import written_pixels
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.values import FAR, Coordinate, Extent

TypedUnit = Literal["px", "%", "in", "cm"]


class Type(CropGesture):
    """Put the crop where the typed figures say; what is left out stays.

    They are in photo pixels, in per cent of the photo's edge, or in the lengths that the photo's own
    resolution label gives it.
    """

    kind: Literal["type"]
    unit: TypedUnit = "px"
    left: Coordinate | None = None
    top: Coordinate | None = None
    width: Extent | None = None
    height: Extent | None = None

    @property
    @override
    def name(self) -> str:
        return "typed"

    @override
    def reshape(self, start: Start) -> Placement:
        in_px = self.in_pixels(start.lying.extent, start.photo.ppi)
        return typed(start.lying, in_px.left, in_px.top, in_px.width, in_px.height)

    def in_pixels(self, extent: Pixels, ppi: float | None) -> Type:
        """Return the same in photo pixels; `ppi` is the photo's own label.

        Raises
        ------
        PlacementError
            If lengths are typed for a photo that has no label.
        """
        across, along = unit_pixels(self.unit, extent, ppi)
        steps = {"left": across, "top": along, "width": across, "height": along}
        figures = {name: getattr(self, name) for name in steps}
        in_px = {
            name: max(-FAR, min(value * steps[name], FAR))
            for name, value in figures.items()
            if value is not None
        }
        return Type(kind="type", **in_px)


def typed_units(extent: Pixels, ppi: float | None) -> dict[TypedUnit, tuple[float, float]]:
    """Return the photo pixels, across and along, of every unit figures can be typed in."""
    units: dict[TypedUnit, tuple[float, float]] = {
        "px": (1.0, 1.0),
        "%": (extent[0] / 100, extent[1] / 100),
    }
    if ppi is not None:
        units |= {"in": (ppi, ppi), "cm": (ppi / float(CM_PER_INCH),) * 2}
    return units


def unit_pixels(unit: TypedUnit, extent: Pixels, ppi: float | None) -> tuple[float, float]:
    """Return the photo pixels, across and along, of a unit that figures are typed in.

    Raises
    ------
    PlacementError
        If it is a length and the photo has no resolution label.
    """
    units = typed_units(extent, ppi)
    if unit not in units:
        msg = f"this photo has no resolution label, so it has no {unit}. Type px or %"
        raise PlacementError(msg)
    return units[unit]


def typed(
    lying: Lying,
    left: float | None,
    top: float | None,
    width: float | None,
    height: float | None,
) -> Placement:
    """Put the crop where figures say, in photo pixels; what is left out stays.

    Where the ratio is open both edges are taken as they are; else one gives the other.
    """
    before = lying.crop
    if width is not None or height is not None:
        if may_change_ratio(lying.size):
            most = most_edges(lying.size, lying.surface)
            wide = min(width or before.width, most[0])
            high = min(height or before.height, most[1])
            lying = shrunk(adopt(lying, wide, high))
        else:
            across, along = lying.proportions
            wide = width if width is not None else (height or 1) * across / along
            lying = resized(lying, wide)
    after = lying.crop
    x = before.left if left is None else left
    y = before.top if top is None else top
    cx, cy = x + after.width / 2, y + after.height / 2
    return keep_inside(lying.changed(cx=cx, cy=cy)).placement


def put_right(size: Size, upright: Pixels, placement: Placement) -> Placement:
    """Put a placement that was given as figures right: as large as it may be, inside the photo.

    Where the size leaves the ratio open, its `free` pixels say which is meant.

    Raises
    ------
    PlacementError
        If they are missing there.
    """
    fits = placement.fit_corners and placement.corners is not None
    lying = lying_on(size, upright, changed(placement, fit_corners=fits, former=None))
    at = lying.size
    if at.differ != "stretch":
        lying = lying.changed(stretch=1.0)
    if written_pixels(at) is not None:
        lying = lying.changed(free=None)
        return keep_inside(resized(lying, placement.width)).placement
    if placement.free is None:
        msg = "this size leaves the ratio open; give the output's pixels as “free” with the crop"
        raise PlacementError(msg)
    across, along = face_of(at, placement.free)
    most = most_edges(at, lying.surface)
    wide = min(max(placement.width, min(SMALLEST_CROP, most[0])), most[0])
    high = min(max(wide * along / across, min(SMALLEST_CROP, most[1])), most[1])
    return keep_inside(adopt(lying, wide, high)).placement
