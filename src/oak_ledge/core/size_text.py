"""Text ↔ Size ↔ the sentence shown (rules, section 2).

| shape | read |
|---|---|
| exact | `8x10in@300`, `8 1/2 x 11 in @ 300`, `20×30 cm@118.11px/cm`, `1200x1600px` |
| one edge | `long 12in@220`, `short 2000px`, `width 18cm@300`, `height 900px` |
| ratio | `3:1`, `16:9`, `1.85:1` |
| percent | `40%`, `100%` |
| within | `within 2048x2048px` |
| window | `window 2560x1440px` |
| own shape | `photo` |

Each may have a resolution behind an @, and behind that in any order: `dot 2:1` for a screen
whose dots are not square, `suit` or `fixed` for its turn, and `trim`, `extend`, `inside` or `stretch`
for photos of another shape.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.errors import SizeError, SizeTextError
from oak_ledge.core.sizes import (
    BLACK,
    WHITE,
    Differ,
    Edge,
    EdgeShape,
    ExactShape,
    FileFormat,
    FileSettings,
    MethodChoice,
    OwnShape,
    PercentShape,
    Profile,
    RatioShape,
    Shape,
    SharpenFor,
    Size,
    Turn,
    WindowShape,
    WithinShape,
    edges_of,
    natural_turn,
    seen_inches,
    size_from,
    unit_of,
)
from oak_ledge.core.units import (
    CM_PER_INCH,
    NUMBER,
    PER_INCH,
    UNIT_WORDS,
    Pixels,
    Unit,
    exact_number,
    length_words,
    limit_words,
    plain,
    rounded,
)

HOW = "Write it like 8x10in@300, 1200x1600px, long 2000px, 3:2 or 100%."
Part = Literal["shape", "resolution", "dot", "turn", "differ"]
"""A part of a size's text, and of the sentence that says it."""

_EDGE = re.compile(r"(width|height|long|short)\b", re.IGNORECASE)
_EDGES: dict[str, Edge] = {
    "width": "width", "height": "height", "long": "long", "short": "short",
}  # fmt: skip
_UNIT = re.compile(r"(inches|inch|in|cm|mm|px)(?![a-wyz])|[\"″”]", re.IGNORECASE)
_LATER = r"suit|fixed|enlarge|dot|trim|extend|inside|stretch"
_OTHER_WORD = re.compile(rf"(?!x\b|x[\d\s.,]|(?:{_LATER})\b)[^\W\d_]+", re.IGNORECASE)
_TURNS: tuple[Turn, ...] = ("suit", "fixed")
_SETTING = re.compile(r"(dot|suit|fixed|trim|extend|inside|stretch)\b", re.IGNORECASE)
_TIMES = re.compile(r"[x×*]", re.IGNORECASE)


class _Reader:
    """Walks a text from the left and knows where it stands."""

    def __init__(self, text: str) -> None:
        self.text, self.at = text, 0
        self.spans: list[Span] = []

    def mark(self, part: Part, start: int) -> None:
        """Remember that the text from `start` to here, blanks not counted, is a part."""
        told = self.text[start : self.at]
        begin = start + len(told) - len(told.lstrip())
        self.spans.append(Span(part=part, start=begin, end=start + len(told.rstrip())))

    def fail(self, why: str, how: str = HOW) -> SizeTextError:
        return SizeTextError(self.text, self.at, why, how)

    def skip(self) -> None:
        while self.at < len(self.text) and self.text[self.at].isspace():
            self.at += 1

    def take(self, pattern: re.Pattern[str]) -> re.Match[str] | None:
        self.skip()
        match = pattern.match(self.text, self.at)
        if match:
            self.at = match.end()
        return match

    def rest(self) -> str:
        return self.text[self.at :].strip()

    def number(self, what: str) -> Fraction:
        start = self.at
        match = self.take(NUMBER)
        if match is None:
            found = self.rest()
            raise self.fail(
                f"{what} is missing" + (f" before “{found}”" if found else " at the end")
            )
        if self.text[self.at : self.at + 1].isdigit():
            self.at = start
            msg = f"{what} has too many digits"
            raise self.fail(msg)
        try:
            value = exact_number(match.groups())
        except ZeroDivisionError as exc:
            self.at = start
            msg = f"{what} divides by zero"
            raise self.fail(msg) from exc
        if value == 0:
            self.at = start
            msg = f"{what} must be greater than 0"
            raise self.fail(msg)
        return value

    def unit(self) -> Unit | None:
        match = self.take(_UNIT)
        if match is not None:
            return UNIT_WORDS[match[0].lower()]
        if _OTHER_WORD.match(self.text, self.at):
            msg = f"“{self.rest()}” is not understood; units are in, cm, mm and px"
            raise self.fail(msg)
        return None


