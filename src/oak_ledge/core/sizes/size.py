"""A size: what must come out, and what it asks of a photo (rules, section 2).

A `Size` is a frozen value; the same model is the JSON of the interface and of the stored
column. Lengths are exact text, never floats.
"""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from functools import lru_cache
from typing import Any, Literal, Self

from pydantic import Field, PrivateAttr, ValidationError, model_validator
from typing_extensions import override

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import (
    ExactLength,
    Pixels,
    Unit,
    in_inches,
    length_words,
    pixels_for,
)
from oak_ledge.core.measures.numbers import Exact, decimal, halves_up, plain
from oak_ledge.core.sizes.choices import Differ, Group, MethodChoice, SharpenFor, Turn
from oak_ledge.core.sizes.edges.frame import Frame, Inches, seen_in
from oak_ledge.core.sizes.edges.outline import Outline, drawn_path
from oak_ledge.core.sizes.edges.panels import Panels
from oak_ledge.core.sizes.edges.sides import SidesAsked
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.core.sizes.file.ppi_range import MOST_PPI, PpiRange
from oak_ledge.core.sizes.ground import FILLS, WHITE, Fill
from oak_ledge.core.sizes.shapes.every import Shape, natural_turn
from oak_ledge.core.sizes.shapes.exact import ExactShape
from oak_ledge.core.values import Value

# Far beyond any paper or face; guards arithmetic and memory.
MOST_PIXELS_EDGE = 300_000


LONGEST_NAME = 80
_NOTHING = Fraction(0)


class Size(Value):
    """A reusable target. `ppi` is None where none shall be written into the file.

    `dot` is the width of one dot of a screen ÷ its height. `bleed` and `wrap` make the file larger
    than the print on every side; `frame` says what of the print will be seen, `outline` the edge of
    a piece that is no rectangle. With `panels` the shape is that of one of them.
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
    frame: Frame | None = None
    outline: Outline | None = None
    panels: Panels | None = None
    method: MethodChoice = Field(default="auto", description="how pixels are resampled")
    sharpen_for: SharpenFor = Field(default="off", description="what the output is looked at on")
    sharpen: int | None = Field(
        default=None, ge=0, le=100, description="strength; None follows from ppi and distance"
    )
    receiver: PpiRange | None = None
    greatest_enlargement: Exact = Fraction(2)
    file: FileSettings = FileSettings()

    _edges: tuple[tuple[Fraction, int], ...] = PrivateAttr(default=())

    @model_validator(mode="after")
    def _can_be_made(self) -> Self:
        self._edges = _worked_out(self)
        check(self)
        return self

    @override
    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """Return a copy with some fields otherwise, unchecked; its edges are its own."""
        copy = super().model_copy(update=update, deep=deep)
        copy._edges = _worked_out(copy)
        return copy


def size_from(fields: Mapping[str, object]) -> Size:
    """Put a size together from its fields, checked as a whole.

    Raises
    ------
    SizeError
        With the field that is wrong, and why.
    """
    try:
        return Size.model_validate(fields)
    except ValidationError as exc:
        raise SizeError(first_error(exc)) from exc


def changed_size(size: Size, **changes: object) -> Size:
    """Return a size with some fields otherwise, checked as a whole.

    Raises
    ------
    SizeError
        With the field that is wrong, and why.
    """
    return size_from(dict(size) | changes)


def first_error(exc: ValidationError) -> str:
    """Say the first thing a model found wrong: where it stands, and why."""
    first = exc.errors()[0]
    where = ".".join(str(part) for part in first["loc"])
    why = first["msg"].removeprefix("Value error, ")
    return f"{where}: {why}" if where else why


def like_photo(name: str, pixels: Pixels, ppi: float | None) -> Size:
    """Return the size of another photo: its pixels, its resolution label where it has one."""
    shape = ExactShape(width=Fraction(pixels[0]), height=Fraction(pixels[1]), unit="px")
    exact = None if ppi is None else Fraction(ppi).limit_denominator(10_000)
    return Size(name=name[:80], shape=shape, ppi=exact, turn=natural_turn(shape))


def ratio_is_open(size: Size) -> bool:
    """Return whether the crop may take any ratio, and the output follows it."""
    return size.shape.open_ratio or size.differ == "inside"


def inches(size: Size) -> Inches | None:
    """Return the print's width and height in inches as written, or None for a size without both.

    Of a size with panels they are those of all of them together.
    """
    lengths, panels = size.shape.lengths(size.ppi), size.panels
    if panels is None or lengths is None:
        return lengths
    shared = _NOTHING if panels.overlap is None else panels.overlap.inches
    return (
        panels.columns * lengths[0] - (panels.columns - 1) * shared,
        panels.rows * lengths[1] - (panels.rows - 1) * shared,
    )


def margin(size: Size) -> Fraction:
    """Return how far the crop reaches beyond the print on every side, in inches.

    That is its bleed, and a wrap that the picture itself goes round.
    """
    if size.bleed is None and size.wrap is None:
        return _NOTHING
    wrap = size.wrap if size.sides is None else None
    return sum((part.inches for part in (size.bleed, wrap) if part is not None), _NOTHING)


def whole_margin(size: Size) -> Fraction:
    """Return how far the file reaches beyond the print on every side, in inches: bleed and wrap."""
    sides = size.wrap.inches if size.sides is not None and size.wrap is not None else _NOTHING
    return margin(size) + sides


def seen_inches(size: Size) -> Inches | None:
    """Return what will be seen of the print behind lip or mat, in inches; None without a frame."""
    printed = inches(size)
    return None if size.frame is None or printed is None else seen_in(size.frame, printed)


def edges_of(size: Size) -> tuple[tuple[Fraction, int], ...]:
    """Return each edge a size fixes, as (amount in its own unit, pixels of the file)."""
    return size._edges


def _worked_out(size: Size) -> tuple[tuple[Fraction, int], ...]:
    """Work out the edges of a size.

    Raises
    ------
    SizeError
        If an edge is not above 0, is not whole in pixels, lacks its resolution, or is beyond
        `MOST_PIXELS_EDGE`.
    """
    shape = size.shape
    amounts = shape.amounts
    if not amounts:
        return ()
    unit, more = shape.measured_in or "px", margin(size)
    return tuple((amount, _edge_pixels(amount, unit, size.ppi, more)) for amount in amounts)


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


def check_ppi(ppi: Fraction) -> None:
    """Refuse a resolution that no printer or screen has.

    Raises
    ------
    SizeError
        If it is not above 0, or more than `MOST_PPI`.
    """
    if ppi <= 0:
        msg = f"resolution={decimal(ppi)} ppi must be greater than 0"
        raise SizeError(msg)
    if ppi > MOST_PPI:
        msg = f"{decimal(ppi.limit_denominator(100))} ppi is more than any printer or screen has"
        raise SizeError(msg)


def outside_of(size: Size) -> str:
    """Return the colour outside a piece's outline, where a file can't be clear there."""
    return WHITE if size.ground in FILLS else size.ground


def edge_path(size: Size, output: Pixels) -> str:
    """Return the outline a piece is cut along, as SVG path data in the unit square; empty for a rectangle."""
    if size.outline is None:
        return ""
    return drawn_path(size.outline, output, size.ppi, bleed_pixels(size))


def bleed_pixels(size: Size) -> float:
    """Return how far a piece's file reaches beyond its trimmed edge on every side, in pixels."""
    return float(margin(size) * (size.ppi or 0))


