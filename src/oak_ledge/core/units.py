"""Lengths, resolutions and whole pixels, exact until the one rounding (rules, section 1)."""

from __future__ import annotations

from fractions import Fraction
from math import floor
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, PlainSerializer, WithJsonSchema

from oak_ledge.core.errors import SizeError

Unit = Literal["in", "cm", "mm", "px"]
Pixels = tuple[int, int]
"""Width and height in whole pixels."""

MM_PER_INCH = Fraction(254, 10)  # exact by definition: international yard and pound agreement, 1959
CM_PER_INCH = MM_PER_INCH / 10
PER_INCH: dict[Unit, Fraction] = {"in": Fraction(1), "cm": CM_PER_INCH, "mm": MM_PER_INCH}


def _exact(value: Any) -> Fraction:
    """Refuse floats: 0.1 as a float is not one tenth."""
    if isinstance(value, bool | float):
        msg = f"{value} must be given as text or a whole number, so that it stays exact"
        raise ValueError(msg)
    try:
        return Fraction(value)
    except ZeroDivisionError as exc:
        msg = f"{value} divides by zero"
        raise ValueError(msg) from exc


Exact = Annotated[
    Fraction,
    BeforeValidator(_exact),
    PlainSerializer(str),
    WithJsonSchema({"type": "string", "description": "an exact number as text: 21/2, 29.7"}),
]
"""A `Fraction` that travels and rests as text."""


def halves_up(value: Fraction | float) -> int:
    """Round to the nearest whole number, halves up: the one rounding of this program.

    >>> halves_up(Fraction(5, 2)), halves_up(2.4), halves_up(Fraction(-1, 2))
    (3, 2, 0)
    """
    return floor(value + Fraction(1, 2)) if isinstance(value, Fraction) else floor(value + 0.5)


def in_inches(amount: Fraction, unit: Unit) -> Fraction:
    """Give a length in inches.

    Raises
    ------
    SizeError
        If the unit is pixels, which have no length.

    Examples
    --------
    >>> in_inches(Fraction(254), "mm")
    Fraction(10, 1)
    """
    if unit == "px":
        msg = "pixels have no length until a resolution is given"
        raise SizeError(msg)
    return amount / PER_INCH[unit]


def pixels_for(length: Fraction, ppi: Fraction) -> int:
    """Give the whole pixels nearest to a length in inches at a resolution in ppi, at least 1.

    Raises
    ------
    SizeError
        If the length or the resolution is not above 0.

    Examples
    --------
    >>> pixels_for(in_inches(Fraction(21), "cm"), Fraction(300))
    2480
    """
    if length <= 0:
        msg = f"length={plain(length)} in must be greater than 0"
        raise SizeError(msg)
    if ppi <= 0:
        msg = f"resolution={plain(ppi)} ppi must be greater than 0"
        raise SizeError(msg)
    return max(1, halves_up(length * ppi))


def plain(value: Fraction) -> str:
    """Write an exact number as people do: a decimal where it ends, else whole and fraction.

    Reading the text back gives the same number.

    >>> plain(Fraction(297, 10)), plain(Fraction(25, 3)), plain(Fraction(1, 3))
    ('29.7', '8 1/3', '1/3')
    """
    rest = value.denominator
    places = 0
    for factor in (2, 5):
        power = 0
        while rest % factor == 0:
            rest //= factor
            power += 1
        places = max(places, power)
    if rest == 1 and places <= 9:
        digits = f"{abs(value.numerator) * 10**places // value.denominator:0{places + 1}d}"
        sign = "-" if value < 0 else ""
        return sign + (f"{digits[:-places]}.{digits[-places:]}" if places else digits)
    whole, part = divmod(value, 1)
    return f"{whole} {part}" if whole else str(part)


def rounded(value: float, places: int = 1) -> str:
    """Write a measured figure to at most some decimal places, without trailing noughts.

    >>> rounded(12.04), rounded(0.6263, 3), rounded(300.0)
    ('12', '0.626', '300')
    """
    text = f"{value:.{places}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return "0" if text == "-0" else text


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
