"""A sheet: its paper or face, how it is laid out, and where each piece lies on it."""

from __future__ import annotations

from fractions import Fraction
from typing import Literal

from pydantic import Field, ValidationError

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.numbers import Exact
from oak_ledge.core.sheets.canvas import Canvas, Width
from oak_ledge.core.sheets.cells import Cells
from oak_ledge.core.sizes.size import Size, first_error
from oak_ledge.core.values import Value

# What a sheet is made as.
Kind = Literal["pdf", "png", "tiff", "jpeg"]

# On all pages of a sheet.
MOST_PIECES = 2000


class Layout(Value):
    """How sheets are laid out, whatever lies on them: kept for the next job.

    What the paper's own size says of its ground and its file holds for sheets made as pictures.
    """

    canvas: Canvas
    margin: Width = "10mm"
    gap: Width = "5mm"
    marks: bool = Field(default=True, description="trim marks off the corners of every piece")
    names: bool = Field(
        default=False, description="the photo's name and the size below every piece"
    )
    kind: Kind = "pdf"
    cells: Cells | None = Field(default=None, description="None: pieces are packed")


def usual_spaces(canvas: Size) -> tuple[str, str]:
    """Return the usual margin and gap on a canvas, in its own unit."""
    unit = canvas.shape.measured_in
    return {"in": ("0.4in", "0.2in"), "px": ("0", "0")}.get(unit or "px", ("10mm", "5mm"))


def layout_from(**fields: object) -> Layout:
    """Put a layout together from its fields, checked as a whole.

    Raises
    ------
    SizeError
        With the field that is wrong, and why.
    """
    try:
        return Layout.model_validate(fields)
    except ValidationError as exc:
        raise SizeError(first_error(exc)) from exc


class Place(Value):
    """A piece on a sheet, or one of its panels; a piece that lies there twice has two."""

    piece: int = Field(ge=0, le=2**63 - 1)
    panel: int | None = Field(default=None, ge=1, le=100)
    page: int | None = Field(default=None, ge=0, le=2000, description="None: it lies on none")
    x: Exact = Field(default=Fraction(0), description="of the top left corner, bleed counted")
    y: Exact = Field(default=Fraction(0))
    turned: bool = Field(default=False, description="by a quarter, clockwise")


class Sheet(Value):
    """A sheet of one page or several."""

    layout: Layout
    places: tuple[Place, ...] = Field(default=(), max_length=MOST_PIECES)

    @property
    def pages(self) -> int:
        """How many pages there are; one at least."""
        return 1 + max((place.page for place in self.places if place.page is not None), default=0)
