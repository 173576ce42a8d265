"""What a size asks of a head: how tall it is, and how high its eyes lie (rules, section 6, "Head")."""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Annotated, Any, Self

from pydantic import BeforeValidator, model_validator

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import ExactMeasure, Measure, read_measure
from oak_ledge.core.measures.numbers import NUMBER, Exact, decimal, exact_number, plain
from oak_ledge.core.values import Value

# A single value may be missed by this share of it before a note says so.
SINGLE_ROUGHLY = Fraction(3, 100)

# Beyond a range by this share of its middle a piece stops.
STOPS_BEYOND = Fraction(1, 10)

# Letters.
LONGEST = 80

_RANGE = re.compile(
    rf"(?i)\s*(?P<low>{NUMBER.pattern})\s*(?P<unit>inches|inch|in|cm|mm|pixels|pixel|px|[\"″”%])?"
    rf"(?:\s*(?:-|–|to)\s*(?P<high>{NUMBER.pattern})\s*(?P<unit2>inches|inch|in|cm|mm|pixels|pixel|px|[\"″”%])?)?(?!\w)\s*"
)


def range_here(text: str, at: int = 0) -> re.Match[str] | None:
    """Match one value with its unit, or two: `34mm`, `32-36mm`, `55%`, `50-60%`."""
    return _RANGE.match(text, at)


def _parts(text: object, example: str) -> tuple[str, str, str]:
    """Return low, high and unit as text."""
    match = _RANGE.fullmatch(text) if isinstance(text, str) and len(text) <= LONGEST else None
    if match is not None:
        unit = match["unit2"] or match["unit"]
        both = (
            not (match["unit"] and match["unit2"])
            or match["unit"].lower() == match["unit2"].lower()
        )
        if unit and both:
            return match["low"], match["high"] or match["low"], unit
    msg = f"write it with its unit, like {example}"
    raise SizeError(msg)


class HeadAsked(Value):
    """How tall a head shall be, from chin to crown: one length, or from `low` to `high`."""

    low: ExactMeasure
    high: ExactMeasure

    @model_validator(mode="after")
    def _is_a_range(self) -> Self:
        if self.low.unit != self.high.unit or not 0 < self.low.amount <= self.high.amount:
            msg = f"a head of {self.low} to {self.high} is no range: write it like 34mm or 32-36mm"
            raise SizeError(msg)
        return self

    @property
    def middle(self) -> Measure:
        """What a first suggestion makes it."""
        return Measure((self.low.amount + self.high.amount) / 2, self.low.unit)

    @property
    def text(self) -> str:
        """How it is written behind a size: `head 34mm`, `head 32-36mm`."""
        if self.low == self.high:
            return f"head {self.low}"
        return f"head {plain(self.low.amount)}-{self.high}"

    @property
    def words(self) -> str:
        """The range alone, as a sentence says it: `32 to 36 mm`."""
        unit = self.low.unit
        if self.low == self.high:
            return f"{decimal(self.low.amount)} {unit}"
        return f"{decimal(self.low.amount)} to {decimal(self.high.amount)} {unit}"

    def allowed(self) -> tuple[float, float]:
        """Return between which amounts, in its own unit, no note is due."""
        return _roughly(self.low.amount, self.high.amount)

    def halting(self) -> tuple[float, float]:
        """Return outside which amounts, in its own unit, a piece stops."""
        return _halting(self.low.amount, self.high.amount)


class EyesAsked(Value):
    """How high the eyes shall lie above the piece's foot, in per cent of its height."""

    low: Exact
    high: Exact

    @model_validator(mode="after")
    def _is_a_range(self) -> Self:
        if not 0 < self.low <= self.high < 100:
            msg = f"eyes at {decimal(self.low)} to {decimal(self.high)} % are no range of a height: write it like 55% or 50-60%"
            raise SizeError(msg)
        return self

    @property
    def middle(self) -> Fraction:
        """What a first suggestion makes it, in per cent."""
        return (self.low + self.high) / 2

    @property
    def text(self) -> str:
        """How it is written behind a size: `eyes 55%`, `eyes 50-60%`."""
        low = "" if self.low == self.high else f"{plain(self.low)}-"
        return f"eyes {low}{plain(self.high)}%"

    @property
    def words(self) -> str:
        """The range alone, as a sentence says it: `50 to 60 %`."""
        low = "" if self.low == self.high else f"{decimal(self.low)} to "
        return f"{low}{decimal(self.high)} %"

    def allowed(self) -> tuple[float, float]:
        """Return between which per cents no note is due."""
        return _roughly(self.low, self.high)

    def halting(self) -> tuple[float, float]:
        """Return outside which per cents a piece stops."""
        return _halting(self.low, self.high)


def _roughly(low: Fraction, high: Fraction) -> tuple[float, float]:
    if low == high:
        return float(low * (1 - SINGLE_ROUGHLY)), float(high * (1 + SINGLE_ROUGHLY))
    return float(low), float(high)


def _halting(low: Fraction, high: Fraction) -> tuple[float, float]:
    least, most = _roughly(low, high)
    beyond = float((low + high) / 2 * STOPS_BEYOND)
    return least - beyond, most + beyond


def _head_from_text(value: Any) -> Any:
    if not isinstance(value, str):
        return value
    low, high, unit = _parts(value, "34mm or 32-36mm")
    return {"low": read_measure(f"{low}{unit}"), "high": read_measure(f"{high}{unit}")}


def _eyes_from_text(value: Any) -> Any:
    if not isinstance(value, str):
        return value
    low, high, unit = _parts(value, "55% or 50-60%")
    if unit != "%":
        msg = "the height of the eyes is per cent of the piece's height, like 55% or 50-60%"
        raise SizeError(msg)
    return {"low": _number(low), "high": _number(high)}


def _number(text: str) -> Fraction:
    match = NUMBER.fullmatch(text)
    assert match is not None  # it was matched as one
    try:
        return exact_number(match.groups())
    except ZeroDivisionError as exc:
        msg = f"{text} divides by zero"
        raise SizeError(msg) from exc


# Asked as text: `32-36mm`, `50-60%`; or as their two ends.
AskedHead = Annotated[HeadAsked, BeforeValidator(_head_from_text)]
AskedEyes = Annotated[EyesAsked, BeforeValidator(_eyes_from_text)]
