"""Laying a crop around what must stay whole."""

from __future__ import annotations

from dataclasses import replace

from oak_ledge.core.heads.face_points import FacePoints
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.keep_zones import Keeps
from oak_ledge.core.placements.fit import keep_inside, on_pixels, resized, widest
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.placements.suggestion import suggested
from oak_ledge.core.placements.zones.head import laid_by_head
from oak_ledge.core.placements.zones.in_outline import kept_in_outline
from oak_ledge.core.placements.zones.off_joints import across_joints, off_joints
from oak_ledge.core.placements.zones.on_surface import Shape, zones_on
from oak_ledge.core.planes.points import Point, rotated
from oak_ledge.core.planes.surface import PlainSurface
from oak_ledge.core.sizes.choices import Turned
from oak_ledge.core.sizes.hidden_edges import insets
from oak_ledge.core.sizes.size import Size

# Of the crop's shorter edge: the breathing room a suggestion gives.
BREATHING_ROOM = 0.04


# Left, top, right, bottom.
Box = tuple[float, float, float, float]


def suggest_around(
    size: Size,
    upright: Pixels,
    keeps: Keeps,
    turned_to: Turned | None = None,
    face: FacePoints | None = None,
) -> Placement:
    """Return the first suggestion: laid by the head a size asks for, else about what must stay whole, off joints.

    Around nothing it is the largest crop.
    """
    first = suggested(size, PlainSurface(upright), turned_to)
    if size.head is not None and face is not None:
        return on_pixels(laid_by_head(first, face)).placement
    lying = lay_around(first, keeps)
    if across_joints(lying, keeps):
        lying = off_joints(lying, keeps) or lying
    return on_pixels(lying).placement


def lay_around(first: Lying, keeps: Keeps) -> Lying:
    """Lay a first suggestion about what must stay whole, or so that this fills what its size says."""
    size, shapes = first.size, zones_on(first.surface, keeps)
    if size.fills is not None and any(kind == "zone" for kind, _ in shapes):
        return filled(first, shapes)
    if size.differ == "extend" or not any(kind == "zone" for kind, _ in shapes):
        return first
    left, top, right, bottom = _union(shapes)
    centred = keep_inside(first.changed(cx=(left + right) / 2, cy=(top + bottom) / 2))
    across, along = hidden_shares(first)
    if across or along:
        centred = replace(centred, placement=kept_whole(centred, shapes))
    return kept_in_outline(centred, shapes)


def filled(lying: Lying, shapes: tuple[Shape, ...]) -> Lying:
    """Lay a crop so that its zones, as one box, are in its middle and fill what the size says.

    As near as the photo gives that: it slides, then shrinks, to stay inside; on a size that extends
    the rest is ground.
    """
    assert lying.size.fills is not None
    (left, top, right, bottom), angle = _box(lying, shapes), lying.placement.angle
    across, along = ratio = lying.proportions
    needed = max(right - left, (bottom - top) * across / along) / float(lying.size.fills / 100)
    most = widest(lying.size, lying.surface, ratio, angle)
    step = rotated((left + right) / 2, (top + bottom) / 2, angle)
    at = (lying.placement.cx + step[0], lying.placement.cy + step[1])
    return keep_inside(resized(lying.changed(cx=at[0], cy=at[1]), min(needed, most)))


def filled_share(lying: Lying, keeps: Keeps) -> float | None:
    """Return how much of an edge the zones, as one box, fill, the larger of both; None without any."""
    shapes = zones_on(lying.surface, keeps)
    if not any(kind == "zone" for kind, _ in shapes):
        return None
    left, top, right, bottom = _box(lying, shapes)
    return max((right - left) / lying.crop.width, (bottom - top) / lying.crop.height)


def _box(lying: Lying, shapes: tuple[Shape, ...]) -> Box:
    """Return the one box around all zones in the crop's own frame, from its middle."""
    cx, cy, angle = lying.placement.cx, lying.placement.cy, lying.placement.angle
    frame = [rotated(x - cx, y - cy, -angle) for x, y in _points(shapes)]
    xs, ys = zip(*frame, strict=True)
    return min(xs), min(ys), max(xs), max(ys)


def whole_of(lying: Lying, keeps: Keeps) -> tuple[float, float]:
    """Return how wide and high a crop must be at least to show all zones whole, without any room."""
    left, top, right, bottom = _union(zones_on(lying.surface, keeps))
    hidden = hidden_shares(lying)
    return (
        _needed(right - left, 1 - 2 * hidden[0]),
        _needed(bottom - top, 1 - 2 * hidden[1]),
    )


def kept_whole(lying: Lying, shapes: tuple[Shape, ...]) -> Placement:
    """Slide a crop so that all zones lie in what will be seen, with room; loosen it where needed."""
    cx, cy, angle = lying.placement.cx, lying.placement.cy, lying.placement.angle
    left, top, right, bottom = _box(lying, shapes)
    hidden = hidden_shares(lying)
    across, along = ratio = lying.proportions
    high = along / across
    room = BREATHING_ROOM * min(1.0, high)  # of the width
    needed = max(
        _needed(right - left, 1 - 2 * hidden[0] - 2 * room),
        _needed(bottom - top, high * (1 - 2 * hidden[1]) - 2 * room),
    )
    if needed > lying.placement.width and not lying.size.shape.whole_pixels:
        most = widest(lying.size, lying.surface, ratio, angle)
        lying = resized(lying, min(needed * (1 + 1e-9), most))
    crop = lying.crop
    free = room * crop.width
    dx = _slide(left, right, crop.width * (0.5 - hidden[0]), free)
    dy = _slide(top, bottom, crop.height * (0.5 - hidden[1]), free)
    step = rotated(dx, dy, angle)
    new_lying = keep_inside(lying.changed(cx=cx + step[0], cy=cy + step[1]))
    return kept_in_outline(new_lying, shapes).placement


def _needed(extent: float, share: float) -> float:
    return extent / share if share > 0 else float("inf")


def _slide(low: float, high: float, reach: float, free: float) -> float:
    """Return the smallest step that brings low…high inside ±reach, with free room where there is."""
    free = max(0.0, min(free, reach - (high - low) / 2))
    least, most = high + free - reach, low - free + reach
    return (low + high) / 2 if least > most else min(max(0.0, least), most)


def hidden_shares(lying: Lying) -> tuple[float, float]:
    """Return the shares across and along that bleed, lip or mat take from each side."""
    edges = insets(lying.size, lying.asked)
    return (0.0, 0.0) if edges is None else edges[1]


def _points(shapes: tuple[Shape, ...]) -> list[Point]:
    return [point for kind, points in shapes if kind == "zone" for point in points]


def _union(shapes: tuple[Shape, ...]) -> Box:
    xs, ys = zip(*_points(shapes), strict=True)
    return min(xs), min(ys), max(xs), max(ys)
