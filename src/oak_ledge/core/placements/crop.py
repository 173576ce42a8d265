"""A crop as a rectangle, and the proportions of output pixels on their dots.

Photo coordinates: orientation and quarter turns applied, origin at the outer top-left corner, x right,
y down, in photo pixels; pixel i covers [i, i+1].
"""

from __future__ import annotations

from dataclasses import dataclass

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.planes.matrices import Matrix, corners_of, crop_matrix
from oak_ledge.core.planes.points import Point, rotated
from oak_ledge.core.sizes.size import Size

# Across and along of a crop, in any measure.
Proportions = tuple[float, float]


@dataclass(frozen=True)
class Crop:
    """A crop as a rectangle in photo pixels, turned clockwise by `angle` about its centre."""

    left: float
    top: float
    width: float
    height: float
    angle: float = 0.0

    @property
    def right(self) -> float:
        """The right edge's x."""
        return self.left + self.width

    @property
    def bottom(self) -> float:
        """The bottom edge's y."""
        return self.top + self.height

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, top, width, height."""
        return self.left, self.top, self.width, self.height

    def matrix(self, output: Pixels) -> Matrix:
        """Map output points [0, W] × [0, H] onto the crop."""
        return crop_matrix(*self.box, self.angle, output)

    def part(self, u: float, v: float, wide: float, high: float) -> Crop:
        """Return the part of the crop from shares u, v on, `wide` and `high` shares large."""
        width, height = wide * self.width, high * self.height
        dx, dy = rotated(
            (u + wide / 2 - 0.5) * self.width, (v + high / 2 - 0.5) * self.height, self.angle
        )
        cx, cy = self.left + self.width / 2 + dx, self.top + self.height / 2 + dy
        return Crop(cx - width / 2, cy - height / 2, width, height, self.angle)

    def corners(self) -> list[Point]:
        """Return the corners, clockwise from what is the top left of the piece."""
        return corners_of(self.matrix((1, 1)), 1, 1)


def face_of(size: Size, output: Pixels) -> Pixels:
    """Return the proportions of output pixels as they will be seen, on dots that may be oblong.

    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> face_of(read_size("384x160px dot 1:2"), (384, 160))
    (384, 320)
    """
    return output[0] * size.dot.numerator, output[1] * size.dot.denominator
