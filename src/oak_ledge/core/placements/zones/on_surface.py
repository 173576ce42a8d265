"""Keep zones on the surface on which a placement's crop is meant, and back."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from typing import Literal

import numpy as np

from oak_ledge.core.photos.continued import OUTWARD, Side
from oak_ledge.core.photos.keep_zones import Keeps
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.planes.matrices import at, inverse
from oak_ledge.core.planes.points import Point
from oak_ledge.core.planes.surface import Surface, mapped, turns_of

Kind = Literal["zone", "mark"]


# A zone's corners or a mark's ends, where a placement's crop is meant.
Shape = tuple[Kind, tuple[Point, ...]]


def zones_on(surface: Surface, keeps: Keeps) -> tuple[Shape, ...]:
    """Return zones and marks of a photo on the surface on which a crop is meant."""
    if not keeps.zones and not keeps.marks:  # asked at every frame of a drag
        return ()
    return _zones_on(surface, keeps)


@lru_cache(maxsize=64)  # neither changes while a hand drags, and several ask
def _zones_on(surface: Surface, keeps: Keeps) -> tuple[Shape, ...]:
    matrix = turns_of(surface)

    def here(points: list[Point]) -> tuple[Point, ...]:
        return tuple(surface.from_photo(mapped(matrix, points)))

    shapes: list[Shape] = []
    for zone in keeps.zones:
        right, bottom = zone.left + zone.width, zone.top + zone.height
        corners = [(zone.left, zone.top), (right, zone.top), (right, bottom), (zone.left, bottom)]
        shapes.append(("zone", here(corners)))
    for mark in keeps.marks:
        shapes.append(("mark", here([(mark.x0, mark.y0), (mark.x1, mark.y1)])[:2]))
    return tuple(shape for shape in shapes if len(shape[1]) >= 2)


def in_crop(points: Sequence[Point], crop: Crop) -> list[Point]:
    """Return points of the surface as shares of the crop, from its own top left corner."""
    shares = at(inverse(crop.matrix((1, 1))), np.array(points, np.float64))
    return [(float(u), float(v)) for u, v in shares]


def gaps(zone: Sequence[Point]) -> dict[str, float]:
    """Return how far a zone in shares of the crop lies from each edge; below 0 it is beyond."""
    us, vs = zip(*zone, strict=True)
    return {"left": min(us), "top": min(vs), "right": 1 - max(us), "bottom": 1 - max(vs)}


def point_on(surface: Surface, x: float, y: float) -> Point | None:
    """Return a point of the photo's own upright pixels on the surface on which a crop is meant."""
    points = surface.from_photo(mapped(turns_of(surface), [(x, y)] * 3))
    return points[0] if points else None


def points_on(surface: Surface, points: Sequence[Point]) -> list[Point] | None:
    """Return points of the photo's own upright pixels on a surface; None where it reaches not all of them."""
    there = surface.from_photo(mapped(turns_of(surface), list(points)))
    return there if len(there) == len(points) else None


def to_upright(surface: Surface, points: list[Point]) -> tuple[Point, ...]:
    """Return points of a surface in the photo's own pixels, before it is turned or mirrored."""
    return tuple(mapped(inverse(turns_of(surface)), surface.to_photo(points)))


def upright_side(surface: Surface, side: Side) -> Side:
    """Return which side of the upright photo is seen as a side of a photo that may be turned or mirrored."""
    there = at(inverse(turns_of(surface)), np.array([(0.0, 0.0), OUTWARD[side]], np.float64))
    along, down = there[1] - there[0]
    across: Side = "left" if along < 0 else "right"
    upward: Side = "top" if down < 0 else "bottom"
    return across if abs(along) > abs(down) else upward
