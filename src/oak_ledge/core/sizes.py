"""A size: what must come out, and what it asks of a photo (rules, section 2).

A `Size` is a frozen value; the same model is the JSON of the interface and of the stored
column. Lengths are exact text, never floats.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from fractions import Fraction
from functools import lru_cache
from math import ceil
from typing import Annotated, Any, Literal, Self

from pydantic import BeforeValidator, Field, ValidationError, WithJsonSchema, model_validator

from oak_ledge.core.errors import SizeError
from oak_ledge.core.frames import Frame, Inches, seen_in
from oak_ledge.core.icc import ReceiverProfile
from oak_ledge.core.units import (
    ByteLimit,
    Exact,
    ExactLength,
    Pixels,
    Unit,
    clipped,
    halves_up,
    in_inches,
    pixels_for,
    plain,
)
from oak_ledge.core.values import Value

Turn = Literal["suit", "fixed"]
Turned = Literal["wide", "tall"]
Edge = Literal["width", "height", "long", "short"]
Group = Literal["print", "frame", "marketplace", "screen", "own"]
FileFormat = Literal["jpeg", "png", "tiff", "webp", "avif"]
MetadataChoice = Literal["keep", "copyright", "none"]
Differ = Literal["trim", "extend", "inside", "stretch"]
Profile = Literal["keep", "srgb", "p3", "grey", "receiver"]
MethodChoice = Literal["auto", "mitchell", "bicubic", "lanczos", "nearest"]
SharpenFor = Literal["off", "screen", "smooth", "rough"]

MOST_PIXELS_EDGE = 300_000  # far beyond any paper or face; guards arithmetic and memory
MOST_PPI = 100_000
DEFAULT_PATTERN = "{photo}_{size}"
LONGEST_NAME = 80
USUAL_QUALITY = 92
WHITE, BLACK = "#ffffff", "#000000"
FILLS = ("blur", "mirror", "edge")
_COLOURS = {"white": WHITE, "black": BLACK}


def _fill(value: Any) -> str:
    told = value.strip().lower() if isinstance(value, str) else ""
    told = _COLOURS.get(told, told)
    if told == "transparent":
        msg = (
            "a ground can't be transparent: choose a colour, or let blur, mirror or edge fill it. "
            "What a photo itself has clear stays so in PNG, TIFF, WebP and AVIF"
        )
        raise SizeError(msg)
    if told in FILLS:
        return told
    if not re.fullmatch(r"#[0-9a-f]{6}", told):
        msg = (
            f"“{clipped(value)}” is not a colour. Write white, black, one like #f3efe6, or let blur, mirror "
            "or edge fill the ground"
        )
        raise SizeError(msg)
    return told


Fill = Annotated[
    str,
    BeforeValidator(_fill),
    WithJsonSchema(
        {"type": "string", "description": "sRGB: white, black, #rrggbb; or blur, mirror, edge"}
    ),
]


class ExactShape(Value):
    """Width and height, both fixed, in one unit."""

    kind: Literal["exact"] = "exact"
    width: Exact
    height: Exact
    unit: Unit


class EdgeShape(Value):
    """One edge fixed; the other follows the crop, whose ratio is free."""

    kind: Literal["edge"] = "edge"
    edge: Edge
    length: Exact
    unit: Unit


class RatioShape(Value):
    """A ratio, width to height; the crop's own pixels, unscaled."""

    kind: Literal["ratio"] = "ratio"
    across: Exact
    along: Exact


class PercentShape(Value):
    """A share of the crop's own pixels; the ratio is free."""

    kind: Literal["percent"] = "percent"
    percent: Exact


class WithinShape(Value):
    """Fit within a box; the ratio is free. Smaller crops stay as they are, unless `enlarge`."""

    kind: Literal["within"] = "within"
    width: Exact
    height: Exact
    unit: Unit
    enlarge: bool = False


class WindowShape(Value):
    """Exactly that many photo pixels, whole and unscaled: not one value changes."""

    kind: Literal["window"] = "window"
    width: int = Field(ge=1)
    height: int = Field(ge=1)


class OwnShape(Value):
    """The photo's own ratio, unscaled."""

    kind: Literal["photo"] = "photo"


Shape = Annotated[
    ExactShape | EdgeShape | RatioShape | PercentShape | WithinShape | WindowShape | OwnShape,
    Field(discriminator="kind"),
]
_NOTHING = Fraction(0)
_FREE_RATIO = (EdgeShape, PercentShape, WithinShape)


