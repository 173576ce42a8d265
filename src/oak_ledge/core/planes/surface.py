"""The plane that four corners define: how far the photo reaches on it, and crops kept there.

Round the four corners there is more of the photo, and a crop may take it in. On the plane the photo
is no rectangle but a convex polygon, cut off short of where the plane vanishes.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from itertools import combinations, pairwise
from math import hypot

import numpy as np

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.planes.matrices import Matrix, at, inverse, onto_quad
from oak_ledge.core.planes.points import Point, rectangle, turn_of
from oak_ledge.core.planes.polygons import beyond_line, half_plane, nearest_in

AROUND = 2.0  # of the plane's own edges: so far beyond each of them a crop may reach


NEAREST = 0.1  # of its depth at the nearest corner: points nearer to where it vanishes are left out


_HAIR = 1e-9


class Plane(tuple[int, int]):
    """Width and height of what the four corners go round, and the photo about it.

    Points are (x, y) on the plane; its own rectangle is [0, width] × [0, height].
    """

    photo: Pixels
    """(width, height) of the photo as held"""
    corners: tuple[Point, ...]
    """its own corners, on the photo"""
    onto: Matrix
    """plane → photo"""
    back: Matrix
    """photo → plane; a point's third coordinate is above 0 short of where the plane vanishes"""
    outline: tuple[Point, ...]
    """the photo's edge on the plane, clockwise, convex"""
    reach: tuple[Point, ...]
    """where a crop may go that has a ground"""

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Left, top, width, height of the upright box around the photo."""
        xs, ys = zip(*self.outline, strict=True)
        return min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys)


@lru_cache(maxsize=256)  # a placement asks for the same several times a gesture
def plane_over(extent: Pixels, corners: tuple[Point, ...], photo: Pixels) -> Plane:
    """Lay a plane of an extent over four corners of a photo.

    Raises
    ------
    PlacementError
        If the corners are no picture of a rectangle.
    """
    plane = Plane(extent)
    plane.photo, plane.corners, plane.onto = photo, corners, onto_quad(*extent, corners)
    back = inverse(plane.onto)
    plane.back = back / _depth(back, corners[0])
    wide, high = extent
    box = [
        (-AROUND * wide, -AROUND * high),
        ((1 + AROUND) * wide, -AROUND * high),
        ((1 + AROUND) * wide, (1 + AROUND) * high),
        (-AROUND * wide, (1 + AROUND) * high),
    ]
    plane.reach = tuple(_in_front(box, plane.onto, rectangle(*extent)))
    outline = onto_plane(plane, rectangle(*photo))
    for a, b in pairwise([*box, box[0]]):
        outline = beyond_line(outline, b, a)
    plane.outline = tuple(outline)
    return plane


def onto_plane(plane: Plane, polygon: Sequence[Point]) -> list[Point]:
    """Map a convex polygon of the photo onto a plane; what lies where it vanishes is cut off."""
    return mapped(plane.back, _in_front(polygon, plane.back, plane.corners))


def mapped(matrix: Matrix, points: Sequence[Point]) -> list[Point]:
    """Map points, one by one."""
    if not points:
        return []
    return [(float(x), float(y)) for x, y in at(matrix, np.array(points, np.float64))]


def _depth(matrix: Matrix, point: Point) -> float:
    return float(matrix[2] @ (point[0], point[1], 1.0))


def _in_front(polygon: Sequence[Point], matrix: Matrix, corners: Sequence[Point]) -> list[Point]:
    """Cut a polygon short of the line a matrix sends to infinity; the corners lie before it."""
    least = NEAREST * min(_depth(matrix, corner) for corner in corners)
    a, b, c = (float(part) for part in matrix[2])
    return half_plane(polygon, a, b, c - least)


def roomiest(region: Sequence[Point], ratio: Point, angle: float) -> tuple[float, Point]:
    """Give the width and middle of the largest crop of a ratio and angle inside a convex region.

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
    x, y, width = max(met[fits], key=lambda one: one[2])
    return float(width), (float(x), float(y))


def _sides(
    region: Sequence[Point], ratio: Point, angle: float
) -> list[tuple[float, float, float, float]]:
    """Give every edge's inner normal, its distance from the origin, and a crop's reach against it."""
    c, s = turn_of(angle)
    tall = ratio[1] / ratio[0]
    found = []
    for (ax, ay), (bx, by) in pairwise([*region, region[0]]):
        length = hypot(bx - ax, by - ay)
        if length < _HAIR:
            continue
        nx, ny = -(by - ay) / length, (bx - ax) / length
        reach = (abs(nx * c + ny * s) + tall * abs(-nx * s + ny * c)) / 2
        found.append((nx, ny, -(nx * ax + ny * ay), reach))
    return found


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
