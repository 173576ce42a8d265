"""A face or a paper in columns × rows of cells that add up to it exactly (rules, section 6)."""

from __future__ import annotations

import re
from fractions import Fraction
from itertools import pairwise

from pydantic import Field

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.numbers import clipped, halves_up
from oak_ledge.core.sheets.canvas import canvas_pixels, per_unit, width_on
from oak_ledge.core.sizes.edges.panels import PanelBox
from oak_ledge.core.sizes.shapes.exact import ExactShape
from oak_ledge.core.sizes.size import Size, changed_size
from oak_ledge.core.values import Value

# Cells of one sheet.
MOST_CELLS = 100


class Cells(Value):
    """How many columns and rows of cells."""

    columns: int = Field(ge=1, le=MOST_CELLS)
    rows: int = Field(default=1, ge=1, le=MOST_CELLS)

    @property
    def text(self) -> str:
        """How it is written."""
        return f"{self.columns}x{self.rows}"


def read_cells(text: str) -> Cells:
    """Read columns × rows.

    Raises
    ------
    SizeError
        With how to write it.

    Examples
    --------
    >>> read_cells("2x1")
    Cells(columns=2, rows=1)
    """
    match = re.fullmatch(r"\s*(\d{1,3})\s*[x×]\s*(\d{1,3})\s*", text)
    if match and 1 <= int(match[1]) * int(match[2]) <= MOST_CELLS:
        return Cells(columns=int(match[1]), rows=int(match[2]))
    msg = f"“{clipped(text)}” are no cells. Write columns × rows, like 2x1; {MOST_CELLS} at most"
    raise SizeError(msg)


def cell_boxes(canvas: Size, cells: Cells, margin: str, gap: str) -> tuple[PanelBox, ...]:
    """Return the cells of a canvas in its pixels, row by row: with gaps and margins they add up to it.

    Raises
    ------
    SizeError
        If a cell would have no pixel.
    """
    wide, high = canvas_pixels(canvas)
    edge, between = (_pixels(canvas, text) for text in (margin, gap))
    across = _divided(wide - 2 * edge, cells.columns, between)
    down = _divided(high - 2 * edge, cells.rows, between)
    return tuple(
        PanelBox(edge + left, edge + top, width, height)
        for top, height in down
        for left, width in across
    )


def _pixels(canvas: Size, text: str) -> int:
    return halves_up(width_on(canvas, text) * per_unit(canvas))


def _divided(edge: int, count: int, gap: int) -> list[tuple[int, int]]:
    """Divide an edge: where each cell begins, and how long it is."""
    whole = edge - (count - 1) * gap
    ends = [halves_up(Fraction(n * whole, count)) for n in range(count + 1)]
    if min(end - start for start, end in pairwise(ends)) < 1:
        msg = f"{count} cells with gaps of {gap} px leave no pixel for a cell; make fewer, or smaller gaps"
        raise SizeError(msg)
    return [(start + n * gap, end - start) for n, (start, end) in enumerate(pairwise(ends))]


def cell_size(canvas: Size, box: PanelBox, name: str = "") -> Size:
    """Return the size of a cell: its own pixels, with all else as its canvas has it."""
    shape = ExactShape(width=Fraction(box.width), height=Fraction(box.height), unit="px")
    return changed_size(canvas, shape=shape, name=name)
