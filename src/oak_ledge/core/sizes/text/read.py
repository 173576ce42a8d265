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
| by name | `A4@300`, `letter@300`, `1080p` |

Also `600px wide`, `2048px long edge`, `8x10in 300ppi`, `8 x 10 inches at 300 dpi`: whatever can only
mean one thing. Each may have a resolution behind an @, and behind that in any order: `dot 2:1` for a screen
whose dots are not square, `outline circle` for a piece that is no rectangle, `suit` or `fixed` for its turn, and `trim`, `extend`, `inside` or `stretch`
for photos of another shape.
"""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Any, Literal, cast

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.errors import SizeError, SizeTextError
from oak_ledge.core.measures.lengths import CM_PER_INCH, UNIT_WORDS, Unit
from oak_ledge.core.measures.numbers import NUMBER, exact_number, plain
from oak_ledge.core.sizes.choices import Edge, Turn
from oak_ledge.core.sizes.shapes.edge import EdgeShape
from oak_ledge.core.sizes.shapes.every import Shape, natural_turn
from oak_ledge.core.sizes.shapes.exact import ExactShape
from oak_ledge.core.sizes.shapes.own import OwnShape
from oak_ledge.core.sizes.shapes.percent import PercentShape
from oak_ledge.core.sizes.shapes.ratio import RatioShape
from oak_ledge.core.sizes.shapes.window import WindowShape
from oak_ledge.core.sizes.shapes.within import WithinShape
from oak_ledge.core.sizes.size import Size, size_from
from oak_ledge.core.sizes.text.names import NAMED, named

HOW = "Write it like 8x10in@300, 1200x1600px, long 2000px, 3:2 or 100%."


Part = Literal["shape", "resolution", "dot", "turn", "differ", "outline"]
"""A part of a size's text, and of the sentence that says it."""


_EDGES: dict[str, Edge] = {
    "width": "width", "height": "height", "long": "long", "short": "short", "longest": "long",
    "shortest": "short", "longer": "long", "shorter": "short",
}  # fmt: skip


_EDGES_BEHIND: dict[str, Edge] = {"wide": "width", "high": "height", "tall": "height", **_EDGES}


_EDGE = re.compile(rf"({'|'.join(_EDGES)})\b(\s*(edge|side)\b)?", re.IGNORECASE)


_EDGE_BEHIND = re.compile(rf"({'|'.join(_EDGES_BEHIND)})\b(\s*(edge|side)\b)?", re.IGNORECASE)


LONGEST_TEXT, LONGEST_WITH_PATH = 200, 5000  # letters


SURELY_PIXELS = 100  # an edge of so much without a unit: no one prints that many inches


_UNIT = re.compile(
    rf"({'|'.join(sorted((word for word in UNIT_WORDS if word.isalpha()), key=len, reverse=True))})"
    r"(?![a-wyz])|[\"″”]",
    re.IGNORECASE,
)


_LATER = r"suit|fixed|enlarge|dot|trim|extend|inside|stretch|outline|at|by"


_OTHER_WORD = re.compile(rf"(?!x\b|x[\d\s.,]|(?:{_LATER})\b)[^\W\d_]+", re.IGNORECASE)


_TURNS: tuple[Turn, ...] = ("suit", "fixed")


_SETTING = re.compile(r"(dot|suit|fixed|trim|extend|inside|stretch|outline)\b", re.IGNORECASE)


_TIMES = re.compile(r"[x×*]|by\b", re.IGNORECASE)


_AT = re.compile(r"@|at\b", re.IGNORECASE)


_PER_CM = re.compile(r"px\s*/\s*cm", re.IGNORECASE)


_PER_INCH = re.compile(r"ppi|dpi", re.IGNORECASE)


_RESOLUTION_AHEAD = re.compile(rf"(?:{NUMBER.pattern})\s*(?:ppi|dpi|px\s*/\s*cm)", re.IGNORECASE)


class _Reader:
    """Walks a text from the left and knows where it stands."""

    def __init__(self, text: str) -> None:
        self.text, self.at = text, 0
        self.spans: list[Span] = []

    def mark(self, part: Part, start: int) -> None:
        """Remember that the text from `start` to here, blanks not counted, is a part."""
        words = self.text[start : self.at]
        begin = start + len(words) - len(words.lstrip())
        self.spans.append(Span(part=part, start=begin, end=start + len(words.rstrip())))

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
        match = self.take(NUMBER)
        if match is None:
            found = self.rest()
            raise self.fail(
                f"{what} is missing" + (f" before “{found}”" if found else " at the end")
            )
        if self.text[self.at : self.at + 1].isdigit():
            self.at = start
            msg = f"{what} has too many digits"
            raise self.fail(msg)
        try:
            value = exact_number(match.groups())
        except ZeroDivisionError as exc:
            self.at = start
            msg = f"{what} divides by zero"
            raise self.fail(msg) from exc
        if value == 0:
            self.at = start
            msg = f"{what} must be greater than 0"
            raise self.fail(msg)
        return value

    def unit(self) -> Unit | None:
        match = self.take(_UNIT)
        if match is not None:
            return UNIT_WORDS[match[0].lower()]
        if _OTHER_WORD.match(self.text, self.at):
            msg = f"“{self.rest()}” is not understood; units are in, cm, mm and px"
            raise self.fail(msg)
        return None


class Span(BaseModel):
    """Which characters of a text say a part of a size: from `start` up to `end`."""

    model_config = ConfigDict(frozen=True)

    part: Part
    start: int
    end: int


def read_size(text: str) -> Size:
    """Read a text as a size.

    Raises
    ------
    SizeTextError
        With the place where reading stopped, why, and how to write it.

    Examples
    --------
    >>> read_size("8 1/2 x 11 in @ 300").shape.width
    Fraction(17, 2)
    """
    return read_marked(text)[0]


