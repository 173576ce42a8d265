"""Text ↔ Size ↔ the sentence shown (rules, section 2).

| shape | read |
|---|---|
| exact | `8x10in@300`, `8 1/2 x 11 in @ 300`, `20×30 cm@118.11px/cm`, `1200x1600px` |
| one edge | `long 12in@220`, `short 2000px`, `width 18cm@300`, `height 900px` |
| ratio | `3:1`, `16:9`, `1.85:1` |
| percent | `40%`, `100%` |
| within | `within 2048x2048px` |
| window | `window 2560x1440px` |
| own shape | `photo` |

Each may have a resolution behind an @, and `suit` or `fixed` behind that.
"""

from __future__ import annotations

import re
from fractions import Fraction

from oak_ledge.core.errors import SizeTextError
from oak_ledge.core.sizes import (
    Edge,
    EdgeShape,
    ExactShape,
    OwnShape,
    PercentShape,
    RatioShape,
    Shape,
    Size,
    Turn,
    WindowShape,
    WithinShape,
    edges_of,
    natural_turn,
    unit_of,
)
from oak_ledge.core.units import CM_PER_INCH, Unit, plain

HOW = "Write it like 8x10in@300, 1200x1600px, long 2000px, 3:2 or 100%."
_NUMBER = re.compile(r"(?:(\d+)\s+)?(\d+)\s*/\s*(\d+)|(\d+)(?:[.,](\d+))?|[.,](\d+)")
_UNITS: dict[str, Unit] = {
    "in": "in", "inch": "in", "inches": "in", '"': "in", "″": "in", "”": "in",
    "cm": "cm", "mm": "mm", "px": "px",
}  # fmt: skip
_EDGE = re.compile(r"(width|height|long|short)\b", re.IGNORECASE)
_EDGES: dict[str, Edge] = {
    "width": "width", "height": "height", "long": "long", "short": "short",
}  # fmt: skip
_UNIT = re.compile(r"(inches|inch|in|cm|mm|px)(?![a-wyz])|[\"″”]", re.IGNORECASE)
_OTHER_WORD = re.compile(r"(?!x\b|x[\d\s.,]|suit\b|fixed\b|enlarge\b)[^\W\d_]+", re.IGNORECASE)
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
    >>> write_size(read_size("8 1/2 x 11 in @ 300"))
    '8.5x11in@300'
    """
    reader = _Reader(text)
    if len(text) > 200:
        msg = "it is too long"
        raise reader.fail(msg)
    if not text.strip():
        msg = "there is nothing to read"
        raise reader.fail(msg)
    shape = _shape(reader)
    ppi = _resolution(reader)
    if ppi is None and unit_of(shape) not in (None, "px"):
        reader.at = len(text.rstrip())
        why = "a printed size needs its resolution"
        raise reader.fail(
            why,
            f"Write it behind an @, like {_write_shape(shape)}@300.",
        )
    turn = _turn(reader) or natural_turn(shape)
    if reader.rest():
        msg = f"“{reader.rest()}” is left over"
        raise reader.fail(msg)
    try:
        return Size(shape=shape, ppi=ppi, turn=turn)
    except ValueError as exc:
        reader.at = 0
        raise reader.fail(_why(exc)) from exc


def _shape(reader: _Reader) -> Shape:
    if reader.take(_word("photo")):
        return OwnShape()
    if edge := reader.take(_EDGE):
        return _edge_shape(reader, _EDGES[edge[1].lower()])
    if reader.take(_word("within")):
        box = _exact_shape(reader, reader.number("the width"))
        return WithinShape(
            width=box.width,
            height=box.height,
            unit=box.unit,
            enlarge=reader.take(_word("enlarge")) is not None,
        )
    if reader.take(_word("window")):
        start = reader.at
        box = _exact_shape(reader, reader.number("the width"))
        if box.unit != "px" or {box.width.denominator, box.height.denominator} != {1}:
            reader.at = start
            why = "a window is cut in whole photo pixels"
            raise reader.fail(why, "Write it like window 2560x1440px.")
        return WindowShape(width=int(box.width), height=int(box.height))
    first = reader.number("the width")
    if reader.take(re.compile("%")):
        return PercentShape(percent=first)
    if reader.take(re.compile(":")):
        return RatioShape(across=first, along=reader.number("the second half of the ratio"))
    return _exact_shape(reader, first)


def _word(word: str) -> re.Pattern[str]:
    return re.compile(rf"{word}\b", re.IGNORECASE)


def _edge_shape(reader: _Reader, edge: Edge) -> EdgeShape:
    length = reader.number("the length of the edge")
    at = reader.at
    unit = reader.unit()
    if unit is None:
        reader.at = at
        told = f"{edge} {plain(length)}"
        why = "the unit is missing"
        raise reader.fail(why, f"Say in, cm, mm or px: {told}in@300 or {told}px.")
    return EdgeShape(edge=edge, length=length, unit=unit)


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
    text = _write_shape(size.shape)
    if size.ppi is not None:
        text += f"@{plain(size.ppi)}"
    return text if size.turn == natural_turn(size.shape) else f"{text} {size.turn}"


def _write_shape(shape: Shape) -> str:
    match shape:
        case PercentShape():
            return f"{plain(shape.percent)}%"
        case RatioShape():
            return f"{plain(shape.across)}:{plain(shape.along)}"
        case EdgeShape():
            return f"{shape.edge} {plain(shape.length)}{shape.unit}"
        case WithinShape():
            box = f"within {plain(shape.width)}x{plain(shape.height)}{shape.unit}"
            return f"{box} enlarge" if shape.enlarge else box
        case WindowShape():
            return f"window {shape.width}x{shape.height}px"
        case OwnShape():
            return "photo"
        case ExactShape():
            return f"{plain(shape.width)}x{plain(shape.height)}{shape.unit}"


def shape_label(size: Size) -> str:
    """Write what a size measures, for labels: `8 × 10 in`, `long edge 2000 px`, `3:1`."""
    shape = size.shape
    match shape:
        case PercentShape():
            return f"{plain(shape.percent)} %"
        case RatioShape():
            return f"{plain(shape.across)}:{plain(shape.along)}"
        case EdgeShape():
            return f"{edge_words(shape)} {plain(shape.length)} {shape.unit}"
        case WithinShape():
            return f"within {plain(shape.width)} × {plain(shape.height)} {shape.unit}"
        case WindowShape():
            return f"window {shape.width} × {shape.height} px"
        case OwnShape():
            return "the photo's own shape"
        case ExactShape():
            return f"{plain(shape.width)} × {plain(shape.height)} {shape.unit}"


def edge_words(shape: EdgeShape) -> str:
    """Name the edge a size fixes."""
    return shape.edge if shape.edge in ("width", "height") else f"{shape.edge} edge"


def say_size(size: Size) -> str:
    """Say a size as a plain sentence: shape, resolution, pixels and turn, each apart.

    >>> say_size(read_size("8x10in@300"))
    '8 × 10 in at 300 ppi: 2400 × 3000 px, turned to suit each photo.'
    """
    shape = size.shape
    label = shape_label(size)
    at = "" if size.ppi is None else f" at {plain(size.ppi)} ppi"
    none = at or "; no resolution is written"
    turn = "as written" if size.turn == "fixed" else "turned to suit each photo"
    pixels = " × ".join(str(pixels) for _, pixels in edges_of(size))
    match shape:
        case PercentShape():
            if shape.percent == 100 and size.ppi is None:
                return "A free crop with its pixels as they are; no resolution is written."
            return f"{plain(shape.percent)} % of a free crop's pixels{none}."
        case RatioShape():
            return f"A crop of {label} with its pixels as they are{none}, {turn}."
        case OwnShape():
            return f"A crop in the photo's own shape with its pixels as they are{none}."
        case EdgeShape():
            length = "" if shape.unit == "px" else f"{at}: {pixels} px"
            ending = none if shape.unit == "px" else ""
            return f"{label[:1].upper()}{label[1:]}{length}; the other follows the crop{ending}."
        case WithinShape():
            length = "" if shape.unit == "px" else f"{at}: {pixels} px"
            ending = none if shape.unit == "px" else ""
            grow = (
                "smaller crops are enlarged" if shape.enlarge else "smaller crops stay as they are"
            )
            return f"Fitted within {label[7:]}{length}; {grow}{ending}."
        case WindowShape():
            return f"A window of {pixels} photo pixels, not one value changed{none}, {turn}."
        case ExactShape():
            if shape.unit == "px":
                return f"{pixels} px{none}, {turn}."
            return f"{label}{at}: {pixels} px, {turn}."
