"""Moving a crop and changing its extent, by hand and by number: old placement → new."""

from __future__ import annotations

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.geometry import Point, turned
from oak_ledge.core.placements import (
    SMALLEST_CROP,
    Placement,
    Proportions,
    adopt,
    asked_pixels,
    changed,
    crop_of,
    face_of,
    fitting_width,
    held_at,
    keep_inside,
    largest_width,
    most_edges,
    proportions,
    shrunk,
    size_at,
    suggest,
    widest,
)
from oak_ledge.core.planes import Plane
from oak_ledge.core.sizes import OwnShape, Size, Turned, ratio_is_open, written_pixels
from oak_ledge.core.units import Pixels

Signs = tuple[float, float]
"""For each axis: 1 or −1 where the crop grows that way from what is held, 0 where both ways."""


def moved(size: Size, held: Pixels, placement: Placement, dx: float, dy: float) -> Placement:
    """Move the crop by photo pixels."""
    return keep_inside(size, held, changed(placement, cx=placement.cx + dx, cy=placement.cy + dy))


def stepped(size: Size, held: Pixels, placement: Placement, dx: float, dy: float) -> Placement:
    """Move the crop by output pixels, along its own edges."""
    crop, (W, H) = crop_of(size, held, placement), asked_pixels(size, held, placement)
    along = turned(dx * (crop.width / W), dy * (crop.height / H), placement.angle)
    return moved(size, held, placement, *along)


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


def typed(
    size: Size,
    held: Pixels,
    placement: Placement,
    left: float | None,
    top: float | None,
    width: float | None,
    height: float | None,
) -> Placement:
    """Put the crop where figures say, in photo pixels; what is left out stays.

    Where the ratio is open both edges are taken as they are; else one gives the other.
    """
    before = crop_of(size, held, placement)
    if width is not None or height is not None:
        if may_change_ratio(size):
            most = most_edges(size, held)
            wide = min(width or before.width, most[0])
            high = min(height or before.height, most[1])
            placement = shrunk(size, held, adopt(size, held, placement, wide, high))
        else:
            across, along = proportions(size, held, placement)
            wide = width if width is not None else (height or 1) * across / along
            placement = resized(size, held, placement, wide)
    after = crop_of(size, held, placement)
    x = before.left if left is None else left
    y = before.top if top is None else top
    cx, cy = x + after.width / 2, y + after.height / 2
    return keep_inside(size, held, changed(placement, cx=cx, cy=cy))


def turned_over(size: Size, held: Pixels, placement: Placement) -> Placement:
    """Turn the shape between wide and tall; a crop that was largest stays largest."""
    W, H = asked_pixels(size, held, placement)
    if W == H or isinstance(size.shape, OwnShape):
        return placement
    crop = crop_of(size, held, placement)
    if ratio_is_open(size):
        return keep_inside(size, held, adopt(size, held, placement, crop.height, crop.width))
    other: Turned = "tall" if W > H else "wide"
    natural = suggest(size, held)
    back = asked_pixels(size, held, natural)
    turned_to = None if (back[0] > back[1]) == (other == "wide") else other
    over = changed(
        suggest(size, held, turned_to), cx=placement.cx, cy=placement.cy, angle=placement.angle
    )
    if size.differ == "stretch":
        return keep_inside(size, held, adopt(size, held, over, crop.width, crop.height))
    share = placement.width / fitting_width(size, held, face_of(size, (W, H)), placement.angle)
    fitting = fitting_width(size, held, proportions(size, held, over), placement.angle)
    return keep_inside(size, held, resized(size, held, over, share * fitting))


def pulled(
    size: Size,
    held: Pixels,
    placement: Placement,
    signs: Signs,
    pointer: Point,
    *,
    centre: bool,
    hold_ratio: bool,
) -> Placement:
    """Let a corner or an edge follow the pointer; what lies opposite, or the centre, is held.

    Parameters
    ----------
    signs : which is pulled: (1, 1) the bottom right corner, (−1, 0) the left edge
    pointer : a point of the photo
    centre : hold the centre instead
    hold_ratio : where the ratio is open, keep it
    """
    crop = crop_of(size, held, placement)
    px, py = turned(pointer[0] - placement.cx, pointer[1] - placement.cy, -placement.angle)
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
    freely = may_change_ratio(size) and not hold_ratio
    if not freely:
        across, along = proportions(size, held, placement)
        if not signs[1]:
            high = wide * along / across
        elif not signs[0]:
            wide = high * across / along
        else:  # the pointer, projected on the crop's diagonal
            share = (wide * across + high * along) / (across * across + along * along)
            wide, high = share * across, share * along
    return _grown(size, held, placement, hold, grows, (wide, high), freely=freely)


