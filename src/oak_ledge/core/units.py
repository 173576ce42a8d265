"""Lengths, resolutions and whole pixels, exact until the one rounding (rules, section 1)."""

from __future__ import annotations

import re
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from fractions import Fraction
from math import floor
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, PlainSerializer, PlainValidator, WithJsonSchema
from typing_extensions import override

from oak_ledge.core.errors import SizeError

Unit = Literal["in", "cm", "mm", "px"]
LengthUnit = Literal["in", "cm", "mm"]
Pixels = tuple[int, int]
"""Width and height in whole pixels."""

MM_PER_INCH = Fraction(254, 10)  # exact by definition: international yard and pound agreement, 1959
CM_PER_INCH = MM_PER_INCH / 10
PER_INCH: dict[Unit, Fraction] = {"in": Fraction(1), "cm": CM_PER_INCH, "mm": MM_PER_INCH}


MOST_DIGITS = 60  # of either half of an exact number: far more than any length or ratio comes to


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
        found = _number(value)
    except ZeroDivisionError as exc:
        msg = f"{clipped(value)} divides by zero"
        raise ValueError(msg) from exc
    if found is None:
        msg = f"“{clipped(value)}” is not a number. Write it like 300, 21.5 or 8 1/2"
        raise ValueError(msg)
    if max(abs(found.numerator), found.denominator) >= 10**MOST_DIGITS:
        msg = f"a number of more than {MOST_DIGITS} digits is too long"
        raise ValueError(msg)
    return found


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
    """Give the beginning of a text that is told back to who wrote it.

    >>> clipped("8x10"), clipped("9" * 100)[-9:]
    ('8x10', '99999999…')
    """
    text = value if isinstance(value, str) else str(type(value).__name__)
    text = text if len(text) <= 60 else f"{text[:59]}…"
    return text.encode(errors="replace").decode()


Exact = Annotated[
    Fraction,
    BeforeValidator(read_number),
    PlainSerializer(str),
    WithJsonSchema({"type": "string", "description": "an exact number as text: 21/2, 29.7"}),
]
"""A `Fraction` that travels and rests as text."""


NUMBER = re.compile(
    r"(?:(\d{1,12})\s+)?(\d{1,12})\s*/\s*(\d{1,12})|(\d{1,12})(?:[.,](\d{1,12}))?|[.,](\d{1,12})"
)
"""A number as people write it: `8`, `8.5`, `8,5`, `1/2`, `8 1/2`; its parts as groups."""
_RATIO = re.compile(rf"(-?\d{{1,{MOST_DIGITS}}})(?:/(\d{{1,{MOST_DIGITS}}}))?")
UNIT_WORDS: dict[str, Unit] = {
    "in": "in", "inch": "in", "inches": "in", '"': "in", "″": "in", "”": "in",
    "cm": "cm", "mm": "mm", "px": "px",
}  # fmt: skip
_LENGTH = re.compile(rf"\s*({NUMBER.pattern})\s*(inches|inch|in|cm|mm|[\"″”])\s*", re.IGNORECASE)
_BOX = re.compile(
    rf"\s*({NUMBER.pattern})\s*(inches|inch|in|cm|mm|[\"″”])?\s*[x×*]"
    rf"\s*({NUMBER.pattern})\s*(inches|inch|in|cm|mm|[\"″”])\s*",
    re.IGNORECASE,
)


def exact_number(groups: tuple[str | None, ...]) -> Fraction:
    """Give the number that the groups of `NUMBER` hold.

    Raises
    ------
    ZeroDivisionError
        If a fraction divides by zero.
    """
    whole, over, under, integer, decimals, bare = groups
    if over is not None and under is not None:
        return int(whole or 0) + Fraction(int(over), int(under))
    return Fraction(f"{integer or 0}.{decimals or bare or 0}")


@dataclass(frozen=True)
class Length:
    """An exact length; travels and rests as text: `3mm`, `8.5in`."""

    amount: Fraction
    unit: LengthUnit

    @property
    def inches(self) -> Fraction:
        """The length in inches."""
        return in_inches(self.amount, self.unit)

    @override
    def __str__(self) -> str:
        return f"{plain(self.amount)}{self.unit}"


@dataclass(frozen=True)
class Box:
    """Width and height in one unit; travels and rests as text: `20x25cm`."""

    width: Fraction
    height: Fraction
    unit: LengthUnit

    @property
    def inches(self) -> tuple[Fraction, Fraction]:
        """Width and height in inches."""
        return in_inches(self.width, self.unit), in_inches(self.height, self.unit)

    @property
    def turned(self) -> Box:
        """The box with width and height traded."""
        return Box(self.height, self.width, self.unit)

    @override
    def __str__(self) -> str:
        return f"{plain(self.width)}x{plain(self.height)}{self.unit}"