class Span(BaseModel):
    """Which characters of a text say a part of a size: from `start` up to `end`."""

    model_config = ConfigDict(frozen=True)

    part: Part
    start: int
    end: int


def read_size(text: str) -> Size:
    """Read a text as a size.

    Raises
    ------
    SizeTextError
        With the place where reading stopped, why, and how to write it.

    Examples
    --------
    >>> write_size(read_size("8 1/2 x 11 in @ 300"))
    '8.5x11in@300'
    """
    return read_marked(text)[0]


def read_marked(text: str) -> tuple[Size, tuple[Span, ...]]:
    """Read a text as a size, and tell which part of it says what.

    Raises
    ------
    SizeTextError
        As `read_size`.

    Examples
    --------
    >>> [(span.part, span.start, span.end) for span in read_marked("8x10in @300")[1]]
    [('shape', 0, 6), ('resolution', 7, 11)]
    """
    reader = _Reader(text)
    if len(text) > 200:
        msg = "it is too long"
        raise reader.fail(msg)
    if not text.strip():
        msg = "there is nothing to read"
        raise reader.fail(msg)
    shape = _shape(reader)
    reader.mark("shape", 0)
    start = reader.at
    ppi = _resolution(reader)
    if ppi is not None:
        reader.mark("resolution", start)
    elif unit_of(shape) not in (None, "px"):
        reader.at = len(text.rstrip())
        why = "a printed size needs its resolution"
        raise reader.fail(
            why,
            f"Write it behind an @, like {_write_shape(shape)}@300.",
        )
    settings = _settings(reader)
    if reader.rest():
        msg = f"“{reader.rest()}” is left over"
        raise reader.fail(msg)
    try:
        turn = natural_turn(shape, settings.get("differ", "trim"))
        size = size_from({"shape": shape, "ppi": ppi, "turn": turn} | settings)
    except SizeError as exc:
        reader.at = 0
        raise reader.fail(str(exc)) from exc
    return size, tuple(reader.spans)


def _settings(reader: _Reader) -> dict[str, Any]:
    """Read what may stand behind shape and resolution, in any order, each at most once."""
    found: dict[str, Any] = {}
    while True:
        start = reader.at
        match = reader.take(_SETTING)
        if match is None:
            return found
        word = match[1].lower()
        part: Part = "dot" if word == "dot" else "turn" if word in _TURNS else "differ"
        if part in found:
            reader.at = start
            reader.skip()
            msg = f"“{match[1]}” says it a second time"
            raise reader.fail(msg)
        if part == "dot":
            across = reader.number("the dot's width")
            if not reader.take(re.compile(":")):
                msg = "a dot is written as its width to its height"
                raise reader.fail(msg, "Write it like dot 2:1.")
            found["dot"] = across / reader.number("the dot's height")
        else:
            found[part] = word
        reader.mark(part, start)


def _shape(reader: _Reader) -> Shape:
    if reader.take(_word("photo")):
        return OwnShape()
    if edge := reader.take(_EDGE):
        return _edge_shape(reader, _EDGES[edge[1].lower()])
    if reader.take(_word("within")):
        box = _exact_shape(reader, reader.number("the width"))
        return WithinShape(
            width=box.width,
            height=box.height,
            unit=box.unit,
            enlarge=reader.take(_word("enlarge")) is not None,
        )
    if reader.take(_word("window")):
        start = reader.at
        box = _exact_shape(reader, reader.number("the width"))
        if box.unit != "px" or {box.width.denominator, box.height.denominator} != {1}:
            reader.at = start
            why = "a window is cut in whole photo pixels"
            raise reader.fail(why, "Write it like window 2560x1440px.")
        return WindowShape(width=int(box.width), height=int(box.height))
    first = reader.number("the width")
    if reader.take(re.compile("%")):
        return PercentShape(percent=first)
    if reader.take(re.compile(":")):
        return RatioShape(across=first, along=reader.number("the second half of the ratio"))
    return _exact_shape(reader, first)