def check(size: Size) -> None:
    """Make sure that a size can be made.

    Raises
    ------
    SizeError
        With what is wrong.
    """
    if size.ppi is not None:
        check_ppi(size.ppi)
    shape = size.shape
    shape.check()
    if shape.whole_pixels and (size.sharpen_for != "off" or size.method != "auto"):
        msg = "a window changes not one value, so it is neither resampled nor sharpened"
        raise SizeError(msg)
    _check_profile(size.file)
    _check_differ(size)
    _check_frame(size)
    _check_outline(size)
    _check_panels(size)


def _check_panels(size: Size) -> None:
    panels = size.panels
    if panels is None:
        return
    if not size.shape.both_edges or size.differ == "inside":
        msg = "panels need the exact edges of one panel, like 1080x1350px panels 3; not “inside”"
        raise SizeError(msg)
    if {size.frame, size.bleed, size.wrap, size.outline} != {None}:
        msg = "panels are bare rectangles: leave out frame, bleed, wrap and outline"
        raise SizeError(msg)
    if panels.overlap is not None:
        if size.ppi is None:
            msg = "an overlap is a length, so the size needs a resolution, such as 300 ppi"
            raise SizeError(msg)
        least = min(pixels for _, pixels in edges_of(size))
        if 2 * overlap_pixels(size) > least:
            msg = f"an overlap of {length_words(panels.overlap)} is more than half a panel"
            raise SizeError(msg)
    whole = max(panels.whole(panel_pixels(size), overlap_pixels(size)))
    if whole > MOST_PIXELS_EDGE:
        msg = f"{panels.count} panels make an edge of {whole} px, more than the {MOST_PIXELS_EDGE} px this program makes"
        raise SizeError(msg)


