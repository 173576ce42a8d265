"""Common shapes laid over a crop, to see what each would lose, and which frames they belong to."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.placements.fit import largest_width


@dataclass(frozen=True)
class CommonRatio:
    """A ratio the trade uses, wide, and the frames and papers that have it."""

    name: str
    ratio: Fraction
    frames: str


COMMON = (
    CommonRatio("1:1", Fraction(1), "square frames"),
    CommonRatio("5:4", Fraction(5, 4), "8 × 10, 16 × 20 in"),
    CommonRatio("4:3", Fraction(4, 3), "18 × 24 in, 30 × 40 cm"),
    CommonRatio("7:5", Fraction(7, 5), "5 × 7 in"),
    CommonRatio("3:2", Fraction(3, 2), "4 × 6, 20 × 30 in"),
    CommonRatio("16:9", Fraction(16, 9), "screens"),
)


def within(crop: Crop, ratio: Fraction) -> Crop:
    """Return the largest part of a crop that has a ratio, about its middle and turned with it.

    >>> from fractions import Fraction
    >>> within(Crop(0, 0, 300, 200, 5), Fraction(1))
    Crop(left=50.0, top=0.0, width=200.0, height=200.0, angle=5)
    """
    wide = crop.width >= crop.height
    across, along = (
        (ratio.numerator, ratio.denominator) if wide else (ratio.denominator, ratio.numerator)
    )
    width = largest_width((crop.width, crop.height), (across, along))
    height = width * along / across
    left, top = crop.left + (crop.width - width) / 2, crop.top + (crop.height - height) / 2
    return Crop(left, top, width, height, crop.angle)
