"""What a crop lies on: the photo itself, or the plane that four corners of it define.

Round the four corners there is more of the photo, and a crop may take it in. On the plane the photo
is no rectangle but a convex polygon, cut off short of where the plane vanishes.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import pairwise

import numpy as np

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.planes.matrices import Matrix, at, inverse, onto_quad
from oak_ledge.core.planes.points import Point, rectangle
from oak_ledge.core.planes.polygons import beyond_line, half_plane

# Of the plane's own edges: so far beyond each of them a crop may reach.
AROUND = 2.0


# Of its depth at the nearest corner: points nearer to where it vanishes are left out.
NEAREST = 0.1


@dataclass(frozen=True)
class PlainSurface:
    """The photo itself: `photo` is its (width, height) after `quarter` turns clockwise.

    `mirror` then flips it left to right. Points are (x, y) in its pixels, [0, width] × [0, height].
    """

    photo: Pixels
    quarter: int = 0
    mirror: bool = False

    @property
    def extent(self) -> Pixels:
        """Width and height of what a crop is meant on."""
        return self.photo

    @property
    def outline(self) -> tuple[Point, ...]:
        """The photo's edge, clockwise."""
        return tuple(rectangle(*self.photo))

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Left, top, width, height of the upright box around the photo."""
        return 0.0, 0.0, float(self.photo[0]), float(self.photo[1])

    @property
    def onto(self) -> Matrix:
        """Surface → photo."""
        return np.eye(3)

    def to_photo(self, points: Sequence[Point]) -> list[Point]:
        """Return points of the surface in pixels of the photo."""
        return list(points)

    def from_photo(self, polygon: Sequence[Point]) -> list[Point]:
        """Return a convex polygon of the photo on the surface."""
        return list(polygon)

    def smaller(self, seen: Pixels) -> PlainSurface:
        """Return the surface of a smaller picture of the photo, `seen` pixels large."""
        return PlainSurface(seen, self.quarter, self.mirror)


@dataclass(frozen=True)
class Squared:
    """The plane of an `extent` that four `corners` go round, and the `photo` about it.

    Points are (x, y) on the plane; its own rectangle is [0, width] × [0, height]. The corners are
    points of the photo, turned by quarters and mirrored, clockwise from the plane's top left.
    """

    extent: Pixels
    corners: tuple[Point, ...]
    photo: Pixels
    quarter: int = 0
    mirror: bool = False

    @cached_property
    def onto(self) -> Matrix:
        """Plane → photo."""
        return onto_quad(*self.extent, self.corners)

    @cached_property
    def back(self) -> Matrix:
        """Photo → plane; a point's third coordinate is above 0 short of where the plane vanishes."""
        back = inverse(self.onto)
        return back / _depth(back, self.corners[0])

    @cached_property
    def outline(self) -> tuple[Point, ...]:
        """The photo's edge on the plane, clockwise, convex."""
        outline, box = self.from_photo(rectangle(*self.photo)), self._around()
        for a, b in pairwise([*box, box[0]]):
            outline = beyond_line(outline, b, a)
        return tuple(outline)

    @cached_property
    def reach(self) -> tuple[Point, ...]:
        """Where a crop may go that has a ground."""
        return tuple(_in_front(self._around(), self.onto, rectangle(*self.extent)))

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Left, top, width, height of the upright box around the photo."""
        xs, ys = zip(*self.outline, strict=True)
        return min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys)

    def to_photo(self, points: Sequence[Point]) -> list[Point]:
        """Return points of the plane in pixels of the photo."""
        return mapped(self.onto, points)

    def from_photo(self, polygon: Sequence[Point]) -> list[Point]:
        """Return a convex polygon of the photo on the plane; what lies where it vanishes is cut off."""
        return mapped(self.back, _in_front(polygon, self.back, self.corners))

    def smaller(self, seen: Pixels) -> Squared:
        """Return the surface of a smaller picture of the photo; the plane stays as large as it is."""
        across, along = seen[0] / self.photo[0], seen[1] / self.photo[1]
        corners = tuple((x * across, y * along) for x, y in self.corners)
        return Squared(self.extent, corners, seen, self.quarter, self.mirror)

    def _around(self) -> list[Point]:
        wide, high = self.extent
        return [
            (-AROUND * wide, -AROUND * high),
            ((1 + AROUND) * wide, -AROUND * high),
            ((1 + AROUND) * wide, (1 + AROUND) * high),
            (-AROUND * wide, (1 + AROUND) * high),
        ]


Surface = PlainSurface | Squared


@lru_cache(
    maxsize=256
)  # so that what follows from the corners is worked out once, not each gesture
def squared_over(
    extent: Pixels,
    corners: tuple[Point, ...],
    photo: Pixels,
    quarter: int = 0,
    mirror: bool = False,
) -> Squared:
    """Lay a plane of an extent over four corners of a photo."""
    return Squared(extent, corners, photo, quarter, mirror)


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


def turns_of(surface: Surface) -> Matrix:
    """Map the photo's own upright pixels onto the photo as the surface turns and mirrors it."""
    wide, high = surface.photo
    matrix, edges = np.eye(3), (wide, high) if surface.quarter % 2 == 0 else (high, wide)
    for _ in range(surface.quarter):  # a quarter clockwise: (x, y) → (height − y, x)
        matrix = np.array([[0, -1, edges[1]], [1, 0, 0], [0, 0, 1]], np.float64) @ matrix
        edges = (edges[1], edges[0])
    if surface.mirror:
        matrix = np.array([[-1, 0, wide], [0, 1, 0], [0, 0, 1]], np.float64) @ matrix
    return matrix