class PpiRange(Value):
    """The resolutions a receiver takes: under `low` a person should look, `high` is plenty."""

    low: int = Field(ge=1, le=MOST_PPI)
    high: int = Field(ge=1, le=MOST_PPI)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.low > self.high:
            msg = f"the receiver's lowest ppi ({self.low}) is above its highest ({self.high})"
            raise SizeError(msg)
        return self


class FileSettings(Value):
    """How the file is written."""

    format: FileFormat = "jpeg"
    quality: int = Field(default=USUAL_QUALITY, ge=1, le=100, description="JPEG, WebP and AVIF")
    at_most: ByteLimit | None = Field(default=None, ge=1, description="greatest bytes of the file")
    profile: Profile = Field(default="keep", description="the photo's own, or converted to one")
    icc: ReceiverProfile | None = Field(default=None, description="with the profile “receiver”")
    metadata: MetadataChoice = Field(default="keep", description="what is known of the photo")
    location: bool = Field(default=True, description="false: the place it was taken is left out")
    fine_colour: bool = Field(default=False, description="JPEG: colour at every pixel, for text")
    progressive: bool = Field(default=False, description="JPEG: coarse first, then finer")
    compression: Literal["lzw", "deflate"] = Field(default="lzw", description="TIFF only")
    pattern: str = Field(default=DEFAULT_PATTERN, min_length=1, max_length=200)


def may_lose_colours(file: FileSettings) -> bool:
    """Say whether a file's profile is one that colours can lie beyond: neither kept nor grey."""
    if file.icc is not None:
        return file.icc.colours != "grey"
    return file.profile in ("srgb", "p3")


class Size(Value):
    """A reusable target. `ppi` is None where none shall be written into the file.

    `dot` is the width of one dot of a screen ÷ its height. `bleed` and `wrap` make the file larger
    than the print on every side; `frame` says what of the print will be seen.
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
    frame: Frame | None = None
    method: MethodChoice = Field(default="auto", description="how pixels are resampled")
    sharpen_for: SharpenFor = Field(default="off", description="what the output is looked at on")
    sharpen: int | None = Field(
        default=None, ge=0, le=100, description="strength; None follows from ppi and distance"
    )
    receiver: PpiRange | None = None
    greatest_enlargement: Exact = Fraction(2)
    file: FileSettings = FileSettings()

    @model_validator(mode="after")
    def _can_be_made(self) -> Self:
        check(self)
        return self


def size_from(told: Mapping[str, object]) -> Size:
    """Put a size together from its fields, checked as a whole.

    Raises
    ------
    SizeError
        With the field that is wrong, and why.
    """
    try:
        return Size.model_validate(told)
    except ValidationError as exc:
        raise SizeError(first_error(exc)) from exc


def changed_size(size: Size, **changes: object) -> Size:
    """Give a size with some fields otherwise, checked as a whole.

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
    """Give the size of another photo: its pixels, its resolution label where it has one."""
    shape = ExactShape(width=Fraction(pixels[0]), height=Fraction(pixels[1]), unit="px")
    exact = None if ppi is None else Fraction(ppi).limit_denominator(10_000)
    return Size(name=name[:80], shape=shape, ppi=exact, turn=natural_turn(shape))


def unit_of(shape: Shape) -> Unit | None:
    """Give the unit a shape is written in, or None for one without."""
    if isinstance(shape, WindowShape):
        return "px"
    return shape.unit if isinstance(shape, ExactShape | EdgeShape | WithinShape) else None


def natural_turn(shape: Shape, differ: Differ = "trim") -> Turn:
    """Say how a shape turns unless told otherwise: lengths and ratios suit, pixels stay.

    A ratio that a photo is extended to is a screen's or a page's, and stays too.
    """
    page = isinstance(shape, RatioShape) and differ == "extend"
    return "fixed" if unit_of(shape) == "px" or page else "suit"


def ratio_is_open(size: Size) -> bool:
    """Say whether the crop may take any ratio, and the output follows it."""
    return isinstance(size.shape, _FREE_RATIO) or size.differ == "inside"


def inches(size: Size) -> Inches | None:
    """Give the print's width and height in inches as written, or None for a size without both."""
    shape = size.shape
    if not isinstance(shape, ExactShape):
        return None
    if shape.unit == "px":
        return None if size.ppi is None else (shape.width / size.ppi, shape.height / size.ppi)
    return in_inches(shape.width, shape.unit), in_inches(shape.height, shape.unit)


def margin(size: Size) -> Fraction:
    """Give how far the file reaches beyond the print on every side, in inches: bleed and wrap."""
    if size.bleed is None and size.wrap is None:
        return _NOTHING
    return sum((part.inches for part in (size.bleed, size.wrap) if part is not None), _NOTHING)


