"""Common shapes laid over a photo, to see what each would lose."""

from __future__ import annotations

from fractions import Fraction

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.placements.fit import largest_width

COMMON: tuple[tuple[str, Fraction], ...] = (
    ("1:1", Fraction(1)), ("5:4", Fraction(5, 4)), ("4:3", Fraction(4, 3)), ("3:2", Fraction(3, 2)),
    ("16:9", Fraction(16, 9)),
)  # fmt: skip


def around(crop: Crop, ratio: Fraction, extent: Pixels) -> Crop:
    """Return the largest upright crop of a ratio, turned as the photo, as near as can be to another."""
    wide = extent[0] >= extent[1]
    across, along = (
        (ratio.numerator, ratio.denominator) if wide else (ratio.denominator, ratio.numerator)
    )
    width = largest_width(extent, (across, along))
    height = width * along / across
    middle_x, middle_y = crop.left + crop.width / 2, crop.top + crop.height / 2
    left = min(max(0.0, middle_x - width / 2), extent[0] - width)
    top = min(max(0.0, middle_y - height / 2), extent[1] - height)
    return Crop(left, top, width, height)