def read_marked(text: str) -> tuple[Size, tuple[Span, ...]]:
    """Read a text as a size, and tell which part of it says what.

    Raises
    ------
    SizeTextError
        As `read_size`.

    Examples
    --------
    >>> [(span.part, span.start, span.end) for span in read_marked("8x10in @300")[1]]
    [('shape', 0, 6), ('resolution', 7, 11)]
    """
    reader = _Reader(text)
    if len(text) > (LONGEST_WITH_PATH if "path" in text else LONGEST_TEXT):
        msg = "it is too long"
        raise reader.fail(msg)
    if not text.strip():
        msg = "there is nothing to read"
        raise reader.fail(msg)
    shape = _shape(reader)
    reader.mark("shape", 0)
    start = reader.at
    ppi = _resolution(reader)
    if ppi is not None:
        reader.mark("resolution", start)
    elif shape.measured_in not in (None, "px"):
        reader.at = len(text.rstrip())
        why = "a printed size needs its resolution"
        raise reader.fail(
            why,
            f"Write it behind an @, like {shape.text}@300.",
        )
    settings = _settings(reader)
    if reader.rest():
        msg = f"“{reader.rest()}” isn't understood here"
        raise reader.fail(msg)
    try:
        turn = natural_turn(shape, settings.get("differ", "trim"))
        size = size_from({"shape": shape, "ppi": ppi, "turn": turn} | settings)
    except SizeError as exc:
        reader.at = 0
        raise reader.fail(str(exc)) from exc
    return size, tuple(reader.spans)


def _settings(reader: _Reader) -> dict[str, Any]:
    """Read what may stand behind shape and resolution, in any order, each at most once."""
    found: dict[str, Any] = {}
    while True:
        start = reader.at
        match = reader.take(_SETTING)
        if match is None:
            return found
        word = match[1].lower()
        part: Part = "turn" if word in _TURNS else "differ"
        if word in ("dot", "outline"):
            part = cast("Part", word)
        if part in found:
            reader.at = start
            reader.skip()
            msg = f"“{match[1]}” says it a second time"
            raise reader.fail(msg)
        if part == "dot":
            across = reader.number("the dot's width")
            if not reader.take(re.compile(":")):
                msg = "a dot is written as its width to its height"
                raise reader.fail(msg, "Write it like dot 2:1.")
            found["dot"] = across / reader.number("the dot's height")
        elif part == "outline":
            found["outline"] = _outline(reader)
            found["file"] = {"format": "png"}  # which can be clear; asked for another, it is that
        else:
            found[part] = word
        reader.mark(part, start)


_OUTLINE_HOW = (
    "Write it like outline circle, outline ellipse, outline rounded 6mm or outline rounded 8%."
)


_OUTLINE = re.compile(r"(circle|ellipse|rounded|path)\b", re.IGNORECASE)


_QUOTED = re.compile(r"[\"“”']([^\"“”']*)[\"“”']")


def _outline(reader: _Reader) -> dict[str, Any]:
    kind = reader.take(_OUTLINE)
    if kind is None:
        msg = "which outline is missing"
        raise reader.fail(msg, _OUTLINE_HOW)
    name = kind[1].lower()
    if name == "path":
        path = reader.take(_QUOTED)
        if path is None:
            msg = "the path's data is missing"
            raise reader.fail(msg, 'Write it like outline path "M0.5 0L1 1L0 1Z".')
        return {"kind": name, "path": path[1].strip()}
    if name != "rounded":
        return {"kind": name}
    radius = reader.number("the corners' radius")
    if reader.take(re.compile("%")):
        return {"kind": name, "percent": radius}
    unit = reader.unit()
    if unit is None:
        msg = "the unit of the corners' radius is missing"
        raise reader.fail(msg, _OUTLINE_HOW)
    return {"kind": name, "radius": f"{plain(radius)}{unit}"}


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
    start = reader.at
    if match := reader.take(NAMED):
        if shape := named(match):
            return shape
        reader.at = start
        why = f"there is no paper {match[0].upper()}"
        raise reader.fail(why, "They go from A0 to A10.")
    first = reader.number("the width")
    if edge_shape := _edge_behind(reader, first):
        return edge_shape
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
        words = f"{edge} {plain(length)}"
        why = "the unit is missing"
        raise reader.fail(why, f"Say in, cm, mm or px: {words}in@300 or {words}px.")
    return EdgeShape(edge=edge, length=length, unit=unit)


def _edge_behind(reader: _Reader, length: Fraction) -> EdgeShape | None:
    """Read what may stand behind an edge's length: `600px wide`, `2048px long edge`."""
    at = reader.at
    unit = reader.take(_UNIT)
    edge = reader.take(_EDGE_BEHIND)
    if edge is None:
        reader.at = at
        return None
    if unit is None and length < SURELY_PIXELS:
        reader.at = at
        words = f"{_EDGES_BEHIND[edge[1].lower()]} {plain(length)}"
        why = "the unit is missing"
        raise reader.fail(why, f"Say in, cm, mm or px: {words}in@300 or {words}px.")
    return EdgeShape(
        edge=_EDGES_BEHIND[edge[1].lower()],
        length=length,
        unit=UNIT_WORDS[unit[0].lower()] if unit else "px",
    )


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
    reader.skip()
    if not reader.take(_AT) and not _RESOLUTION_AHEAD.match(reader.text, reader.at):
        return None
    value = reader.number("the resolution")
    if reader.take(_PER_CM):
        return value * CM_PER_INCH
    reader.take(_PER_INCH)
    return value