def _check_outline(size: Size) -> None:
    outline = size.outline
    if outline is None:
        return
    if size.wrap is not None:
        msg = "a stretched canvas has straight edges: leave out its wrap, or the outline"
        raise SizeError(msg)
    if outline.radius is not None and size.ppi is None:
        msg = "corners rounded by a length need a resolution; say them in % instead"
        raise SizeError(msg)
    if size.file.profile == "receiver" and size.file.icc and size.file.icc.colours == "CMYK":
        msg = "a CMYK file has nothing clear, so it takes no outline; choose another profile"
        raise SizeError(msg)


def _check_profile(file: FileSettings) -> None:
    if file.profile == "receiver" and file.icc is None:
        msg = "the receiver's profile is missing: choose its file, which ends in .icc or .icm"
        raise SizeError(msg)
    if file.profile != "receiver" and file.icc is not None:
        msg = f"{file.icc.name} goes with the profile “receiver”, not with “{file.profile}”"
        raise SizeError(msg)
    if file.icc is not None and file.icc.colours == "CMYK" and file.format not in ("jpeg", "tiff"):
        msg = f"{file.icc.name} is a CMYK profile, which only JPEG and TIFF files can carry"
        raise SizeError(msg)


def refuse_open_extend(size: Size) -> None:
    """Refuse to extend as the policy of a size that fixes no shape; one photo may reach beyond on any.

    Raises
    ------
    SizeError
        If it extends and leaves the shape open.
    """
    if size.differ == "extend":
        _check_fixes_shape(size)


def _check_fixes_shape(size: Size) -> None:
    if not size.shape.fixes_shape:
        msg = f"“{size.differ}” needs a size that fixes a shape: exact edges, a ratio or a window"
        raise SizeError(msg)


def _check_differ(size: Size) -> None:
    shape, differ = size.shape, size.differ
    if differ not in ("trim", "extend"):
        _check_fixes_shape(size)
    if differ in ("inside", "stretch") and not shape.both_edges:
        msg = (
            f"“{differ}” scales the photo, and a {shape.kind} does not; say exact edges, or extend"
        )
        raise SizeError(msg)
    if size.dot == 1:
        return
    if not Fraction(1, 10) <= size.dot <= 10:
        msg = f"dot={plain(size.dot)}:1 must lie between 1:10 and 10:1"
        raise SizeError(msg)
    if shape.measured_in != "px" or shape.whole_pixels:
        msg = "a dot belongs to a screen: exact pixels, one edge in pixels, or within pixels"
        raise SizeError(msg)


def _check_frame(size: Size) -> None:
    if {size.frame, size.bleed, size.wrap, size.sides} == {None}:
        return
    if inches(size) is None or size.differ == "inside":
        msg = "frame, bleed and wrap go with a print: exact edges at a resolution, not “inside”"
        raise SizeError(msg)
    if size.sides is not None and size.wrap is None:
        msg = "sides belong to a wrap: say how far the canvas is turned over, like 4cm"
        raise SizeError(msg)
    frame, seen = size.frame, seen_inches(size)
    if frame is None or seen is None:
        return
    if min(seen) <= 0:
        msg = f"a lip of {frame.lip} leaves nothing of the print to be seen"
        raise SizeError(msg)
    if frame.moulding.inches <= frame.lip.inches:
        msg = f"a moulding of {frame.moulding} is no wider than its lip of {frame.lip}"
        raise SizeError(msg)
    mat = frame.mat
    if mat and any(a >= b for a, b in zip(mat.window.inches, mat.outer.inches, strict=True)):
        msg = f"a mat of {mat.outer} is too small for a window of {mat.window}"
        raise SizeError(msg)


def file_edges(size: Size) -> Pixels:
    """Return the pixels of the file's two edges as written, sides and all, where a size fixes both."""
    unit, more = size.shape.measured_in or "px", whole_margin(size)
    width, height = (_edge_pixels(edge, unit, size.ppi, more) for edge in size.shape.amounts)
    return width, height


def written_pixels(size: Size) -> Pixels | None:
    """Return the output pixels of a size as it is written, or None where the crop decides.

    Of a size with panels they are those of the one picture that is cut.
    """
    if not (size.shape.both_edges or size.shape.whole_pixels) or size.differ == "inside":
        return None
    panel = panel_pixels(size)
    return panel if size.panels is None else size.panels.whole(panel, overlap_pixels(size))


def panel_pixels(size: Size) -> Pixels:
    """Return the pixels of the two edges a size fixes, as written: of one panel, where it has some."""
    (_, width), (_, height) = edges_of(size)
    return width, height


def overlap_pixels(size: Size) -> int:
    """Return how many pixels neighbouring panels share, by rule 1; 0 without an overlap."""
    if size.panels is None or size.panels.overlap is None or size.ppi is None:
        return 0
    return pixels_for(size.panels.overlap.inches, size.ppi)