def read_length(value: Any) -> Length:
    """Read a length with its unit.

    Raises
    ------
    SizeError
        With how to write it.

    Examples
    --------
    >>> str(read_length("1/4 inch")), str(read_length("3 mm"))
    ('0.25in', '3mm')
    """
    if isinstance(value, Length):
        return value
    match = _LENGTH.fullmatch(value) if isinstance(value, str) else None
    try:
        if match is not None:
            return Length(exact_number(match.groups()[1:7]), _length_unit(match[8]))
    except ZeroDivisionError:
        pass
    msg = f"“{clipped(value)}” is not a length. Write it with its unit, like 3mm or 1/4in"
    raise SizeError(msg)


def read_box(value: Any) -> Box:
    """Read a width and a height with their unit; both are above 0.

    Raises
    ------
    SizeError
        With how to write it.

    Examples
    --------
    >>> str(read_box("8 1/2 x 11 in"))
    '8.5x11in'
    """
    if isinstance(value, Box):
        return value
    match = _BOX.fullmatch(value) if isinstance(value, str) else None
    try:
        if match is not None and match[8] in (None, match[16]):
            found = match.groups()
            width, height = exact_number(found[1:7]), exact_number(found[9:15])
            if width > 0 and height > 0:
                return Box(width, height, _length_unit(match[16]))
    except ZeroDivisionError:
        pass
    msg = f"“{clipped(value)}” is not a width and a height. Write them like 20x25cm or 8x10in"
    raise SizeError(msg)


def _length_unit(word: str) -> LengthUnit:
    unit = UNIT_WORDS[word.lower()]
    assert unit != "px"  # the patterns know lengths only
    return unit


def _as_text(kind: str, example: str) -> Any:
    return WithJsonSchema({"type": "string", "description": f"{kind} as text: {example}"})


ExactLength = Annotated[
    Length, PlainValidator(read_length), PlainSerializer(str), _as_text("an exact length", "3mm")
]
ExactBox = Annotated[
    Box, PlainValidator(read_box), PlainSerializer(str), _as_text("width and height", "20x25cm")
]


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


def length_words(length: Length) -> str:
    """Write a length with a blank before its unit."""
    return f"{plain(length.amount)} {length.unit}"


def bytes_words(count: float) -> str:
    """Write bytes as people do, in thousands (SI, as disks count).

    >>> bytes_words(4_000_000), bytes_words(149_600), bytes_words(512)
    ('4 MB', '149.6 kB', '512 bytes')
    """
    for step, unit in ((1e9, "GB"), (1e6, "MB"), (1e3, "kB")):
        if count >= step:
            return f"{rounded(count / step, 1 if unit == 'kB' else 2)} {unit}"
    return f"{round(count)} bytes"


def read_bytes(text: str) -> int:
    """Read a limit of a file's bytes: `500kB`, `1.5 MB`, `4000000`; thousands, not 1024.

    Raises
    ------
    SizeError
        With how to write it.

    Examples
    --------
    >>> read_bytes("500kB"), read_bytes("1,5 MB")
    (500000, 1500000)
    """
    match = re.fullmatch(r"\s*(\d{1,12})(?:[.,](\d{1,9}))?\s*(k|m|g)?(?:b|bytes)?\s*", text.lower())
    step = {None: 1, "k": 1000, "m": 1_000_000, "g": 10**9}[match[3]] if match else 0
    count = int(Fraction(f"{match[1]}.{match[2] or 0}") * step) if match else 0
    if count < 1:
        msg = f"“{clipped(text)}” is no limit for a file. Write it like 500kB or 4MB"
        raise SizeError(msg)
    return count


def _limit(value: Any) -> Any:
    return read_bytes(value) if isinstance(value, str) else value


ByteLimit = Annotated[int, BeforeValidator(_limit), Field(ge=1, le=10**15)]
"""A count of bytes that may be written as text: 4MB."""


def limit_words(count: int) -> str:
    """Write a limit of bytes exactly, in the largest unit that takes at most three decimals.

    >>> limit_words(1_500_000), limit_words(149_600), limit_words(1_234_567)
    ('1.5 MB', '149.6 kB', '1234.567 kB')
    """
    for step, unit in ((10**9, "GB"), (10**6, "MB"), (10**3, "kB")):
        if count >= step and count * 1000 % step == 0:
            return f"{plain(Fraction(count, step))} {unit}"
    return f"{count} bytes"


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
