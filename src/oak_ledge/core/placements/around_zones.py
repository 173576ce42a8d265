"""Laying a crop around what must stay whole."""

from __future__ import annotations

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.keep_zones import Keeps
from oak_ledge.core.placements.crop import asked_pixels, crop_of, proportions
from oak_ledge.core.placements.fit import keep_inside, resized, widest
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.placements.zones_held import Shape, as_lain
from oak_ledge.core.planes.points import Point, turned
from oak_ledge.core.sizes.choices import Turned
from oak_ledge.core.sizes.hidden_edges import insets
from oak_ledge.core.sizes.size import Size

ROOM = 0.04  # of the crop's shorter edge: the breathing room a suggestion gives


Box = tuple[float, float, float, float]
"""Left, top, right, bottom."""


def suggest_around(
    size: Size, upright: Pixels, keeps: Keeps, turned_to: Turned | None = None
) -> Placement:
    """Give the first suggestion: the largest crop, laid about what must stay whole."""
    first = suggest(size, upright, turned_to)
    shapes = as_lain(keeps, upright, first, upright)
    if size.differ == "extend" or not any(kind == "zone" for kind, _ in shapes):
        return first
    left, top, right, bottom = _union(shapes)
    centred = changed(first, cx=(left + right) / 2, cy=(top + bottom) / 2)
    across, along = hidden_shares(size, upright, first)
    if across == along == 0:
        return keep_inside(size, upright, centred)
    return kept_whole(size, upright, keep_inside(size, upright, centred), shapes)


def whole_of(size: Size, held: Pixels, placement: Placement, keeps: Keeps) -> tuple[float, float]:
    """Give how wide and high a crop must be at least to show all zones whole, without any room."""
    left, top, right, bottom = _union(as_lain(keeps, held, placement, held))
    hidden = hidden_shares(size, held, placement)
    return (
        _needed(right - left, 1 - 2 * hidden[0]),
        _needed(bottom - top, 1 - 2 * hidden[1]),
    )


def kept_whole(
    size: Size, held: Pixels, placement: Placement, shapes: tuple[Shape, ...]
) -> Placement:
    """Slide a crop so that all zones lie in what will be seen, with room; loosen it where needed."""
    frame = [
        turned(x - placement.cx, y - placement.cy, -placement.angle) for x, y in _points(shapes)
    ]
    left, top = (min(point[axis] for point in frame) for axis in (0, 1))
    right, bottom = (max(point[axis] for point in frame) for axis in (0, 1))
    hidden = hidden_shares(size, held, placement)
    across, along = ratio = proportions(size, held, placement)
    high = along / across
    room = ROOM * min(1.0, high)  # of the width
    needed = max(
        _needed(right - left, 1 - 2 * hidden[0] - 2 * room),
        _needed(bottom - top, high * (1 - 2 * hidden[1]) - 2 * room),
    )
    if needed > placement.width and not size.shape.whole_pixels:
        most = widest(size, held, ratio, placement.angle)
        placement = resized(size, held, placement, min(needed * (1 + 1e-9), most))
    crop = crop_of(size, held, placement)
    free = room * crop.width
    dx = _slide(left, right, crop.width * (0.5 - hidden[0]), free)
    dy = _slide(top, bottom, crop.height * (0.5 - hidden[1]), free)
    step = turned(dx, dy, placement.angle)
    moved = changed(placement, cx=placement.cx + step[0], cy=placement.cy + step[1])
    return keep_inside(size, held, moved)


def _needed(extent: float, share: float) -> float:
    return extent / share if share > 0 else float("inf")


def _slide(low: float, high: float, reach: float, free: float) -> float:
    """Give the smallest step that brings low…high inside ±reach, with free room where there is."""
    free = max(0.0, min(free, reach - (high - low) / 2))
    least, most = high + free - reach, low - free + reach
    return (low + high) / 2 if least > most else min(max(0.0, least), most)


def hidden_shares(size: Size, held: Pixels, placement: Placement) -> tuple[float, float]:
    """Give the shares across and along that bleed, lip or mat take from each side."""
    found = insets(size, asked_pixels(size, held, placement))
    return (0.0, 0.0) if found is None else found[1]


def _points(shapes: tuple[Shape, ...]) -> list[Point]:
    return [point for kind, points in shapes if kind == "zone" for point in points]


def _union(shapes: tuple[Shape, ...]) -> Box:
    xs, ys = zip(*_points(shapes), strict=True)
    return min(xs), min(ys), max(xs), max(ys)
