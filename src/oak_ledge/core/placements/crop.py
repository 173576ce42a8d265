"""A placement's crop, its proportions, and the output it makes.

Photo coordinates, as held: origin at the outer top-left corner, x right, y down, in photo
pixels; pixel i covers [i, i+1].
"""

from __future__ import annotations

from dataclasses import dataclass

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.planes.matrices import Matrix, corners_of, crop_matrix
from oak_ledge.core.planes.points import Point, turned
from oak_ledge.core.sizes.pixels import turned_pixels
from oak_ledge.core.sizes.size import Size, written_pixels

Proportions = tuple[float, float]
"""Across and along of a crop, in any measure."""


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

    def matrix(self, asked: Pixels) -> Matrix:
        """Map output points [0, W] × [0, H] onto the crop."""
        return crop_matrix(*self.box, self.angle, asked)

    def part(self, u: float, v: float, wide: float, high: float) -> Crop:
        """Give the part of the crop from shares u, v on, `wide` and `high` shares large."""
        width, height = wide * self.width, high * self.height
        dx, dy = turned(
            (u + wide / 2 - 0.5) * self.width, (v + high / 2 - 0.5) * self.height, self.angle
        )
        cx, cy = self.left + self.width / 2 + dx, self.top + self.height / 2 + dy
        return Crop(cx - width / 2, cy - height / 2, width, height, self.angle)

    def corners(self) -> list[Point]:
        """Give the corners, clockwise from what is the top left of the piece."""
        return corners_of(self.matrix((1, 1)), 1, 1)


def asked_pixels(size: Size, held: Pixels, placement: Placement) -> Pixels:
    """Give the exact output pixels W × H that a placement will make."""
    written = written_pixels(size)
    if written is not None:
        return turned_pixels(written, size.turn, held, placement.turned)
    if placement.free is None:
        msg = "a placement on a free size must carry its output pixels"
        raise PlacementError(msg)
    return placement.free


def crop_of(size: Size, held: Pixels, placement: Placement) -> Crop:
    """Give a placement's crop as a rectangle in photo pixels."""
    across, along = proportions(size, held, placement)
    height = placement.width * along / across
    left = placement.cx - placement.width / 2
    top = placement.cy - height / 2
    return Crop(left, top, placement.width, height, placement.angle)


def proportions(size: Size, held: Pixels, placement: Placement) -> Proportions:
    """Give a crop's proportions: those of the output on its dots, less what is stretched."""
    across, along = face_of(size, asked_pixels(size, held, placement))
    return across, along if placement.stretch == 1 else along * placement.stretch


def face_of(size: Size, asked: Pixels) -> Pixels:
    """Give the proportions of output pixels as they will be seen, on dots that may be oblong.

    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> face_of(read_size("384x160px dot 1:2"), (384, 160))
    (384, 320)
    """
    return asked[0] * size.dot.numerator, asked[1] * size.dot.denominator
