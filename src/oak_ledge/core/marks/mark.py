"""How a mark is laid on a piece: place, width, margin, opacity (rules, section 6)."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import Annotated, Any, Literal, get_args

from pydantic import Field, PlainSerializer, PlainValidator, WithJsonSchema
from typing_extensions import override

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import Measure, read_measure
from oak_ledge.core.measures.numbers import (
    clipped,
    decimal,
    halves_up,
    plain,
    read_number,
)
from oak_ledge.core.photos.keep_zones import NOTHING, Keeps
from oak_ledge.core.values import Value, says_nothing

Place = Literal[
    "top-left", "top", "top-right", "left", "centre", "right", "bottom-left", "bottom", "bottom-right", "calm",
]  # fmt: skip

PLACES: tuple[Place, ...] = get_args(Place)


@dataclass(frozen=True)
class Share:
    """A share of the piece's short edge, in per cent; as text: `20%`."""

    percent: Fraction

    @override
    def __str__(self) -> str:
        return f"{plain(self.percent)}%"


# How wide a mark is, or how far from the edge: a length, pixels, or a share of the short edge.
Extent = Measure | Share


def read_extent(value: Any) -> Extent:
    """Read a length, pixels, or a share of the piece's short edge.

    Raises
    ------
    SizeError
        With how to write it.

    Examples
    --------
    >>> str(read_extent("20 %")), str(read_extent("15mm"))
    ('20%', '15mm')
    """
    if isinstance(value, Measure | Share):
        return value
    text = value.strip() if isinstance(value, str) else ""
    if not text.endswith("%"):
        return read_measure(value)
    try:
        share = read_number(text[:-1].strip())
    except (ValueError, ZeroDivisionError) as exc:
        msg = f"“{clipped(text)}” is not a share. Write it like 20%, or as a length like 15mm"
        raise SizeError(msg) from exc
    if not 0 <= share <= 100:
        msg = f"{decimal(share)} % of the short edge is out of range; give 0 to 100 %"
        raise SizeError(msg)
    return Share(share)


ExactExtent = Annotated[
    Extent,
    PlainValidator(read_extent),
    PlainSerializer(str),
    WithJsonSchema(
        {"type": "string", "description": "a length, pixels or a share: 15mm, 40px, 20%"}
    ),
]


class Mark(Value):
    """How a mark is laid: the picture itself is its file's, or the library's."""

    place: Place = "bottom-right"
    width: ExactExtent = Share(Fraction(20))
    margin: ExactExtent = Share(Fraction(3))
    opacity: int = Field(default=100, ge=1, le=100, description="per cent")


class MarkPicture(Value):
    """A mark's picture in the library, told by its content; width and height give its ratio."""

    hash: str = Field(pattern="^[0-9a-f]{64}$")
    width: int = Field(ge=1, le=10_000_000)
    height: int = Field(ge=1, le=10_000_000)
    drawn: bool = Field(default=False, description="an SVG, drawn as large as it is needed")


class NamedMark(Mark):
    """A mark of the library as it is laid, with its picture, and another for dark ground where it has one."""

    name: str = Field(min_length=1, max_length=60)
    picture: MarkPicture
    on_dark: MarkPicture | None = Field(
        default=None,
        description="laid instead of it where the ground below is dark",
        exclude_if=says_nothing,
    )


class PieceMark(NamedMark):
    """A mark as one piece has it, in place of that of its size.

    `avoid` is what a calm mark must not lie on, kept with it once its file is asked for.
    """

    hidden: bool = Field(default=False, exclude_if=says_nothing)
    avoid: Keeps = Field(default=NOTHING, exclude_if=lambda keeps: keeps == NOTHING)


def pixels_of(extent: Extent, short: int, ppi: Fraction | None) -> int:
    """Return an extent in whole pixels, by rule 1; a share is one of the short edge.

    Raises
    ------
    SizeError
        If it is a length, and there is no resolution.
    """
    if isinstance(extent, Share):
        return halves_up(extent.percent * short / 100)
    if extent.unit != "px" and ppi is None:
        msg = f"{extent} is a length, and the size has no resolution; say it in px, or in %"
        raise SizeError(msg)
    return extent.pixels(ppi)
