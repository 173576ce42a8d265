"""Exact numbers, read as people write them, rounded once, written as people do (rules, section 1)."""

from __future__ import annotations

import re
from decimal import ROUND_HALF_UP, Decimal
from fractions import Fraction
from functools import lru_cache
from math import floor
from typing import Annotated, Any

from pydantic import BeforeValidator, PlainSerializer, WithJsonSchema

# Of either half of an exact number: far more than any length or ratio comes to.
MOST_DIGITS = 60


def read_number(value: Any) -> Fraction:
    """Read an exact number: as people write it, or whole, or as a ratio of whole numbers.

    Floats are refused, as 0.1 is not one tenth as a float; so are powers of ten and numbers of more
    than `MOST_DIGITS`, which would take for ever.

    Raises
    ------
    ValueError
        With how to write it.

    Examples
    --------
    >>> read_number("8 1/2"), read_number("254/5"), read_number(300)
    (Fraction(17, 2), Fraction(254, 5), Fraction(300, 1))
    """
    if isinstance(value, bool | float):
        msg = f"{value} must be given as text or a whole number, so that it stays exact"
        raise ValueError(msg)
    try:
        number = _number(value)
    except ZeroDivisionError as exc:
        msg = f"{clipped(value)} divides by zero"
        raise ValueError(msg) from exc
    if number is None:
        msg = f"“{clipped(value)}” is not a number. Write it like 300, 21.5 or 8 1/2"
        raise ValueError(msg)
    if max(abs(number.numerator), number.denominator) >= 10**MOST_DIGITS:
        msg = f"a number of more than {MOST_DIGITS} digits is too long"
        raise ValueError(msg)
    return number


def _number(value: Any) -> Fraction | None:
    if isinstance(value, int | Fraction):
        return Fraction(value)
    if not isinstance(value, str) or len(value) > 3 * MOST_DIGITS:
        return None
    text = value.strip()
    if match := NUMBER.fullmatch(text):
        return exact_number(match.groups())
    if match := _RATIO.fullmatch(text):
        return Fraction(int(match[1]), int(match[2] or 1))
    return None


def clipped(value: Any) -> str:
    """Shorten a text that is shown again to whoever wrote it.

    >>> clipped("8x10"), clipped("9" * 100)[-9:]
    ('8x10', '99999999…')
    """
    text = value if isinstance(value, str) else str(type(value).__name__)
    text = text if len(text) <= 60 else f"{text[:59]}…"
    return text.encode(errors="replace").decode()


# A `Fraction` that travels and rests as text.
Exact = Annotated[
    Fraction,
    BeforeValidator(read_number),
    PlainSerializer(str),
    WithJsonSchema({"type": "string", "description": "an exact number as text: 21/2, 29.7"}),
]


# A number as people write it: `8`, `8.5`, `8,5`, `1/2`, `8 1/2`; its parts as groups.
NUMBER = re.compile(
    r"(?:(\d{1,12})\s+)?(\d{1,12})\s*/\s*(\d{1,12})|(\d{1,12})(?:[.,](\d{1,12}))?|[.,](\d{1,12})"
)


_RATIO = re.compile(rf"(-?\d{{1,{MOST_DIGITS}}})(?:/(\d{{1,{MOST_DIGITS}}}))?")


def exact_number(groups: tuple[str | None, ...]) -> Fraction:
    """Return the number that the groups of `NUMBER` hold.

    Raises
    ------
    ZeroDivisionError
        If a fraction divides by zero.
    """
    whole, over, under, integer, decimals, bare = groups
    if over is not None and under is not None:
        return int(whole or 0) + Fraction(int(over), int(under))
    return Fraction(f"{integer or 0}.{decimals or bare or 0}")


def halves_up(value: Fraction | float) -> int:
    """Round to the nearest whole number, halves up: the one rounding of this program.

    >>> halves_up(Fraction(5, 2)), halves_up(2.4), halves_up(Fraction(-1, 2))
    (3, 2, 0)
    """
    return floor(value + Fraction(1, 2)) if isinstance(value, Fraction) else floor(value + 0.5)


@lru_cache(maxsize=4096)  # a job says the same lengths of each of its photos
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


def decimal(value: Fraction) -> str:
    """Write an exact number for a screen: as a decimal, to two places where it does not end.

    >>> decimal(Fraction(297, 10)), decimal(Fraction(1136, 3)), decimal(Fraction(1, 300))
    ('29.7', '378.67', '0.0033')
    """
    exact = plain(value)
    if "/" not in exact:
        return exact
    return rounded(float(value), 2 if abs(value) >= Fraction(1, 10) else 4)


def rounded(value: float, places: int = 1) -> str:
    """Write a measured figure to at most some decimal places, without trailing noughts.

    >>> rounded(12.04), rounded(0.6263, 3), rounded(300.0), rounded(112.5, 0)
    ('12', '0.626', '300', '113')
    """
    # halves up on the exact value, as JavaScript's toFixed (ECMA-262, 21.1.3.3)
    if abs(value) < 1e15:  # beyond, a float has no places
        text = f"{Decimal(value).quantize(Decimal(1).scaleb(-places), ROUND_HALF_UP):f}"
    else:
        text = f"{value:.{places}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return "0" if text == "-0" else text


def scale_words(scale: float) -> str:
    """Write a scale as it is written everywhere: `×1.11`, below a tenth `×0.083`.

    >>> scale_words(10 / 9), scale_words(1 / 12)
    ('×1.11', '×0.083')
    """
    return f"×{rounded(scale, 2 if scale >= 0.1 else 3)}"
