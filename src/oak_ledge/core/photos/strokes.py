"""What a hand brushes on a photo: strokes of a round brush, and polygons, in upright photo pixels."""

from __future__ import annotations

from collections.abc import Sequence
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


def box_of(
    strokes: Sequence[Stroke], polygons: Sequence[Polygon]
) -> tuple[float, float, float, float]:
    """Return left, top, right and bottom of what is brushed; all 0 where nothing is."""
    added = [stroke for stroke in strokes if not stroke.away]
    xs = [(x, stroke.radius) for stroke in added for x, _ in stroke.points]
    ys = [(y, stroke.radius) for stroke in added for _, y in stroke.points]
    xs += [(x, 0.0) for polygon in polygons for x, _ in polygon]
    ys += [(y, 0.0) for polygon in polygons for _, y in polygon]
    return (
        min((x - r for x, r in xs), default=0.0),
        min((y - r for y, r in ys), default=0.0),
        max((x + r for x, r in xs), default=0.0),
        max((y + r for y, r in ys), default=0.0),
    )
