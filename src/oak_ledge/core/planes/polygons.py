"""Polygons: their area, what they share, what of them lies beyond a line."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from math import hypot

from oak_ledge.core.planes.points import Point


def area(polygon: Sequence[Point]) -> float:
    """Return a polygon's area (the shoelace formula), whichever way it runs."""
    if len(polygon) < 3:
        return 0.0
    around = [*polygon, polygon[0]]
    return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in pairwise(around))) / 2


def side(a: Point, b: Point, point: Point) -> float:
    """Return on which side of the line from a to b a point lies: above 0 to the right, with y down."""
    return (b[0] - a[0]) * (point[1] - a[1]) - (b[1] - a[1]) * (point[0] - a[0])


def beyond_line(polygon: Sequence[Point], a: Point, b: Point) -> list[Point]:
    """Clip a polygon to the left of the line from a to b, as seen with y down."""
    nx, ny = b[1] - a[1], a[0] - b[0]
    return half_plane(polygon, nx, ny, -(nx * a[0] + ny * a[1]))


def half_plane(polygon: Sequence[Point], nx: float, ny: float, d: float) -> list[Point]:
    """Clip a convex polygon to where nx·x + ny·y + d ≥ 0.

    Sutherland & Hodgman, *Reentrant polygon clipping*, CACM 17, 1974, one edge of it.
    """
    kept: list[Point] = []
    for start, two in pairwise([*polygon, polygon[0]] if polygon else []):
        here, there = (nx * x + ny * y + d for x, y in (start, two))
        if here >= 0:
            kept.append(start)
        if (here > 0 > there) or (here < 0 < there):
            share = here / (here - there)
            kept.append(
                (start[0] + share * (two[0] - start[0]), start[1] + share * (two[1] - start[1]))
            )
    return kept


def nearest_in(polygon: Sequence[Point], point: Point) -> Point:
    """Return the point of a convex polygon, clockwise on the screen, that is nearest to a point.

    One so flat that it is a line is no less a polygon.

    >>> nearest_in([(0, 0), (4, 0), (4, 2), (0, 2)], (9, 1))
    (4.0, 1.0)
    >>> nearest_in([(0, 1), (4, 1), (4, 1), (0, 1)], (9, 1))
    (4.0, 1.0)
    """
    around = list(pairwise([*polygon, polygon[0]]))
    if area(polygon) > 0 and all(side(a, b, point) >= 0 for a, b in around):
        return point
    nearest = (_nearest(point, a, b) for a, b in around)
    return min(nearest, key=lambda p: hypot(p[0] - point[0], p[1] - point[1]))


def _nearest(point: Point, a: Point, b: Point) -> Point:
    dx, dy = b[0] - a[0], b[1] - a[1]
    square = dx * dx + dy * dy
    share = ((point[0] - a[0]) * dx + (point[1] - a[1]) * dy) / square if square else 0.0
    share = min(1.0, max(0.0, share))
    return a[0] + share * dx, a[1] + share * dy


def common(polygon: Sequence[Point], other: Sequence[Point]) -> list[Point]:
    """Return what two convex polygons share; `other` runs clockwise as seen."""
    clipped = list(polygon)
    for a, b in pairwise([*other, other[0]]):
        clipped = beyond_line(clipped, b, a)
    return clipped


def overlap(polygon: Sequence[Point], other: Sequence[Point]) -> float:
    """Return the area two convex polygons share; `other` runs clockwise as seen."""
    return area(common(polygon, other))
