"""Aspect ratios, named as people do."""

from __future__ import annotations

from fractions import Fraction

from oak_ledge.core.measures.numbers import rounded


def shape_words(width: int, height: int) -> str:
    """Name an aspect ratio as people do: 3:2, 16:9, else to 1.

    >>> shape_words(6000, 4000), shape_words(3601, 2400), shape_words(384, 160)
    ('3:2', 'about 3:2', '12:5')
    """
    ratio = Fraction(width, height)
    if max(ratio.numerator, ratio.denominator) <= 20:
        return f"{ratio.numerator}:{ratio.denominator}"
    near = ratio.limit_denominator(16)
    if max(near.numerator, near.denominator) <= 20 and abs(float(near / ratio) - 1) < 0.002:
        return f"about {near.numerator}:{near.denominator}"
    return f"{rounded(float(ratio), 2)}:1" if ratio >= 1 else f"1:{rounded(float(1 / ratio), 2)}"
