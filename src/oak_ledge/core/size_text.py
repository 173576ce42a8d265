"""Text ↔ Size ↔ the sentence shown (rules, section 2).

Read now: exact sizes (`8x10in@300`, `8 1/2 x 11 in @ 300`, `20×30 cm@118.11px/cm`,
`1200x1600px`) and percentages (`100%`), each with `suit` or `fixed` behind it.
"""

from __future__ import annotations

import re
from fractions import Fraction

from oak_ledge.core.errors import SizeError, SizeTextError
from oak_ledge.core.sizes import (
    ExactShape,
    PercentShape,
    Size,
    Turn,
    natural_turn,
    written_pixels,
)
from oak_ledge.core.units import CM_PER_INCH, Unit, plain

HOW = "Write it like 8x10in@300, 20x30cm@300, 1200x1600px or 100%."
_NUMBER = re.compile(r"(?:(\d+)\s+)?(\d+)\s*/\s*(\d+)|(\d+)(?:[.,](\d+))?|[.,](\d+)")
_UNITS: dict[str, Unit] = {
    "in": "in", "inch": "in", "inches": "in", '"': "in", "″": "in", "”": "in",
    "cm": "cm", "mm": "mm", "px": "px",
}  # fmt: skip
_UNIT = re.compile(r"(inches|inch|in|cm|mm|px)(?![a-wyz])|[\"″”]", re.IGNORECASE)
_OTHER_WORD = re.compile(r"(?!x\b|x[\d\s.,]|suit\b|fixed\b)[^\W\d_]+", re.IGNORECASE)
_TIMES = re.compile(r"[x×*]", re.IGNORECASE)


class _Reader:
    """Walks a text from the left and knows where it stands."""

    def __init__(self, text: str) -> None:
        self.text, self.at = text, 0

    def fail(self, why: str, how: str = HOW) -> SizeTextError:
        return SizeTextError(self.text, self.at, why, how)

    def skip(self) -> None:
        while self.at < len(self.text) and self.text[self.at].isspace():
            self.at += 1

    def take(self, pattern: re.Pattern[str]) -> re.Match[str] | None:
        self.skip()
        match = pattern.match(self.text, self.at)
        if match:
            self.at = match.end()
        return match

    def rest(self) -> str:
        return self.text[self.at :].strip()

    def number(self, what: str) -> Fraction:
        start = self.at
        match = self.take(_NUMBER)
        if match is None:
            found = self.rest()
            raise self.fail(
                f"{what} is missing" + (f" before “{found}”" if found else " at the end")
            )
        if len(match[0]) > 30:
            self.at = start
            msg = f"{what} has too many digits"
            raise self.fail(msg)
        whole, over, under, integer, decimals, bare = match.groups()
        if over is not None:
            if int(under) == 0:
                self.at = start
                msg = f"{what} divides by zero"
                raise self.fail(msg)
            value = int(whole or 0) + Fraction(int(over), int(under))
        else:
            value = Fraction(f"{integer or 0}.{decimals or bare or 0}")
        if value == 0:
            self.at = start
            msg = f"{what} must be greater than 0"
            raise self.fail(msg)
        return value

    def unit(self) -> Unit | None:
        match = self.take(_UNIT)
        if match is not None:
            return _UNITS[match[0].lower()]
        if _OTHER_WORD.match(self.text, self.at):
            msg = f"“{self.rest()}” is not understood; units are in, cm, mm and px"
            raise self.fail(msg)
        return None


def read_size(text: str) -> Size:
    """Read a text as a size.

    Raises
    ------
    SizeTextError
        With the place where reading stopped, why, and how to write it.

    Examples
    --------
    >>> written_pixels(read_size("8 1/2 x 11 in @ 300"))
    (2550, 3300)
    """
    reader = _Reader(text)
    if len(text) > 200:
        msg = "it is too long"
        raise reader.fail(msg)
    if not text.strip():
        msg = "there is nothing to read"
        raise reader.fail(msg)
    first = reader.number("the width")
    if reader.take(re.compile("%")):
        shape: ExactShape | PercentShape = PercentShape(percent=first)
        ppi = _resolution(reader)
    else:
        shape = _exact_shape(reader, first)
        ppi = _resolution(reader)
        if ppi is None and shape.unit != "px":
            reader.at = len(text.rstrip())
            edges = f"{plain(shape.width)}x{plain(shape.height)}{shape.unit}"
            msg = "a printed size needs its resolution"
            raise reader.fail(msg, f"Write it behind an @, like {edges}@300.")
    turn = _turn(reader) or natural_turn(shape)
    if reader.rest():
        msg = f"“{reader.rest()}” is left over"
        raise reader.fail(msg)
    try:
        return Size(shape=shape, ppi=ppi, turn=turn)
    except ValueError as exc:
        reader.at = 0
        raise reader.fail(_why(exc)) from exc


