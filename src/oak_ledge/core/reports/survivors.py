"""What of a photo survives all its sizes, and their outlines inside a camera's picture."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.planes.points import Point, rectangle
from oak_ledge.core.planes.polygons import common


def surviving(outlines: Sequence[Sequence[Point]], extent: Pixels) -> list[Point]:
    """Return the part of a photo that lies inside every outline, convex and clockwise; may be empty."""
    region = rectangle(*extent)
    for outline in outlines:
        region = common(region, outline)
    return region


class Framed(BaseModel):
    """A size's outline inside a camera's picture, as shares of its width and height."""

    model_config = ConfigDict(frozen=True)

    name: str
    left: float
    top: float
    width: float
    height: float


def framed(name: str, face: Pixels, camera: Fraction) -> Framed:
    """Lay a size's largest outline into the middle of a camera's picture, turned as it is.

    >>> framed("5:4", (4, 5), Fraction(3, 2)).width
    0.8333333333333334
    """
    ratio = Fraction(*face)
    if (ratio < 1) != (camera < 1):
        ratio = 1 / ratio
    width, height = min(1.0, float(ratio / camera)), min(1.0, float(camera / ratio))
    return Framed(name=name, left=(1 - width) / 2, top=(1 - height) / 2, width=width, height=height)
