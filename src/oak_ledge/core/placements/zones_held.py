"""Keep zones in the coordinates in which a placement's crop is meant, and back."""

from __future__ import annotations

from typing import Literal

import numpy as np

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.keep_zones import Keeps
from oak_ledge.core.placements.placement import Placement, photo_held
from oak_ledge.core.planes.matrices import Matrix, inverse
from oak_ledge.core.planes.points import Point
from oak_ledge.core.planes.surface import Plane, mapped, onto_plane

Kind = Literal["zone", "mark"]


Shape = tuple[Kind, tuple[Point, ...]]
"""A zone's corners or a mark's ends, where a placement's crop is meant."""


def as_lain(keeps: Keeps, upright: Pixels, placement: Placement, held: Pixels) -> tuple[Shape, ...]:
    """Give zones and marks in the coordinates in which a placement's crop is meant.

    `held` is the extent the placement lies on: the photo as held, or its squared plane.
    """
    if not keeps.zones and not keeps.marks:  # asked at every frame of a drag
        return ()
    matrix = _as_held(upright, placement)

    def lain(points: list[Point]) -> tuple[Point, ...]:
        found = mapped(matrix, points)
        return tuple(onto_plane(held, found) if isinstance(held, Plane) else found)

    shapes: list[Shape] = []
    for zone in keeps.zones:
        right, bottom = zone.left + zone.width, zone.top + zone.height
        corners = [(zone.left, zone.top), (right, zone.top), (right, bottom), (zone.left, bottom)]
        shapes.append(("zone", lain(corners)))
    for mark in keeps.marks:
        shapes.append(("mark", lain([(mark.x0, mark.y0), (mark.x1, mark.y1)])[:2]))
    return tuple(shape for shape in shapes if len(shape[1]) >= 2)


def as_upright(
    points: list[Point], upright: Pixels, placement: Placement, held: Pixels
) -> tuple[Point, ...]:
    """Give points of a placement's coordinates in the photo's own upright pixels."""
    on_photo = mapped(held.onto, points) if isinstance(held, Plane) else points
    return tuple(mapped(inverse(_as_held(upright, placement)), on_photo))


def _as_held(upright: Pixels, placement: Placement) -> Matrix:
    """Map the photo's own upright pixels onto the photo as a placement holds it."""
    matrix, edges = np.eye(3), upright
    for _ in range(placement.quarter):  # a quarter clockwise: (x, y) → (height − y, x)
        matrix = np.array([[0, -1, edges[1]], [1, 0, 0], [0, 0, 1]], np.float64) @ matrix
        edges = (edges[1], edges[0])
    if placement.mirror:
        wide = photo_held(upright, placement)[0]
        matrix = np.array([[-1, 0, wide], [0, 1, 0], [0, 0, 1]], np.float64) @ matrix
    return matrix