def seen_inches(size: Size) -> Inches | None:
    """Give what will be seen of the print behind lip or mat, in inches; None without a frame."""
    printed = inches(size)
    return None if size.frame is None or printed is None else seen_in(size.frame, printed)


def edges_of(size: Size) -> tuple[tuple[Fraction, int], ...]:
    """Give each edge a size fixes, as (amount in its own unit, pixels of the file).

    Raises
    ------
    SizeError
        If an edge is not above 0, is not whole in pixels, lacks its resolution, or is beyond
        `MOST_PIXELS_EDGE`.
    """
    known = _edges.get(id(size))
    if known is not None and known[0] is size:
        return known[1]
    shape = size.shape
    if isinstance(shape, EdgeShape):
        amounts: tuple[Fraction, ...] = (shape.length,)
    elif isinstance(shape, ExactShape | WithinShape | WindowShape):
        amounts = (Fraction(shape.width), Fraction(shape.height))
    else:
        return ()
    unit, more = unit_of(shape) or "px", margin(size)
    found = tuple((amount, _edge_pixels(amount, unit, size.ppi, more)) for amount in amounts)
    if len(_edges) >= _MOST_EDGES:
        _edges.clear()
    _edges[id(size)] = (size, found)
    return found


# A gesture asks for the same size's edges a dozen times; even to hash exact fractions takes longer
# than to know a size by who it is. Each is held as long as it is known.
_edges: dict[int, tuple[Size, tuple[tuple[Fraction, int], ...]]] = {}
_MOST_EDGES = 2048


@lru_cache(maxsize=4096)  # exact fractions are slow, and a page asks for the same again and again
def _edge_pixels(amount: Fraction, unit: Unit, ppi: Fraction | None, more: Fraction) -> int:
    if unit == "px":
        if amount.denominator != 1:
            msg = f"{plain(amount)} px must be a whole number"
            raise SizeError(msg)
        if amount < 1:
            msg = f"an edge of {plain(amount)} px must be greater than 0"
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
        msg = f"resolution={plain(ppi)} ppi must be greater than 0"
        raise SizeError(msg)
    if ppi > MOST_PPI:
        msg = f"{plain(ppi.limit_denominator(100))} ppi is more than any printer or screen has"
        raise SizeError(msg)


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
    if isinstance(shape, PercentShape) and not 0 < shape.percent <= 1600:
        msg = f"percent={plain(shape.percent)} must be above 0 and at most 1600"
        raise SizeError(msg)
    if isinstance(shape, RatioShape) and not (
        min(shape.across, shape.along) > 0 and Fraction(1, 100) <= shape.across / shape.along <= 100
    ):
        msg = f"ratio={plain(shape.across)}:{plain(shape.along)} must lie between 1:100 and 100:1"
        raise SizeError(msg)
    if isinstance(shape, WindowShape) and (size.sharpen_for != "off" or size.method != "auto"):
        msg = "a window changes not one value, so it is neither resampled nor sharpened"
        raise SizeError(msg)
    _check_profile(size.file)
    _check_differ(size)
    edges_of(size)
    _check_frame(size)


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


def _check_differ(size: Size) -> None:
    shape, differ = size.shape, size.differ
    if differ != "trim" and not isinstance(shape, ExactShape | RatioShape | WindowShape):
        msg = f"“{differ}” needs a size that fixes a shape: exact edges, a ratio or a window"
        raise SizeError(msg)
    if differ in ("inside", "stretch") and not isinstance(shape, ExactShape):
        msg = (
            f"“{differ}” scales the photo, and a {shape.kind} does not; say exact edges, or extend"
        )
        raise SizeError(msg)
    if size.dot == 1:
        return
    if not Fraction(1, 10) <= size.dot <= 10:
        msg = f"dot={plain(size.dot)}:1 must lie between 1:10 and 10:1"
        raise SizeError(msg)
    if unit_of(shape) != "px" or isinstance(shape, WindowShape):
        msg = "a dot belongs to a screen: exact pixels, one edge in pixels, or within pixels"
        raise SizeError(msg)


def _check_frame(size: Size) -> None:
    if size.frame is None and size.bleed is None and size.wrap is None:
        return
    if inches(size) is None or size.differ == "inside":
        msg = "frame, bleed and wrap go with a print: exact edges at a resolution, not “inside”"
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


def written_pixels(size: Size) -> Pixels | None:
    """Give the output pixels of a size as it is written, or None where the crop decides."""
    if not isinstance(size.shape, ExactShape | WindowShape) or size.differ == "inside":
        return None
    (_, width), (_, height) = edges_of(size)
    return width, height


