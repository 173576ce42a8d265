"""What a sheet is laid out on: a paper in lengths with a resolution, or a face in pixels.

All places are exact, in the canvas' own measure: inches on a paper, pixels on a face.
"""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, Any, NamedTuple

from pydantic import AfterValidator, BeforeValidator

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import PER_INCH, Pixels, pixels_for, read_length
from oak_ledge.core.measures.numbers import clipped, decimal, halves_up, read_number
from oak_ledge.core.sizes.geometry import inches, panel_pixels
from oak_ledge.core.sizes.size import Size, changed_size

# Inches: longer than any roll is cut for one sheet.
MOST_EDGE = 200


class Rect(NamedTuple):
    """A rectangle on a sheet, from its top left corner."""

    x: Fraction
    y: Fraction
    width: Fraction
    height: Fraction


def canvas_of(size: Size) -> Size:
    """Return a size as a paper or a face: exact edges, as written, nothing else about it.

    Raises
    ------
    SizeError
        If it is none.
    """
    shape = size.shape
    if not shape.both_edges or size.panels or size.outline or size.frame or size.bleed or size.wrap:
        msg = "a sheet needs a plain size with both edges, like 17x22in@300 or 384x160px"
        raise SizeError(msg)
    if is_paper(size) and max(inches(size) or ()) > MOST_EDGE:
        msg = f"a paper of {shape.label} is longer than {MOST_EDGE} in; check its unit"
        raise SizeError(msg)
    return changed_size(size, turn="fixed", differ="trim", method="auto", sharpen_for="off")


def is_paper(canvas: Size) -> bool:
    """Return whether a canvas has lengths; else it is a face in pixels."""
    return canvas.shape.measured_in != "px"


def extent_of(canvas: Size) -> tuple[Fraction, Fraction]:
    """Return width and height of a canvas in its own measure."""
    lengths = inches(canvas) if is_paper(canvas) else None
    wide, high = canvas_pixels(canvas)
    return lengths or (Fraction(wide), Fraction(high))


def canvas_pixels(canvas: Size) -> Pixels:
    """Return the pixels of a canvas."""
    return panel_pixels(canvas)


def per_unit(canvas: Size) -> Fraction:
    """Return the pixels in one unit of a canvas' measure: its ppi, or 1."""
    return canvas.ppi if is_paper(canvas) and canvas.ppi is not None else Fraction(1)


def step_of(canvas: Size) -> Fraction:
    """Return the grid that places are found on: a decimal of the canvas' own unit, under 0.03 mm."""
    unit = canvas.shape.measured_in
    if not is_paper(canvas):
        return Fraction(1)
    return Fraction(1, 1000) if unit == "in" else Fraction(1, 2540)


def shown(canvas: Size, amount: Fraction) -> Fraction:
    """Return an amount of a canvas' measure in the unit the canvas is written in."""
    unit = canvas.shape.measured_in
    return amount if unit in (None, "px") else amount * PER_INCH[unit]


def on_pixels(canvas: Size, amount: Fraction) -> int:
    """Return the whole pixel nearest to a place."""
    return halves_up(amount * per_unit(canvas))


def read_width(value: Any) -> str:
    """Read the width of a margin or a gap, in lengths or in pixels; 0 needs no unit.

    Raises
    ------
    SizeError
        With how to write it.

    Examples
    --------
    >>> read_width(" 0.5 in"), read_width("8 px"), read_width(0)
    ('0.5in', '8px', '0')
    """
    text = str(value).strip()
    try:
        if text.removesuffix("px") != text:
            pixels = read_number(text.removesuffix("px"))
            if pixels.denominator == 1:
                return f"{pixels.numerator}px"
        elif read_number(text) == 0:
            return "0"
    except ValueError:
        return str(read_length(text))
    msg = f"“{clipped(text)}” is not a width. Write it with its unit, like 10mm, 0.5in or 8px"
    raise SizeError(msg)


def width_on(canvas: Size, text: str) -> Fraction:
    """Return a margin or a gap in a canvas' measure; on a face a length follows from its resolution.

    Raises
    ------
    SizeError
        If it is a length on a face that has no resolution.
    """
    if text == "0":
        return Fraction(0)
    if text.endswith("px"):
        return Fraction(text.removesuffix("px")) / per_unit(canvas)
    length = read_length(text).inches
    if is_paper(canvas):
        return length
    if canvas.ppi is None:
        msg = f"a face in pixels has no lengths: write {text} in pixels, like 8px"
        raise SizeError(msg)
    return Fraction(pixels_for(length, canvas.ppi))


# A margin or a gap as text: `10mm`, `0.5in`, `8px`, `0`.
Width = Annotated[str, BeforeValidator(read_width)]


# A paper or a face.
Canvas = Annotated[Size, AfterValidator(canvas_of)]


def extent_words(canvas: Size) -> str:
    """Return a canvas in words: `17 × 22 in at 300 ppi`, `384 × 160 px`."""
    ppi = "" if canvas.ppi is None else f" at {decimal(canvas.ppi)} ppi"
    return f"{canvas.shape.label}{ppi}"
