"""What a text that is no size yet may have meant: readings to choose from."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import suppress
from fractions import Fraction

from oak_ledge.core.errors import SizeError
from oak_ledge.core.sizes.shapes.ratio import RatioShape
from oak_ledge.core.sizes.size import Size, changed_size
from oak_ledge.core.sizes.text.read import SURELY_PIXELS, read_size
from oak_ledge.core.sizes.text.write import write_size

MOST_READINGS = 4


_PPI = ("@300", "@240")


# Edges beyond it are no inches unless someone says so.
_LARGE = 60


_NO_UNIT = re.compile(r"\s*([\d.,/ ]+?)\s*(?:[x×*]|by\b)\s*([\d.,/ ]*\d)\s*(.*)", re.IGNORECASE)


_ONE_EDGE = re.compile(r"\s*(width|height|long|short)\s+([\d.,/ ]*\d)\s*(.*)", re.IGNORECASE)


_BEHIND = re.compile(
    r"\s*([\d.,/ ]*\d)\s*(wide|high|tall|long|short)?(?:\s*(?:edge|side))?\s*", re.IGNORECASE
)


_EDGE_WORDS = {
    "wide": "width",
    "high": "height",
    "tall": "height",
    "long": "long",
    "short": "short",
}


_CINEMA = re.compile(r"\s*4k\s*", re.IGNORECASE)


_SLASHED = re.compile(r"\s*(\d+)\s*/\s*(\d+)\s*")


_HAS_PPI = re.compile(r"\s*(@|at\b|[\d.,/ ]+\s*(ppi|dpi))", re.IGNORECASE)


_BARE_PPI = re.compile(r"(in|inch|inches|cm|mm|[\"″”])\s*(\d+)\s*$", re.IGNORECASE)


def readings(text: str) -> tuple[Size, ...]:
    """Return what a text that can't be read may have meant, the likeliest first; `MOST_READINGS` at most.

    A resolution or a unit is added where one is missing, and the shape alone is offered where only
    a unit is.

    Examples
    --------
    >>> [write_size(one) for one in readings("8x10")]
    ['8x10in@300', '8x10cm@300', '4:5', '8x10px']
    >>> [write_size(one) for one in readings("A4")]
    ['210x297mm@300', '210x297mm@240']
    """
    sizes: dict[str, Size] = {}
    for tried in _tried(text):
        with suppress(SizeError):
            size = read_size(tried)
            sizes.setdefault(write_size(size), size)
    return tuple(sizes.values())[:MOST_READINGS]


def also_meant(size: Size) -> tuple[Size, ...]:
    """Return what a text that was read may have meant as well: a ratio of all panels together.

    >>> [write_size(one) for one in also_meant(read_size("3:1 panels 3"))]
    ['1:1 panels 3']
    >>> also_meant(read_size("1:1 panels 3"))
    ()
    """
    shape, panels = size.shape, size.panels
    if panels is None or not isinstance(shape, RatioShape):
        return ()
    across, down = shape.across / panels.columns, shape.along / panels.rows
    if across.denominator != 1 or down.denominator != 1:
        return ()
    lowest = across / down
    terms = {"across": Fraction(lowest.numerator), "along": Fraction(lowest.denominator)}
    return (changed_size(size, shape=shape.model_copy(update=terms)),)


def _tried(text: str) -> Iterator[str]:
    if len(text) > 200:
        return
    yield from (f"{text}{ppi}" for ppi in _PPI)
    yield _BARE_PPI.sub(r"\1@\2", text)
    if match := _NO_UNIT.fullmatch(text):
        yield from _with_unit(f"{match[1]}x{match[2]}", _largest(match[1], match[2]), match[3])
        if not match[3] or _HAS_PPI.match(match[3]):
            yield from _ratio(match[1], match[2])
        yield f"{match[1]}x{match[2]}px {match[3]}"
    elif match := _ONE_EDGE.fullmatch(text):
        yield from _with_unit(f"{match[1]} {match[2]}", _largest(match[2]), match[3])
        yield f"{match[1]} {match[2]}px {match[3]}"
    elif match := _CINEMA.fullmatch(text):
        yield from ("3840x2160px", "4096x2160px")
    elif match := _SLASHED.fullmatch(text):
        yield from _ratio(match[1], match[2])
    elif match := _BEHIND.fullmatch(text):
        edge = _EDGE_WORDS.get((match[2] or "").lower())
        for fixed in (edge,) if edge else ("long", "width", "height"):
            if _largest(match[1]) >= SURELY_PIXELS:
                yield f"{fixed} {match[1]}px"
            else:
                yield from _with_unit(f"{fixed} {match[1]}", _largest(match[1]), "")
                yield f"{fixed} {match[1]}px"


def _ratio(across: str, along: str) -> Iterator[str]:
    """Return a ratio in lowest terms, where it is one."""
    with suppress(SizeError):
        ratio = read_size(f"{across}:{along}").shape.ratio
        if ratio is not None:
            lowest = ratio[0] / ratio[1]
            yield f"{lowest.numerator}:{lowest.denominator}"


def _largest(*numbers: str) -> float:
    """Return the whole part of the larger number, enough to tell inches from pixels."""
    wholes = [re.match(r"\s*\d*", number) for number in numbers]
    return max(float((whole and whole[0].strip()) or 0) for whole in wholes)


def _with_unit(edges: str, largest: float, behind: str) -> Iterator[str]:
    """Return edges without a unit as a print, or as pixels where they are too long for one."""
    units = (
        ("in", "cm")
        if largest <= _LARGE
        else ("cm", "mm")
        if largest < SURELY_PIXELS
        else ("px", "mm")
    )
    for unit in units:
        has_ppi = _HAS_PPI.match(behind) or unit == "px"
        yield f"{edges}{unit}{'' if has_ppi else _PPI[0]} {behind}"
