"""What of a photo must stay whole: keep zones, and lines that must not be cut.

They are said once per photo, in its own upright pixels, and known to all its placements.
"""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from oak_ledge.core.geometry import Matrix, Point, inverse
from oak_ledge.core.placements import Placement, photo_held
from oak_ledge.core.planes import Plane, mapped, onto_plane
from oak_ledge.core.units import Pixels
from oak_ledge.core.values import Coordinate, Extent, Value

MOST = 60  # zones, and lines, of one photo


class Zone(Value):
    """A rectangle that must stay whole, in photo pixels, upright."""

    left: Coordinate
    top: Coordinate
    width: Extent
    height: Extent


class Mark(Value):
    """A line that must not be cut, such as a joint, lettering or a pole; photo pixels, upright."""

    x0: Coordinate
    y0: Coordinate
    x1: Coordinate
    y1: Coordinate


class Keeps(Value):
    """All that must stay whole of one photo."""

    zones: tuple[Zone, ...] = Field(default=(), max_length=MOST)
    marks: tuple[Mark, ...] = Field(default=(), max_length=MOST)


NOTHING = Keeps()
Kind = Literal["zone", "mark"]
Shape = tuple[Kind, tuple[Point, ...]]
"""A zone's corners or a mark's ends, where a placement's crop is meant."""


def within(keeps: Keeps, upright: Pixels) -> Keeps:
    """Cut what must be kept to the photo; what lies wholly beyond it goes."""
    wide, high = upright
    zones = []
    for zone in keeps.zones:
        left, top = max(0.0, zone.left), max(0.0, zone.top)
        right, bottom = min(wide, zone.left + zone.width), min(high, zone.top + zone.height)
        if right - left >= 1 and bottom - top >= 1:
            zones.append(Zone(left=left, top=top, width=right - left, height=bottom - top))
    marks = [
        mark
        for mark in keeps.marks
        if max(mark.x0, mark.x1) > 0 and min(mark.x0, mark.x1) < wide
        and max(mark.y0, mark.y1) > 0 and min(mark.y0, mark.y1) < high
    ]  # fmt: skip
    return Keeps(zones=tuple(zones), marks=tuple(marks))


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
