"""What a size says, field by field, before it is checked as a whole."""

from __future__ import annotations

from fractions import Fraction
from typing import Literal

from pydantic import Field, PrivateAttr

from oak_ledge.core.heads.head_asked import AskedEyes, AskedHead
from oak_ledge.core.marks.mark import NamedMark
from oak_ledge.core.measures.lengths import (
    ExactLength,
)
from oak_ledge.core.measures.numbers import Exact
from oak_ledge.core.photos.backdrop import Backdrop
from oak_ledge.core.sizes.choices import Differ, Group, MethodChoice, SharpenFor, Turn
from oak_ledge.core.sizes.edges.border import BorderAsked
from oak_ledge.core.sizes.edges.frame import Frame
from oak_ledge.core.sizes.edges.outline import Outline
from oak_ledge.core.sizes.edges.panels import Panels
from oak_ledge.core.sizes.edges.sides import SidesAsked
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.core.sizes.file.ppi_range import PpiRange
from oak_ledge.core.sizes.ground import WHITE, Fill
from oak_ledge.core.sizes.shapes.every import Shape
from oak_ledge.core.values import Value, says_nothing

# Letters of a name.
LONGEST_NAME = 80


class SizeFields(Value):
    """A reusable target. `ppi` is None where none shall be written into the file.

    `dot` is the width of one dot of a screen ÷ its height. `bleed` and `wrap` make the file larger
    than the print on every side, a `border` the picture smaller than it; `frame` says what of the print will be seen, `outline` the edge of
    a piece that is no rectangle. With `panels` the shape is that of one of them. On a size that says what the
    subject `fills`, or how tall a `head` shall be, a crop is first laid so that it does. A `mark` and a
    `backdrop` stand in no line of a size, as they are told by their content, nor does who it `goes_to`.
    """

    size_version: Literal[1] = 1
    name: str = Field(default="", max_length=LONGEST_NAME)
    group: Group = "own"
    shape: Shape
    ppi: Exact | None = None
    dot: Exact = Fraction(1)
    turn: Turn
    differ: Differ = Field(default="trim", description="when the photo has another shape")
    ground: Fill = Field(default=WHITE, description="what fills beyond the photo's edge")
    bleed: ExactLength | None = None
    wrap: ExactLength | None = None
    sides: SidesAsked | None = Field(
        default=None, description="what the wrapped sides show; null: the picture goes round"
    )
    border: BorderAsked | None = Field(
        default=None,
        description="paper around the picture, within the print's edges",
        exclude_if=says_nothing,
    )
    frame: Frame | None = None
    outline: Outline | None = None
    panels: Panels | None = None
    fills: Exact | None = Field(
        default=None,
        description="per cent of an edge that the subject shall fill; it is centred then",
        exclude_if=says_nothing,
    )
    head: AskedHead | None = Field(
        default=None,
        description="how tall a head shall be, from chin to crown",
        exclude_if=says_nothing,
    )
    eyes: AskedEyes | None = Field(
        default=None,
        description="how high the eyes of that head shall lie above the piece's foot, in per cent of its height",
        exclude_if=says_nothing,
    )
    backdrop: Backdrop | None = Field(
        default=None,
        description="a photo that is seen where the ground is, in place of its colour",
        exclude_if=says_nothing,
    )
    mark: NamedMark | None = Field(
        default=None, description="laid over every piece of it", exclude_if=says_nothing
    )
    method: MethodChoice = Field(default="auto", description="how pixels are resampled")
    sharpen_for: SharpenFor = Field(default="off", description="what the output is looked at on")
    sharpen: int | None = Field(
        default=None, ge=0, le=100, description="strength; None follows from ppi and distance"
    )
    receiver: PpiRange | None = None
    goes_to: str = Field(
        default="",
        max_length=LONGEST_NAME,
        description="the name of the receiver whose rules its pieces are held to; empty: none",
        exclude_if=says_nothing,
    )
    greatest_enlargement: Exact = Fraction(2)
    file: FileSettings = FileSettings()

    _edges: tuple[tuple[Fraction, int], ...] = PrivateAttr(default=())