def drawn(
    size: Size,
    held: Pixels,
    placement: Placement,
    start: Point,
    end: Point,
    *,
    centre: bool,
    hold_ratio: bool,
) -> Placement:
    """Draw the crop afresh from a point of the photo to another; with `centre` about the first."""
    x0, y0 = turned(start[0] - placement.cx, start[1] - placement.cy, -placement.angle)
    x1, y1 = turned(end[0] - placement.cx, end[1] - placement.cy, -placement.angle)
    reach = 2.0 if centre else 1.0
    wide, high = reach * abs(x1 - x0), reach * abs(y1 - y0)
    freely = may_change_ratio(size) and not hold_ratio
    if not freely:
        across, along = proportions(size, held, placement)
        wide = max(wide, high * across / along)
        high = wide * along / across
    signs = (0.0, 0.0) if centre else (1.0 if x1 >= x0 else -1.0, 1.0 if y1 >= y0 else -1.0)
    return _grown(size, held, placement, (x0, y0), signs, (wide, high), freely=freely)


def put_right(size: Size, upright: Pixels, placement: Placement) -> Placement:
    """Put a placement that was given as figures right: as large as it may be, inside the photo.

    Where the size leaves the ratio open, its `free` pixels say which is meant.

    Raises
    ------
    PlacementError
        If they are missing there.
    """
    at, held = size_at(size, placement), held_at(size, upright, placement)
    if at.differ != "stretch":
        placement = changed(placement, stretch=1.0)
    if written_pixels(at) is not None:
        placement = changed(placement, free=None)
        return keep_inside(at, held, resized(at, held, placement, placement.width))
    if placement.free is None:
        msg = "this size leaves the ratio open; give the output's pixels as “free” with the crop"
        raise PlacementError(msg)
    across, along = face_of(at, placement.free)
    most = most_edges(at, held)
    wide = min(max(placement.width, min(SMALLEST_CROP, most[0])), most[0])
    high = min(max(wide * along / across, min(SMALLEST_CROP, most[1])), most[1])
    return keep_inside(at, held, adopt(at, held, placement, wide, high))


def may_change_ratio(size: Size) -> bool:
    """Say whether a hand may give the crop any ratio."""
    return ratio_is_open(size) or size.differ == "stretch"


def resized(size: Size, held: Pixels, placement: Placement, width: float) -> Placement:
    """Give the same crop at another width, its centre kept, within the smallest and largest."""
    across, along = ratio = proportions(size, held, placement)
    angle = placement.angle
    width = min(max(width, _smallest_width(held, ratio, angle)), widest(size, held, ratio, angle))
    return adopt(size, held, placement, width, width * along / across)


def _smallest_width(held: Pixels, ratio: Proportions, angle: float) -> float:
    across, along = ratio
    return min(SMALLEST_CROP * max(1.0, across / along), largest_width(held, ratio, angle))


def _grown(
    size: Size,
    held: Pixels,
    placement: Placement,
    hold: Point,
    signs: Signs,
    wanted: Point,
    *,
    freely: bool,
) -> Placement:
    """Give a crop of wanted width and height that grows from a held point the way `signs` say.

    `hold` is a step from the old centre along the crop's own edges. The crop stops at the photo's
    edge where it lies upright; turned, or beyond the photo, it is kept inside as a whole.
    """
    across, along = ratio = proportions(size, held, placement)
    angle = placement.angle
    if size.differ == "extend" or angle or isinstance(held, Plane):
        room_x = widest(size, held, ratio, angle)
        room_y = room_x * along / across
    else:
        at = (placement.cx + hold[0], placement.cy + hold[1])
        room_x, room_y = (
            _room(point, edge, sign) for point, edge, sign in zip(at, held, signs, strict=True)
        )
    wide, high = wanted
    # a crop begun at the very edge, where there is no room, slides back in
    room_x, room_y = (
        max(room, min(SMALLEST_CROP, edge))
        for room, edge in zip((room_x, room_y), held, strict=True)
    )
    if freely:
        smallest = min(SMALLEST_CROP, room_x, room_y)
        wide, high = min(max(wide, smallest), room_x), min(max(high, smallest), room_y)
        made = shrunk(size, held, adopt(size, held, placement, wide, high))
    else:
        smallest = _smallest_width(held, ratio, angle)
        width = min(max(wide, smallest), room_x, room_y * across / along)
        made = resized(size, held, placement, width)
    after = crop_of(size, held, made)
    dx, dy = turned(
        hold[0] + signs[0] * after.width / 2, hold[1] + signs[1] * after.height / 2, angle
    )
    return keep_inside(size, held, changed(made, cx=placement.cx + dx, cy=placement.cy + dy))


def _room(point: float, edge: int, sign: float) -> float:
    """Give how far a crop can grow from a point of one axis inside the photo."""
    before, after = max(0.0, point), max(0.0, edge - point)
    return after if sign > 0 else before if sign < 0 else 2 * min(before, after)
