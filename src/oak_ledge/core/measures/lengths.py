"""Lengths and their units, exact; how many pixels they are at a resolution (rules, section 1)."""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction
from typing import Annotated, Any, Literal

from pydantic import PlainSerializer, PlainValidator, WithJsonSchema
from typing_extensions import override

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.numbers import NUMBER, clipped, decimal, exact_number, halves_up, plain

Unit = Literal["in", "cm", "mm", "px"]


LengthUnit = Literal["in", "cm", "mm"]


# Width and height in whole pixels.
Pixels = tuple[int, int]


# Exact by definition: international yard and pound agreement, 1959.
MM_PER_INCH = Fraction(254, 10)


CM_PER_INCH = MM_PER_INCH / 10


PER_INCH: dict[Unit, Fraction] = {"in": Fraction(1), "cm": CM_PER_INCH, "mm": MM_PER_INCH}


UNIT_WORDS: dict[str, Unit] = {
    "in": "in", "inch": "in", "inches": "in", '"': "in", "″": "in", "”": "in",
    "cm": "cm", "mm": "mm", "px": "px", "pixels": "px", "pixel": "px",
    "centimetres": "cm", "centimeters": "cm", "millimetres": "mm", "millimeters": "mm",
}  # fmt: skip


# As text: most calls read neither, and to compile them takes its time
_LENGTH = rf"(?i)\s*({NUMBER.pattern})\s*(inches|inch|in|cm|mm|[\"″”])\s*"


# A length or pixels, with the unit.
MEASURE = rf"(?i)\s*({NUMBER.pattern})\s*(inches|inch|in|cm|mm|pixels|pixel|px|[\"″”])(?!\w)\s*"


_BOX = (
    rf"(?i)\s*({NUMBER.pattern})\s*(inches|inch|in|cm|mm|[\"″”])?\s*[x×*]"
    rf"\s*({NUMBER.pattern})\s*(inches|inch|in|cm|mm|[\"″”])\s*"
)


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
class Measure:
    """A length, or whole pixels on a size that is measured in them; as text: `5cm`, `40px`."""

    amount: Fraction
    unit: Unit

    def inches(self, ppi: Fraction | None) -> Fraction:
        """Return it in inches; pixels by their resolution, and as nothing without one."""
        if self.unit == "px":
            return self.amount / ppi if ppi else Fraction(0)
        return in_inches(self.amount, self.unit)

    def pixels(self, ppi: Fraction | None) -> int:
        """Return it in whole pixels, by rule 1; nothing stays nothing."""
        if self.unit == "px" or ppi is None:
            return halves_up(self.amount)
        return halves_up(in_inches(self.amount, self.unit) * ppi)

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
    match = re.fullmatch(_LENGTH, value) if isinstance(value, str) else None
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
    match = re.fullmatch(_BOX, value) if isinstance(value, str) else None
    try:
        if match is not None and match[8] in (None, match[16]):
            groups = match.groups()
            width, height = exact_number(groups[1:7]), exact_number(groups[9:15])
            if width > 0 and height > 0:
                return Box(width, height, _length_unit(match[16]))
    except ZeroDivisionError:
        pass
    msg = f"“{clipped(value)}” is not a width and a height. Write them like 20x25cm or 8x10in"
    raise SizeError(msg)


def read_measure(value: Any) -> Measure:
    """Read a length or whole pixels, with its unit.

    Raises
    ------
    SizeError
        With how to write it.

    Examples
    --------
    >>> str(read_measure("1/4 inch")), str(read_measure("40 pixels"))
    ('0.25in', '40px')
    """
    if isinstance(value, Measure):
        return value
    match = re.fullmatch(MEASURE, value) if isinstance(value, str) else None
    try:
        if match is not None:
            amount, unit = exact_number(match.groups()[1:7]), UNIT_WORDS[match[8].lower()]
            if unit != "px" or amount.denominator == 1:
                return Measure(amount, unit)
    except ZeroDivisionError:
        pass
    msg = f"“{clipped(value)}” is not a length. Write it with its unit, like 3mm, 1/4in or 40px"
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


ExactMeasure = Annotated[
    Measure,
    PlainValidator(read_measure),
    PlainSerializer(str),
    _as_text("a length or pixels", "5cm"),
]


ExactBox = Annotated[
    Box, PlainValidator(read_box), PlainSerializer(str), _as_text("width and height", "20x25cm")
]


def in_inches(amount: Fraction, unit: Unit) -> Fraction:
    """Return a length in inches.

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
    """Return the whole pixels nearest to a length in inches at a resolution in ppi, at least 1.

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
        msg = f"length={decimal(length)} in must be greater than 0"
        raise SizeError(msg)
    if ppi <= 0:
        msg = f"resolution={decimal(ppi)} ppi must be greater than 0"
        raise SizeError(msg)
    return max(1, halves_up(length * ppi))


def length_words(length: Length | Measure) -> str:
    """Write a length with a blank before its unit."""
    return f"{decimal(length.amount)} {length.unit}"
