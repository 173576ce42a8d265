"""The largest rectangle of a ratio and angle inside a convex region, and sliding one inside."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from itertools import combinations, pairwise
from math import hypot

import numpy as np

from oak_ledge.core.planes.points import Point, turn_of
from oak_ledge.core.planes.polygons import half_plane, nearest_in

_HAIR = 1e-9


def roomiest(region: Sequence[Point], ratio: Point, angle: float) -> tuple[float, Point]:
    """Return the width and middle of the largest crop of a ratio and angle inside a convex region.

    The crop lies inside where it lies on the inner side of every edge: n·c + d ≥ w·s, with s
    how far a crop of width 1 reaches against the edge's normal n. The largest w is where three
    of these meet.
    """
    return _roomiest(tuple(region), (float(ratio[0]), float(ratio[1])), angle)


@lru_cache(maxsize=256)
def _roomiest(region: tuple[Point, ...], ratio: Point, angle: float) -> tuple[float, Point]:
    sides = np.array(_sides(region, ratio, angle))  # rows of nx, ny, d, s
    threes = sides[list(combinations(range(len(sides)), 3))]
    left = np.stack([threes[..., 0], threes[..., 1], -threes[..., 3]], axis=-1)
    solvable = np.abs(np.linalg.det(left)) > 1e-12
    met = np.linalg.solve(left[solvable], -threes[solvable][..., 2:3])[..., 0]
    slack = met[:, :2] @ sides[:, :2].T + sides[:, 2] - met[:, 2:] * sides[:, 3]
    fits = (slack >= -1e-7 * np.abs(sides[:, 2]).max()).all(axis=1)
    x, y, width = max(met[fits], key=lambda other: other[2])
    return float(width), (float(x), float(y))


def _sides(
    region: Sequence[Point], ratio: Point, angle: float
) -> list[tuple[float, float, float, float]]:
    """Return every edge's inner normal, its distance from the origin, and a crop's reach against it."""
    c, s = turn_of(angle)
    tall = ratio[1] / ratio[0]
    sides = []
    for (ax, ay), (bx, by) in pairwise([*region, region[0]]):
        length = hypot(bx - ax, by - ay)
        if length < _HAIR:
            continue
        nx, ny = -(by - ay) / length, (bx - ax) / length
        reach = (abs(nx * c + ny * s) + tall * abs(-nx * s + ny * c)) / 2
        sides.append((nx, ny, -(nx * ax + ny * ay), reach))
    return sides


def slid_inside(
    region: Sequence[Point], centre: Point, width: float, ratio: Point, angle: float
) -> tuple[float, Point]:
    """Slide a crop into a convex region by the shortest way, and shrink it only if it must be.

    Gives its width and centre.
    """
    most, middle = roomiest(region, ratio, angle)
    if width >= most * (1 - _HAIR):
        return most * (1 - _HAIR), middle
    room = list(region)
    for nx, ny, d, s in _sides(region, ratio, angle):
        room = half_plane(room, nx, ny, d - s * width)
    if len(room) < 3:
        return width, middle
    return width, nearest_in(room, centre)
