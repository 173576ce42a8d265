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
mean one thing; `crop`, `free` and `no size` are the free crop. Behind the shape, with blanks or commas
between, stands all else that is said of it: its resolution, and the words of `text/settings.py`.
"""

from __future__ import annotations

import re
from difflib import get_close_matches
from fractions import Fraction
from typing import Any

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import UNIT_WORDS
from oak_ledge.core.measures.numbers import clipped, plain
from oak_ledge.core.sizes.checks import refuse_open_extend
from oak_ledge.core.sizes.choices import Edge
from oak_ledge.core.sizes.geometry import whole_shape, written_pixels
from oak_ledge.core.sizes.ground import CLEAR
from oak_ledge.core.sizes.shapes.edge import EdgeShape
from oak_ledge.core.sizes.shapes.every import Shape, natural_turn
from oak_ledge.core.sizes.shapes.exact import ExactShape
from oak_ledge.core.sizes.shapes.own import OwnShape
from oak_ledge.core.sizes.shapes.percent import PercentShape
from oak_ledge.core.sizes.shapes.ratio import RatioShape
from oak_ledge.core.sizes.shapes.window import WindowShape
from oak_ledge.core.sizes.shapes.within import WithinShape
from oak_ledge.core.sizes.size import Size, changed_size, size_from
from oak_ledge.core.sizes.text.names import NAMED, named
from oak_ledge.core.sizes.text.reader import UNIT, Reader, Span
from oak_ledge.core.sizes.text.settings import read_settings, unknown_words
from oak_ledge.core.sizes.variants import twin_of

_EDGES: dict[str, Edge] = {
    "width": "width", "height": "height", "long": "long", "short": "short", "longest": "long",
    "shortest": "short", "longer": "long", "shorter": "short",
}  # fmt: skip


_EDGES_BEHIND: dict[str, Edge] = {"wide": "width", "high": "height", "tall": "height", **_EDGES}


_EDGE = re.compile(rf"({'|'.join(_EDGES)})\b(\s*(edge|side)\b)?", re.IGNORECASE)


_EDGE_BEHIND = re.compile(rf"({'|'.join(_EDGES_BEHIND)})\b(\s*(edge|side)\b)?", re.IGNORECASE)


# Letters.
LONGEST_TEXT, LONGEST_WITH_PATH = 500, 5000


# An edge of so much without a unit: no one prints that many inches.
SURELY_PIXELS = 100


_TIMES = re.compile(r"[x×*]|by\b", re.IGNORECASE)


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
    reader = Reader(text)
    if len(text) > (LONGEST_WITH_PATH if "path" in text else LONGEST_TEXT):
        msg = "it is too long"
        raise reader.fail(msg)
    if not text.strip():
        msg = "there is nothing to read"
        raise reader.fail(msg)
    shape = _shape(reader)
    reader.mark("shape", 0)
    settings = read_settings(reader)
    ppi = settings.pop("ppi", None)
    reader.take(re.compile(","))
    if reader.rest():
        reader.skip()
        raise reader.fail(unknown_words(reader))
    if ppi is None and shape.measured_in not in (None, "px"):
        reader.at = len(text.rstrip())
        msg = "a printed size needs its resolution"
        raise reader.fail(msg, f"Write it behind an @, like {shape.text}@300.")
    try:
        size = _put_together(shape, ppi, settings)
    except SizeError as exc:
        reader.at = 0
        raise reader.fail(str(exc)) from exc
    return size, tuple(reader.spans)


def _put_together(shape: Shape, ppi: Fraction | None, settings: dict[str, Any]) -> Size:
    """Make a size of what was read; `wide` and `tall` lay its edges so, as they are written then."""
    turned, file = settings.pop("turned", None), settings.pop("file", {})
    usual = natural_turn(
        shape, settings.get("differ", "trim"), panels="panels" in settings, head="head" in settings
    )
    turn = settings.get("turn", usual)
    can_be_clear = settings.get("outline") or settings.get("ground") == CLEAR
    if can_be_clear and "format" not in file:
        file["format"] = "png"  # which can be clear
    fields = {"shape": shape, "ppi": ppi, "turn": turn, "file": file} | settings
    size = size_from(fields)
    refuse_open_extend(size)
    if turned is not None:
        size = _lying(size, turned)
    return size


def _lying(size: Size, turned: str) -> Size:
    """Lay a size wide or tall: it stays so for photos of either way up."""
    edges = written_pixels(size) or whole_shape(size).ratio
    if edges is None:
        msg = f"“{turned}” needs two edges: {size.shape.label} follows each photo"
        raise SizeError(msg)
    other_way = edges[0] < edges[1] if turned == "wide" else edges[0] > edges[1]
    return changed_size(twin_of(size) if other_way else size, turn="fixed", name="")


# Words for a crop of any shape, as large as it is.
_FREE = re.compile(r"(free(\s+crop)?|crop|no\s+size)\b", re.IGNORECASE)

# Edges said with “by” and no unit that are no print, but the shape of a picture.
_RATIOS_BY = {
    frozenset(pair) for pair in ((16, 9), (16, 10), (21, 9), (2, 1), (3, 2), (4, 3), (1, 1))
}
_BY = re.compile(r"by\b", re.IGNORECASE)


def _ratio_by(reader: Reader, across: Fraction) -> RatioShape | None:
    """Read `16 by 9`; anything else is left to be read as edges."""
    at = reader.at
    if reader.take(_BY):
        along = reader.number("the height")
        reader.skip()
        print_edges = UNIT.match(reader.text, reader.at)
        if frozenset((across, along)) in _RATIOS_BY and print_edges is None:
            return RatioShape(across=across, along=along)
    reader.at = at
    return None


def _shape(reader: Reader) -> Shape:
    if reader.take(_FREE):
        return PercentShape(percent=Fraction(100))
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
    if name := _NAME.match(reader.text, reader.at):
        msg = f"no size is called “{clipped(reader.rest())}”"
        raise reader.fail(msg, f"Write one, as 8x10in 300ppi.{_near(name[0])}")
    first = reader.number("the width")
    if edge_shape := _edge_behind(reader, first):
        return edge_shape
    if reader.take(re.compile("%")):
        return PercentShape(percent=first)
    if reader.take(re.compile(":")):
        return RatioShape(across=first, along=reader.number("the second half of the ratio"))
    return _ratio_by(reader, first) or _exact_shape(reader, first)


# What is no figure, and no sign between two.
_NAME = re.compile(r"[^\W\d_]{2,}")


def _near(word: str) -> str:
    near = get_close_matches(
        word.lower(), ("long", "short", "width", "height", "within", "window", "photo", "free")
    )
    return f" The nearest known word is {near[0]}." if near else ""


def _word(word: str) -> re.Pattern[str]:
    return re.compile(rf"{word}\b", re.IGNORECASE)


def _edge_shape(reader: Reader, edge: Edge) -> EdgeShape:
    length = reader.number("the length of the edge")
    at = reader.at
    unit = reader.unit()
    if unit is None:
        reader.at = at
        words = f"{edge} {plain(length)}"
        why = "the unit is missing"
        raise reader.fail(why, f"Say in, cm, mm or px: {words}in@300 or {words}px.")
    return EdgeShape(edge=edge, length=length, unit=unit)


def _edge_behind(reader: Reader, length: Fraction) -> EdgeShape | None:
    """Read what may stand behind an edge's length: `600px wide`, `2048px long edge`."""
    at = reader.at
    unit = reader.take(UNIT)
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


def _exact_shape(reader: Reader, width: Fraction) -> ExactShape:
    before = reader.unit()
    if not reader.take(_TIMES):
        rest = reader.rest()
        raise reader.fail(
            f"“{rest}” stands where × and the height should" if rest else "the height is missing"
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
