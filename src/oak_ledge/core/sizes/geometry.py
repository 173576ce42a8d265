"""The lengths and pixels of a size: print, margins, what is seen, the file's edges (rules, section 2).

The one rounding of a length to pixels, bleed and all, is here.
"""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import (
    Pixels,
    Unit,
    in_inches,
    pixels_for,
)
from oak_ledge.core.measures.numbers import decimal, halves_up
from oak_ledge.core.sizes.choices import Turn
from oak_ledge.core.sizes.edges.frame import Inches, seen_in
from oak_ledge.core.sizes.edges.outline import drawn_path
from oak_ledge.core.sizes.fields import SizeFields
from oak_ledge.core.sizes.ground import CLEAR, GROUNDS, WHITE
from oak_ledge.core.sizes.shapes.every import Shape, natural_turn
from oak_ledge.core.sizes.shapes.ratio import RatioOfPanels, RatioShape

# Far beyond any paper or face; guards arithmetic and memory.
MOST_PIXELS_EDGE = 300_000

_NOTHING = Fraction(0)


def ratio_is_open(size: SizeFields) -> bool:
    """Return whether the crop may take any ratio, and the output follows it."""
    return size.shape.open_ratio or size.differ == "inside"


def inches(size: SizeFields) -> Inches | None:
    """Return the print's width and height in inches as written, or None for a size without both.

    Of a size with panels they are those of all of them together.
    """
    lengths, panels = size.shape.lengths(size.ppi), size.panels
    if panels is None or lengths is None:
        return lengths
    between = _NOTHING
    if panels.gap is not None:
        between = panels.gap.inches(size.ppi)
    elif panels.overlap is not None:
        between = -panels.overlap.inches(size.ppi)
    return (
        panels.columns * lengths[0] + (panels.columns - 1) * between,
        panels.rows * lengths[1] + (panels.rows - 1) * between,
    )


def margin(size: SizeFields) -> Fraction:
    """Return how far the crop reaches beyond the print on every side, in inches.

    That is its bleed, and a wrap that the picture itself goes round; a border has its own bleed.
    """
    if (size.bleed is None and size.wrap is None) or size.border is not None:
        return _NOTHING
    wrap = size.wrap if size.sides is None else None
    return sum((part.inches for part in (size.bleed, wrap) if part is not None), _NOTHING)


def whole_margin(size: SizeFields) -> Fraction:
    """Return how far the file reaches beyond the print on every side, in inches: bleed and wrap."""
    sides = size.wrap.inches if size.sides is not None and size.wrap is not None else _NOTHING
    if size.border is not None and size.bleed is not None:
        return size.bleed.inches
    return margin(size) + sides


def seen_inches(size: SizeFields) -> Inches | None:
    """Return what will be seen of the print behind lip or mat, in inches; None without a frame."""
    printed = inches(size)
    return None if size.frame is None or printed is None else seen_in(size.frame, printed)


def edges_of(size: SizeFields) -> tuple[tuple[Fraction, int], ...]:
    """Return each edge a size fixes, as (amount in its own unit, pixels of the file)."""
    return size._edges


def worked_out_edges(size: SizeFields) -> tuple[tuple[Fraction, int], ...]:
    """Work out each edge a size fixes, as (amount in its own unit, pixels of the picture on its file).

    Raises
    ------
    SizeError
        If an edge is not above 0, is not whole in pixels, lacks its resolution, is beyond
        `MOST_PIXELS_EDGE`, or nothing is left of it inside a border.
    """
    shape = size.shape
    amounts = shape.amounts
    if not amounts:
        return ()
    unit, more = shape.measured_in or "px", margin(size)
    edges = tuple(_edge_pixels(amount, unit, size.ppi, more) for amount in amounts)
    if size.border is not None and len(edges) == 2:
        edges = within_border(size, (edges[0], edges[1]))
    return tuple(zip(amounts, edges, strict=True))


def within_border(size: SizeFields, whole: Pixels) -> Pixels:
    """Return the pixels that a border leaves of a print of so many pixels.

    Raises
    ------
    SizeError
        If it leaves none.
    """
    if size.border is None:
        return whole
    left, top, right, bottom = size.border.pixels(size.ppi)
    picture = (whole[0] - left - right, whole[1] - top - bottom)
    if min(picture) < 1:
        msg = f"{size.border.words} leaves nothing of {whole[0]} × {whole[1]} px for the picture"
        raise SizeError(msg)
    return picture


