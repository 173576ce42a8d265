"""The first suggestion for a photo on a size."""

from __future__ import annotations

from typing import Literal

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.crop import face_of
from oak_ledge.core.placements.fit import (
    HAIRLINE,
    adopt,
    around_width,
    fitting_width,
    keep_inside,
    on_pixels,
)
from oak_ledge.core.placements.lying import Lying, surface_of
from oak_ledge.core.placements.placement import Corners, Placement, PlacementFields, changed
from oak_ledge.core.planes.surface import PlainSurface, Surface
from oak_ledge.core.sizes.choices import Turned
from oak_ledge.core.sizes.geometry import written_pixels
from oak_ledge.core.sizes.pixels_from_crop import ratio_around
from oak_ledge.core.sizes.size import Size


def suggest(size: Size, upright: Pixels, turned: Turned | None = None) -> Placement:
    """Return the first suggestion, in the middle of the photo: the largest crop of the shape.

    To extend, it is the smallest crop around the photo; to stretch, the whole photo.

    Raises
    ------
    PlacementError
        If a window is larger than the photo and shall not be extended.
    """
    return on_pixels(suggested(size, PlainSurface(upright), turned)).placement


def suggested(size: Size, surface: Surface, turned: Turned | None = None) -> Lying:
    """Return the first suggestion on a surface; on a plane it is not kept inside yet."""
    pw, ph = surface.extent
    lying = Lying(size, surface, Placement(cx=pw / 2, cy=ph / 2, width=1.0, turned=turned))
    written = written_pixels(size)
    if written is None:
        if size.differ == "extend" and size.shape.ratio is not None:
            around = ratio_around(size, surface.extent, turned, HAIRLINE)
            return keep_inside(lying.changed(free=around, width=float(around[0])))
        return keep_inside(adopt(lying, pw, ph))
    if size.shape.whole_pixels:
        check_window(lying)
        return keep_inside(lying.changed(width=float(lying.asked[0])))
    if size.differ == "stretch":
        return keep_inside(adopt(lying, pw, ph))
    width = fitting_width(size, surface.extent, face_of(size, lying.asked), 0.0)
    return keep_inside(lying.changed(width=width))


def around_photo(lying: Lying) -> Lying:
    """Return the smallest crop around the whole photo on a size that extends, at the angle it has."""
    first = suggested(lying.size, lying.surface, lying.placement.turned).placement
    new_lying = lying.changed(
        cx=first.cx,
        cy=first.cy,
        width=first.width,
        free=first.free,
        stretch=1.0,
        before_levelling=None,
    )
    angle = lying.placement.angle
    if angle and not lying.size.shape.whole_pixels:
        across, along = ratio = new_lying.proportions
        width = around_width(lying.extent, ratio, angle)
        new_lying = adopt(new_lying, width, width * along / across)
    return keep_inside(new_lying)


def check_window(lying: Lying) -> None:
    """Refuse a window of whole pixels that is larger than its photo and shall not be extended.

    Raises
    ------
    PlacementError
        If it is.
    """
    if not lying.size.shape.whole_pixels or lying.size.differ != "trim":
        return
    output, extent = lying.asked, lying.extent
    if output[0] > extent[0] or output[1] > extent[1]:
        msg = (
            f"a window of {output[0]} × {output[1]} px is larger than the photo's "
            f"{extent[0]} × {extent[1]} px. Ask for a smaller window, for exact pixels, or extend it"
        )
        raise PlacementError(msg)


def laid(
    size: Size,
    upright: Pixels,
    turned: Turned | None = None,
    *,
    quarter: Literal[0, 1, 2, 3] = 0,
    mirror: bool = False,
    corners: Corners | None = None,
    focal: float | None = None,
    fit_corners: bool = False,
) -> Placement:
    """Return the suggestion for a photo turned otherwise, or squared up by four corners."""
    how = PlacementFields(
        quarter=quarter, mirror=mirror, corners=corners, focal=focal, fit_corners=fit_corners
    )
    first = changed(Placement(cx=0, cy=0, width=1, turned=turned), **how)
    lying = suggested(size, surface_of(size, upright, first), turned).changed(**how)
    return (keep_inside(lying) if corners else on_pixels(lying)).placement


def laid_as(size: Size, upright: Pixels, lying: Placement) -> Placement:
    """Return the suggestion for a photo turned and squared up as in another of its placements."""
    placement = laid(
        size,
        upright,
        lying.turned,
        quarter=lying.quarter,
        mirror=lying.mirror,
        corners=lying.corners,
        focal=lying.focal,
        fit_corners=lying.fit_corners,
    )
    return changed(placement, continued=lying.continued)


def at_centre(lying: Lying, x: float, y: float) -> Placement:
    """Put the crop's centre at shares x, y (0…1) of the photo, sliding it inside."""
    if not (0 <= x <= 1 and 0 <= y <= 1):
        msg = f"centre {x:g},{y:g} lies outside the photo; both must be from 0 to 1"
        raise PlacementError(msg)
    wide, high = lying.extent
    return on_pixels(keep_inside(lying.changed(cx=x * wide, cy=y * high))).placement
