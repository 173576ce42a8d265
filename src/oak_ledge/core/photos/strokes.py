"""What a hand brushes on a photo: strokes of a round brush, and polygons, in upright photo pixels."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from oak_ledge.core.values import Coordinate, Value

# Of one brushed area; points of one stroke.
MOST_STROKES, MOST_POINTS = 200, 4000

Spot = tuple[Coordinate, Coordinate]


class Stroke(Value):
    """The way of a round brush; with `away` it takes from what was brushed before."""

    points: tuple[Spot, ...] = Field(min_length=1, max_length=MOST_POINTS)
    radius: Annotated[float, Field(ge=0.5, le=20_000)]
    away: bool = False


Strokes = Annotated[tuple[Stroke, ...], Field(max_length=MOST_STROKES)]

Polygon = Annotated[tuple[Spot, ...], Field(min_length=3, max_length=MOST_POINTS)]

Polygons = Annotated[tuple[Polygon, ...], Field(max_length=MOST_STROKES)]