def _word(word: str) -> re.Pattern[str]:
    return re.compile(rf"{word}\b", re.IGNORECASE)


def _edge_shape(reader: _Reader, edge: Edge) -> EdgeShape:
    length = reader.number("the length of the edge")
    at = reader.at
    unit = reader.unit()
    if unit is None:
        reader.at = at
        told = f"{edge} {plain(length)}"
        why = "the unit is missing"
        raise reader.fail(why, f"Say in, cm, mm or px: {told}in@300 or {told}px.")
    return EdgeShape(edge=edge, length=length, unit=unit)


def _exact_shape(reader: _Reader, width: Fraction) -> ExactShape:
    before = reader.unit()
    if not reader.take(_TIMES):
        found = reader.rest()
        raise reader.fail(
            f"“{found}” stands where × and the height should" if found else "the height is missing"
        )
    height = reader.number("the height")
    at = reader.at
    after = reader.unit() or before
    if after is None:
        reader.at = at
        msg = "the unit is missing"
        raise reader.fail(
            msg,
            f"Say in, cm, mm or px: {plain(width)}x{plain(height)}in@300 is a print, "
            f"{plain(width)}x{plain(height)}px is that many pixels.",
        )
    if before is not None and before != after:
        reader.at = at
        msg = f"width in {before} and height in {after} cannot be mixed"
        raise reader.fail(msg)
    return ExactShape(width=width, height=height, unit=after)


def _resolution(reader: _Reader) -> Fraction | None:
    if not reader.take(re.compile("@")):
        return None
    value = reader.number("the resolution")
    if reader.take(re.compile(r"px\s*/\s*cm", re.IGNORECASE)):
        return value * CM_PER_INCH
    reader.take(re.compile("ppi", re.IGNORECASE))
    return value


def write_size(size: Size) -> str:
    """Write shape, unit, resolution, dot, turn and what differs so that reading gives them back.

    >>> write_size(read_size("8 1/2 x 11 in @ 300 extend"))
    '8.5x11in@300 extend'
    """
    text = _write_shape(size.shape)
    if size.ppi is not None:
        text += f"@{plain(size.ppi)}"
    if size.dot != 1:
        text += f" {_dot(size)}"
    if size.turn != natural_turn(size.shape, size.differ):
        text += f" {size.turn}"
    return text if size.differ == "trim" else f"{text} {size.differ}"


def _dot(size: Size) -> str:
    return f"dot {size.dot.numerator}:{size.dot.denominator}"


def _write_shape(shape: Shape) -> str:
    match shape:
        case PercentShape():
            return f"{plain(shape.percent)}%"
        case RatioShape():
            return f"{plain(shape.across)}:{plain(shape.along)}"
        case EdgeShape():
            return f"{shape.edge} {plain(shape.length)}{shape.unit}"
        case WithinShape():
            box = f"within {plain(shape.width)}x{plain(shape.height)}{shape.unit}"
            return f"{box} enlarge" if shape.enlarge else box
        case WindowShape():
            return f"window {shape.width}x{shape.height}px"
        case OwnShape():
            return "photo"
        case ExactShape():
            return f"{plain(shape.width)}x{plain(shape.height)}{shape.unit}"


def size_name(size: Size) -> str:
    """Name a size: as a person did, else by its shape."""
    return size.name or shape_label(size)


def shape_label(size: Size) -> str:
    """Write what a size measures, for labels: `8 × 10 in`, `long edge 2000 px`, `3:1`."""
    shape = size.shape
    match shape:
        case PercentShape():
            return f"{plain(shape.percent)} %"
        case RatioShape():
            return f"{plain(shape.across)}:{plain(shape.along)}"
        case EdgeShape():
            return f"{edge_words(shape)} {plain(shape.length)} {shape.unit}"
        case WithinShape():
            return f"within {plain(shape.width)} × {plain(shape.height)} {shape.unit}"
        case WindowShape():
            return f"window {shape.width} × {shape.height} px"
        case OwnShape():
            return "the photo's own shape"
        case ExactShape():
            return f"{plain(shape.width)} × {plain(shape.height)} {shape.unit}"