def open_pixels(
    size: Size, held: Pixels, crop: tuple[float, float], turned: Turned | None
) -> Pixels:
    """Give the output pixels a size makes of a crop, where the crop decides (rules, section 2).

    Parameters
    ----------
    size : of a shape without `written_pixels`
    held : the photo's (width, height) as held
    crop : (width, height) in photo pixels
    turned : a person's own choice of wide or tall, for a ratio or a box

    Examples
    --------
    A ratio of small whole terms is exact; else it is right to the nearest pixel.

    >>> ratio = Size(shape=RatioShape(across=Fraction(3), along=Fraction(1)), turn="suit")
    >>> open_pixels(ratio, (6000, 4000), (1000, 900), None)
    (999, 333)
    """
    shape, (width, height) = size.shape, _in_dots(crop, size.dot)
    if isinstance(shape, PercentShape):
        return share_of(width, shape.percent), share_of(height, shape.percent)
    if isinstance(shape, RatioShape):
        return _ratio_pixels(shape, size.turn, held, crop, turned)
    if isinstance(shape, EdgeShape):
        ((_, fixed),) = edges_of(size)
        wide = width >= height
        if shape.edge == "width" or shape.edge == ("long" if wide else "short"):
            return fixed, _at_least_one(fixed * height / width)
        return _at_least_one(fixed * width / height), fixed
    if isinstance(shape, WithinShape | ExactShape):
        (_, box_width), (_, box_height) = edges_of(size)
        box = turned_pixels((box_width, box_height), size.turn, held, turned)
        scale = min(box[0] / width, box[1] / height)
        if isinstance(shape, WithinShape) and not shape.enlarge:
            scale = min(1.0, scale)
        return _at_least_one(width * scale), _at_least_one(height * scale)
    across = min(_at_least_one(width), held[0])  # the photo's own shape
    return across, min(_at_least_one(Fraction(across * held[1], held[0])), held[1])


def _in_dots(crop: tuple[float, float], dot: Fraction) -> tuple[float, float]:
    """Give a crop as it counts in oblong dots, with no more of them than it has photo pixels."""
    if dot == 1:
        return crop
    return crop[0] * min(1.0, float(1 / dot)), crop[1] * min(1.0, float(dot))


def ratio_around(size: Size, held: Pixels, turned: Turned | None, hairline: int = 0) -> Pixels:
    """Give the smallest output pixels of a ratio that a whole photo lies in, unscaled.

    Where that leaves less than `hairline` pixels of ground on a side, it is the largest box below
    that leaves none so narrow.

    Examples
    --------
    >>> ratio = Size(shape=RatioShape(across=Fraction(2), along=Fraction(1)), turn="suit")
    >>> ratio_around(ratio, (600, 401), None)
    (802, 401)
    >>> ratio_around(ratio, (600, 301), None, 4)
    (600, 300)
    """
    assert isinstance(size.shape, RatioShape)
    terms = _terms(size.shape, size.turn, held, turned)
    times = max(held[0] / terms[0], held[1] / terms[1])
    if max(terms) > 100:
        box = (max(held[0], halves_up(times * terms[0])), max(held[1], halves_up(times * terms[1])))
        if _narrow(box, held, hairline):
            return _ratio_pixels(size.shape, size.turn, held, held, turned)
        return box
    most = ceil(times - 1e-9)
    least = max(1, int(min(held[0] / terms[0], held[1] / terms[1])))
    boxes = ((k * terms[0], k * terms[1]) for k in range(most, least - 1, -1))
    return next(
        (box for box in boxes if not _narrow(box, held, hairline)),
        (most * terms[0], most * terms[1]),
    )


def _narrow(box: Pixels, held: Pixels, hairline: int) -> bool:
    return any(
        0 < edge - photo < min(2 * hairline, edge / 16)
        for edge, photo in zip(box, held, strict=True)
    )


def _terms(shape: RatioShape, turn: Turn, held: Pixels, turned: Turned | None) -> Pixels:
    lowest = shape.across / shape.along
    return turned_pixels((lowest.numerator, lowest.denominator), turn, held, turned)


def _ratio_pixels(
    shape: RatioShape,
    turn: Turn,
    held: Pixels,
    crop: tuple[float, float],
    turned: Turned | None,
) -> Pixels:
    terms = _terms(shape, turn, held, turned)
    times = min(crop[0] / terms[0], crop[1] / terms[1]) + 1e-9
    if max(terms) <= 100 and times >= 1:
        return int(times) * terms[0], int(times) * terms[1]
    return _at_least_one(times * terms[0]), _at_least_one(times * terms[1])


def _at_least_one(value: Fraction | float) -> int:
    return max(1, halves_up(value))


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
    return _at_least_one(crop * float(percent) / 100)
