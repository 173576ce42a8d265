"""A size: what must come out, and what it asks of a photo (rules, section 2).

A `Size` is a frozen value; the same model is the JSON of the interface and of the stored
column. Lengths are exact text, never floats.
"""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

from oak_ledge.core.errors import SizeError
from oak_ledge.core.units import Exact, Pixels, Unit, halves_up, in_inches, pixels_for

Turn = Literal["suit", "fixed"]
Turned = Literal["wide", "tall"]
Group = Literal["print", "frame", "marketplace", "screen", "own"]
FileFormat = Literal["jpeg", "png", "tiff"]

MOST_PIXELS_EDGE = 300_000  # far beyond any paper or face; guards arithmetic and memory
DEFAULT_PATTERN = "{photo}_{size}"


class _Value(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class ExactShape(_Value):
    """Width and height, both fixed, in one unit."""

    kind: Literal["exact"] = "exact"
    width: Exact
    height: Exact
    unit: Unit


class PercentShape(_Value):
    """A share of the crop's own pixels; the ratio is free."""

    kind: Literal["percent"] = "percent"
    percent: Exact


Shape = Annotated[ExactShape | PercentShape, Field(discriminator="kind")]


class PpiRange(_Value):
    """The resolutions a receiver takes: under `low` a person should look, `high` is plenty."""

    low: int = Field(ge=1)
    high: int = Field(ge=1)


class FileSettings(_Value):
    """How the file is written."""

    format: FileFormat = "jpeg"
    quality: int = Field(default=92, ge=1, le=100, description="JPEG only")
    pattern: str = Field(default=DEFAULT_PATTERN, min_length=1, max_length=200)


class Size(_Value):
    """A reusable target. `ppi` is None where none shall be written into the file."""

    version: Literal[1] = 1
    name: str = Field(default="", max_length=80)
    group: Group = "own"
    shape: Shape
    ppi: Exact | None = None
    turn: Turn
    receiver: PpiRange | None = None
    greatest_enlargement: Exact = Fraction(2)
    file: FileSettings = FileSettings()

    @model_validator(mode="after")
    def _can_be_made(self) -> Self:
        written_pixels(self)
        return self


def natural_turn(shape: Shape) -> Turn:
    """Say how a shape turns unless told otherwise: lengths suit the photo, pixels stay."""
    return "fixed" if isinstance(shape, ExactShape) and shape.unit == "px" else "suit"


def inches(size: Size) -> tuple[Fraction, Fraction] | None:
    """Give width and height in inches as written, or None for a size without lengths."""
    shape = size.shape
    if not isinstance(shape, ExactShape):
        return None
    if shape.unit == "px":
        return None if size.ppi is None else (shape.width / size.ppi, shape.height / size.ppi)
    return in_inches(shape.width, shape.unit), in_inches(shape.height, shape.unit)


def written_pixels(size: Size) -> Pixels | None:
    """Give the output pixels of a size as it is written, or None where the crop decides.

    Raises
    ------
    SizeError
        If an edge is not above 0, is not whole in pixels, lacks its resolution, or is beyond
        `MOST_PIXELS_EDGE`.
    """
    shape = size.shape
    if size.ppi is not None and size.ppi <= 0:
        msg = f"resolution={size.ppi} ppi must be greater than 0"
        raise SizeError(msg)
    if isinstance(shape, PercentShape):
        if not 0 < shape.percent <= 1600:
            msg = f"percent={shape.percent} must be above 0 and at most 1600"
            raise SizeError(msg)
        return None
    if shape.unit == "px":
        if shape.width.denominator != 1 or shape.height.denominator != 1:
            msg = f"{shape.width} × {shape.height} px must be whole numbers"
            raise SizeError(msg)
        pixels = (shape.width.numerator, shape.height.numerator)
        if min(pixels) < 1:
            msg = f"{pixels[0]} × {pixels[1]} px: each edge must be greater than 0"
            raise SizeError(msg)
    else:
        if size.ppi is None:
            msg = f"a size in {shape.unit} needs a resolution, such as 300 ppi"
            raise SizeError(msg)
        pixels = (
            pixels_for(in_inches(shape.width, shape.unit), size.ppi),
            pixels_for(in_inches(shape.height, shape.unit), size.ppi),
        )
    if max(pixels) > MOST_PIXELS_EDGE:
        msg = (
            f"an edge of {max(pixels)} px is more than the {MOST_PIXELS_EDGE} px this program makes"
        )
        raise SizeError(msg)
    return pixels


def turned_pixels(pixels: Pixels, turn: Turn, held: Pixels, turned: Turned | None) -> Pixels:
    """Turn output pixels to suit a photo, or as a person turned them (rules, section 2).

    Parameters
    ----------
    pixels : (width, height) as written
    turn : `suit` trades the edges where the photo's longer edge lies the other way
    held : the photo's (width, height) as held
    turned : a person's own choice for this photo, which wins

    Examples
    --------
    >>> turned_pixels((2400, 3000), "suit", (6000, 4000), None)
    (3000, 2400)
    """
    width, height = pixels
    if turned is not None:
        other_way = (width < height) if turned == "wide" else (width > height)
    else:
        other_way = turn == "suit" and (width - height) * (held[0] - held[1]) < 0
    return (height, width) if other_way else (width, height)


def share_of(crop: float, percent: Fraction) -> int:
    """Give the output pixels of one edge of a crop at a percentage, at least 1."""
    return max(1, halves_up(crop * float(percent) / 100))