def edge_words(shape: EdgeShape) -> str:
    """Name the edge a size fixes."""
    return shape.edge if shape.edge in ("width", "height") else f"{shape.edge} edge"


@dataclass(frozen=True)
class Said:
    """Words of the sentence that says a size, and the part of its text they stand for."""

    words: str
    part: Part | None = None


def say_size(size: Size) -> str:
    """Say a size as a plain sentence: shape, resolution, pixels and turn, each apart.

    >>> say_size(read_size("8x10in@300"))
    '8 × 10 in at 300 ppi: 2400 × 3000 px, turned to suit each photo, trimmed to fill.'
    """
    return "".join(said.words for said in say_parts(size))


def say_parts(size: Size) -> tuple[Said, ...]:
    """Say a size part by part; together the parts are its sentence."""
    said = _say_shape(size)
    if size.dot != 1:
        dot = f"{size.dot.numerator} to {size.dot.denominator}"
        said += [Said(", on "), Said(f"dots {dot} in shape", "dot")]
    fixed_shape = isinstance(size.shape, ExactShape | RatioShape | WindowShape)
    if fixed_shape or size.turn != natural_turn(size.shape, size.differ):
        turn = "as written" if size.turn == "fixed" else "turned to suit each photo"
        said += [Said(", "), Said(turn, "turn")]
    if fixed_shape and (isinstance(size.shape, ExactShape) or size.differ != "trim"):
        said += [Said(", "), Said(_differ_words(size), "differ")]
    more = (*extra_words(size), *_pixel_words(size), *_file_words(size.file))
    extra = "".join(f"; {words}" for words in more)
    return (*said, Said(f"{extra}."))


def _say_shape(size: Size) -> list[Said]:
    shape = size.shape
    label = shape_label(size)
    label = label[:1].upper() + label[1:]
    pixels = " × ".join(str(pixels) for _, pixels in edges_of(size))
    at = Said("" if size.ppi is None else f" at {plain(size.ppi)} ppi", "resolution")
    none = at if size.ppi is not None else Said("; no resolution is written")
    measured = [at, Said(f": {pixels} px")] if size.ppi is not None else []
    match shape:
        case PercentShape():
            if shape.percent == 100:
                return [Said("A free crop with its pixels as they are", "shape"), none]
            return [Said(f"{plain(shape.percent)} % of a free crop's pixels", "shape"), none]
        case RatioShape():
            return [Said(f"A crop of {label} with its pixels as they are", "shape"), none]
        case OwnShape():
            return [
                Said("A crop in the photo's own shape with its pixels as they are", "shape"),
                none,
            ]
        case EdgeShape():
            if shape.unit == "px":
                return [Said(label, "shape"), Said("; the other follows the crop"), none]
            return [Said(label, "shape"), *measured, Said("; the other follows the crop")]
        case WithinShape():
            smaller = "enlarged" if shape.enlarge else "left as they are"
            told = [Said(f"Fitted {label[:1].lower()}{label[1:]}", "shape")]
            grow = Said(f"; smaller crops are {smaller}")
            return [*told, grow, none] if shape.unit == "px" else [*told, *measured, grow]
        case WindowShape():
            return [
                Said(f"A window of {pixels} photo pixels, not one value changed", "shape"),
                none,
            ]
        case ExactShape():
            if shape.unit == "px" and size.bleed is None and size.wrap is None:
                return [Said(label, "shape"), none]
            return [Said(label, "shape"), *measured]


def _differ_words(size: Size) -> str:
    words: dict[Differ, str] = {
        "trim": "trimmed to fill",
        "extend": f"extended with {colour_words(size.ground)}",
        "inside": "fitted inside, so that one edge may come out shorter",
        "stretch": "stretched to fill",
    }
    return words[size.differ]


def colour_words(colour: str) -> str:
    """Name a ground: white, black, a colour by its figures, or what of the photo fills it."""
    told = {WHITE: "white", BLACK: "black", "blur": "the photo, blurred"}
    return told.get(
        colour, {"mirror": "the photo, mirrored", "edge": "its edge"}.get(colour, colour)
    )


