"""Turning a crop level, holding the photo otherwise, squaring it up: old placement → new."""

from __future__ import annotations

from math import atan2, degrees

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.geometry import Point
from oak_ledge.core.placements import (
    Corners,
    Lain,
    Placement,
    as_tight,
    changed,
    held_at,
    laid,
    photo_held,
    proportions,
    size_at,
    tightness,
)
from oak_ledge.core.sizes import Size
from oak_ledge.core.units import Pixels

SHORTEST_LINE = 2.0  # photo pixels; a shorter one has no direction worth the name


def level_angle(start: Point, end: Point) -> float:
    """Give the smaller turn that makes a drawn line level or plumb, within ±45°.

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


def at_angle(size: Size, held: Pixels, placement: Placement, angle: float) -> Placement:
    """Turn a crop to an angle; as much of its largest as it had upright is kept, and it stays inside.

    How it lay upright is remembered: from there every angle begins, so that turning
    there and back gives the same crop, not a smaller one.
    """
    if not -180 < angle <= 180:
        msg = f"an angle of {angle:g}° is out of range; give one above −180° and up to 180°"
        raise PlacementError(msg)
    was = placement.upright or _lain(placement)
    if placement.upright is not None:
        placement = changed(placement, **dict(was), angle=0.0)
    if not angle and placement.angle == 0:
        return changed(placement, upright=None)
    upright = was if placement.angle == 0 else None
    over = changed(placement, angle=angle, upright=upright)
    return as_tight(size, held, over, tightness(size, held, placement))


def _lain(placement: Placement) -> Lain:
    return Lain(
        cx=placement.cx,
        cy=placement.cy,
        width=placement.width,
        free=placement.free,
        stretch=placement.stretch,
    )


def quartered(size: Size, upright: Pixels, placement: Placement, by: int) -> Placement:
    """Turn the photo itself by quarters clockwise; the crop goes round with it where it fits."""
    was = photo_held(upright, placement)
    quarter = (placement.quarter + by) % 4
    corners = placement.corners
    for _ in range(by % 4):
        if corners is not None:
            nw, ne, se, sw = ((was[1] - y, x) for x, y in corners)
            corners = (sw, nw, ne, se)
        was = (was[1], was[0])
    return _held_anew(size, upright, placement, by % 4, quarter=quarter, corners=corners)


def mirrored(size: Size, upright: Pixels, placement: Placement) -> Placement:
    """Flip the photo left to right; the crop goes with it."""
    wide = photo_held(upright, placement)[0]
    corners = placement.corners
    if corners is not None:
        nw, ne, se, sw = ((wide - x, y) for x, y in corners)
        corners = (ne, nw, sw, se)
    return _held_anew(size, upright, placement, 0, mirror=not placement.mirror, corners=corners)


def squared(
    size: Size,
    upright: Pixels,
    placement: Placement,
    corners: Corners | None,
    focal: float | None,
    *,
    fit: bool = False,
) -> Placement:
    """Square up what four corners go round, or leave that again; the crop begins anew.

    With `fit` the corners become the size's own ratio, whatever it truly is.

    Raises
    ------
    PlacementError
        If the corners are no picture of a rectangle, with what is wrong.
    """
    made = laid(
        size_at(size, placement),
        upright,
        placement.turned,
        quarter=placement.quarter,
        mirror=placement.mirror,
        corners=corners,
        focal=focal if corners else None,
        fit_corners=fit and corners is not None,
    )
    return changed(made, size=placement.size)


def _held_anew(
    size: Size, upright: Pixels, placement: Placement, quarters: int, **how: object
) -> Placement:
    """Lay the crop on a photo held otherwise: at the same place, as tight as it was."""
    at = size_at(size, placement)
    before = held_at(size, upright, placement)
    x, y = placement.cx / before[0], placement.cy / before[1]
    angle = placement.angle
    if "mirror" in how:
        x, angle = 1 - x, -angle if angle != 180 else angle
    for _ in range(quarters):
        x, y = 1 - y, x
    over = changed(placement, **how, upright=None)
    after = held_at(size, upright, over)
    made = laid(
        at,
        upright,
        placement.turned,
        quarter=over.quarter,
        mirror=over.mirror,
        corners=over.corners,
        focal=over.focal,
        fit_corners=over.fit_corners,
    )
    made = changed(made, cx=x * after[0], cy=y * after[1], angle=angle, size=placement.size)
    ratio = None
    if placement.free is not None:  # an open ratio goes round as it is
        across, along = proportions(at, before, placement)
        ratio = (across, along) if quarters % 2 == 0 else (along, across)
    return as_tight(at, after, made, tightness(at, before, placement), ratio)