def _exact_shape(reader: _Reader, width: Fraction) -> ExactShape:
    before = reader.unit()
    if not reader.take(_TIMES):
        found = reader.rest()
        raise reader.fail(
            f"“{found}” stands where × and the height should" if found else "the height is missing"
        )
    height = reader.number("the height")
    at = reader.at
    after = reader.unit() or before
    if after is None:
        reader.at = at
        msg = "the unit is missing"
        raise reader.fail(
            msg,
            f"Say in, cm, mm or px: {plain(width)}x{plain(height)}in@300 is a print, "
            f"{plain(width)}x{plain(height)}px is that many pixels.",
        )
    if before is not None and before != after:
        reader.at = at
        msg = f"width in {before} and height in {after} cannot be mixed"
        raise reader.fail(msg)
    return ExactShape(width=width, height=height, unit=after)


def _resolution(reader: _Reader) -> Fraction | None:
    if not reader.take(re.compile("@")):
        return None
    value = reader.number("the resolution")
    if reader.take(re.compile(r"px\s*/\s*cm", re.IGNORECASE)):
        return value * CM_PER_INCH
    reader.take(re.compile("ppi", re.IGNORECASE))
    return value


def _turn(reader: _Reader) -> Turn | None:
    match = reader.take(re.compile(r"(suit|fixed)\b", re.IGNORECASE))
    if match is None:
        return None
    return "suit" if match[1].lower() == "suit" else "fixed"


def _why(exc: ValueError) -> str:
    """Take the sentence out of a validation error."""
    cause = exc.errors()[0].get("ctx", {}).get("error") if hasattr(exc, "errors") else exc
    return str(cause or exc)


def write_size(size: Size) -> str:
    """Write shape, unit, resolution and turn of a size so that reading gives them back.

    >>> write_size(read_size("8 1/2 x 11 in @ 300"))
    '8.5x11in@300'
    """
    shape = size.shape
    if isinstance(shape, PercentShape):
        text = f"{plain(shape.percent)}%"
    else:
        text = f"{plain(shape.width)}x{plain(shape.height)}{shape.unit}"
    if size.ppi is not None:
        text += f"@{plain(size.ppi)}"
    return text if size.turn == natural_turn(shape) else f"{text} {size.turn}"


def shape_label(size: Size) -> str:
    """Write what a size measures, for labels: `8 × 10 in`, `1200 × 1600 px`, `100 %`."""
    shape = size.shape
    if isinstance(shape, PercentShape):
        return f"{plain(shape.percent)} %"
    return f"{plain(shape.width)} × {plain(shape.height)} {shape.unit}"


def say_size(size: Size) -> str:
    """Say a size as a plain sentence: shape, resolution, pixels and turn, each apart.

    >>> say_size(read_size("8x10in@300"))
    '8 × 10 in at 300 ppi: 2400 × 3000 px, turned to suit each photo.'
    """
    shape = size.shape
    resolution = "" if size.ppi is None else f" at {plain(size.ppi)} ppi"
    if isinstance(shape, PercentShape):
        if shape.percent == 100 and size.ppi is None:
            return "A free crop with its pixels as they are; no resolution is written."
        pixels = f"{plain(shape.percent)} % of a free crop's pixels"
        return f"{pixels}{resolution or '; no resolution is written'}."
    out = written_pixels(size)
    if out is None:  # an exact shape always fixes its pixels
        msg = f"{shape_label(size)} has no pixels"
        raise SizeError(msg)
    turn = "as written" if size.turn == "fixed" else "turned to suit each photo"
    if shape.unit == "px":
        resolution = resolution or "; no resolution is written"
        return f"{out[0]} × {out[1]} px{resolution}, {turn}."
    return f"{shape_label(size)}{resolution}: {out[0]} × {out[1]} px, {turn}."