def extra_words(size: Size, asked: Pixels | None = None) -> tuple[str, ...]:
    """Say what is printed beyond a size's own edges, and what of it will be seen, and where.

    `asked` are the output's pixels where the size may be turned.
    """
    seen = seen_words(size, asked)
    if size.frame is None or seen is None:
        return margin_words(size)
    behind = "in the mat's window" if size.frame.mat else "inside the frame's lip"
    return (*margin_words(size), f"{seen} seen {behind}")


def margin_words(size: Size) -> tuple[str, ...]:
    """Say bleed and wrap, where a size has them."""
    told = ((size.bleed, "bleed all round"), (size.wrap, "to wrap on every side"))
    return tuple(f"{length_words(length)} {what}" for length, what in told if length is not None)


def seen_words(size: Size, asked: Pixels | None = None) -> str | None:
    """Say how much of a framed print will be seen, in the size's own unit."""
    seen = seen_inches(size)
    if seen is None:
        return None
    if asked is not None and (seen[0] - seen[1]) * (asked[0] - asked[1]) < 0:
        seen = (seen[1], seen[0])
    unit = unit_of(size.shape)
    shown: Unit = "in" if unit in (None, "px") else unit
    edges = " × ".join(rounded(float(edge * PER_INCH[shown]), 2) for edge in seen)
    return f"{edges} {shown}"


METHOD_WORDS: dict[MethodChoice, tuple[str, str]] = {
    "auto": ("chosen for you", "fine texture when shrinking, calm edges when enlarging"),
    "mitchell": ("gentle", "for skin and noisy photos: a little soft, no rims at edges"),
    "bicubic": ("natural", "for most photos when enlarging: calm, true to what is there"),
    "lanczos": ("crisp", "for fine texture and lines: sharpest, faint rims at hard edges"),
    "nearest": ("blocks", "for pixel art and screenshots at whole factors: every pixel a block"),
}
"""Each method's plain name, and one line saying when to pick it."""
SHARPEN_WORDS: dict[SharpenFor, tuple[str, str]] = {
    "off": ("off", "nothing is sharpened"),
    "screen": ("glowing screen", "light strength, a pixel wide"),
    "smooth": ("smooth surface", "for glossy and lustre paper"),
    "rough": ("rough surface", "for matte paper and canvas, which spread ink"),
}
"""What the output is looked at on, and what that does."""


def _pixel_words(size: Size) -> Sequence[str]:
    """Say how pixels are made, where it isn't as usual."""
    told = [] if size.method == "auto" else [f"resampled {METHOD_WORDS[size.method][0]}"]
    if size.sharpen_for != "off":
        strength = "" if size.sharpen is None else f", strength {size.sharpen}"
        told.append(f"sharpened for a {SHARPEN_WORDS[size.sharpen_for][0]}{strength}")
    return told


FORMAT_WORDS: dict[FileFormat, str] = {
    "jpeg": "JPEG", "png": "PNG", "tiff": "TIFF", "webp": "WebP", "avif": "AVIF",
}  # fmt: skip
PROFILE_WORDS: dict[Profile, str] = {
    "keep": "as it came", "srgb": "sRGB", "p3": "Display P3", "grey": "grey",
    "receiver": "the receiver's profile",
}  # fmt: skip


def profile_words(file: FileSettings) -> str:
    """Name the profile a file is made in."""
    return PROFILE_WORDS[file.profile] if file.icc is None else file.icc.name


def _file_words(file: FileSettings) -> Sequence[str]:
    """Say how the file is written, where it isn't as usual."""
    article = "an" if file.format == "avif" else "a"
    told = [f"{article} {FORMAT_WORDS[file.format]}"] if file.format != "jpeg" else []
    if file.profile != "keep":
        told.append(f"in {profile_words(file)}")
    if file.at_most is not None:
        told.append(f"at most {limit_words(file.at_most)}")
    if file.metadata != "keep":
        told.append("only its copyright told" if file.metadata == "copyright" else "no metadata")
    if not file.location:
        told.append("without its place")
    return told