@lru_cache(maxsize=4096)  # exact fractions are slow, and a page asks for the same again and again
def _edge_pixels(amount: Fraction, unit: Unit, ppi: Fraction | None, more: Fraction) -> int:
    if unit == "px":
        if amount.denominator != 1:
            msg = f"{decimal(amount)} px must be a whole number"
            raise SizeError(msg)
        if amount < 1:
            msg = f"an edge of {decimal(amount)} px must be greater than 0"
            raise SizeError(msg)
        pixels = halves_up(amount + 2 * more * (ppi or 0))
    elif ppi is None:
        msg = f"a size in {unit} needs a resolution, such as 300 ppi"
        raise SizeError(msg)
    else:
        pixels = pixels_for(in_inches(amount, unit) + 2 * more, ppi)
    if pixels > MOST_PIXELS_EDGE:
        msg = f"an edge of {pixels} px is more than the {MOST_PIXELS_EDGE} px this program makes"
        raise SizeError(msg)
    return pixels


def outside_of(size: SizeFields) -> str:
    """Return the colour outside a piece's outline, where a file can't be clear there."""
    return WHITE if size.ground in GROUNDS else size.ground


def paper_of(size: SizeFields) -> str:
    """Return the colour of a size's border as CSS has it, `none` where it is clear; empty without one."""
    if size.border is None:
        return ""
    return "none" if size.ground == CLEAR else outside_of(size)


def edge_path(size: SizeFields, output: Pixels) -> str:
    """Return the outline a piece is cut along, as SVG path data in the unit square; empty for a rectangle."""
    if size.outline is None:
        return ""
    return drawn_path(size.outline, output, size.ppi, bleed_pixels(size))


def bleed_pixels(size: SizeFields) -> float:
    """Return how far a piece's file reaches beyond its trimmed edge on every side, in pixels."""
    return float(margin(size) * (size.ppi or 0))


def file_edges(size: SizeFields) -> Pixels:
    """Return the pixels of the file's two edges as written, sides and all, where a size fixes both."""
    unit, more = size.shape.measured_in or "px", whole_margin(size)
    width, height = (_edge_pixels(edge, unit, size.ppi, more) for edge in size.shape.amounts)
    return width, height


def written_pixels(size: SizeFields) -> Pixels | None:
    """Return the output pixels of a size as it is written, or None where the crop decides.

    Of a size with panels they are those of the one picture that is cut.
    """
    if not (size.shape.both_edges or size.shape.whole_pixels) or size.differ == "inside":
        return None
    panel = panel_pixels(size)
    return panel if size.panels is None else size.panels.whole(panel, between_pixels(size))


def print_pixels(size: SizeFields) -> Pixels:
    """Return the pixels of the print of a size with a border, as written: without its bleed."""
    unit = size.shape.measured_in or "px"
    width, height = (_edge_pixels(edge, unit, size.ppi, _NOTHING) for edge in size.shape.amounts)
    return width, height


def whole_shape(size: SizeFields) -> Shape:
    """Return the shape of all of a piece: its size's, or, where that is a panel's ratio, that of all."""
    if size.panels is None or not isinstance(size.shape, RatioShape):
        return size.shape
    return RatioOfPanels(
        across=size.shape.across,
        along=size.shape.along,
        columns=size.panels.columns,
        rows=size.panels.rows,
    )


def usual_turn(size: SizeFields) -> Turn:
    """Return whether a size is turned to suit photos where its line does not say."""
    upright = size.head is not None
    return natural_turn(size.shape, size.differ, panels=size.panels is not None, head=upright)


def panel_pixels(size: SizeFields) -> Pixels:
    """Return the pixels of the two edges a size fixes, as written: of one panel, where it has some."""
    (_, width), (_, height) = edges_of(size)
    return width, height


def between_pixels(size: SizeFields) -> int:
    """Return the pixels from one panel to the next, by rule 1: of a gap, below 0 of an overlap, or 0."""
    panels = size.panels
    if panels is None:
        return 0
    if panels.gap is not None:
        return panels.gap.pixels(size.ppi)
    return 0 if panels.overlap is None else -panels.overlap.pixels(size.ppi)
