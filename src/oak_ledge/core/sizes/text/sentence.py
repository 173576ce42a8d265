"""A size as a plain sentence, part by part."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from oak_ledge.core.heads.head_asked import EyesAsked, HeadAsked
from oak_ledge.core.marks.mark import NamedMark
from oak_ledge.core.measures.bytes import limit_words
from oak_ledge.core.measures.lengths import PER_INCH, Pixels, Unit, length_words
from oak_ledge.core.measures.numbers import decimal, rounded
from oak_ledge.core.sizes.choices import Differ, MethodChoice, Profile, SharpenFor
from oak_ledge.core.sizes.file.file_settings import DEFAULT_PATTERN, USUAL_QUALITY, FileSettings
from oak_ledge.core.sizes.file.formats import FORMATS
from oak_ledge.core.sizes.file_geometry import file_pixels, printed_pixels
from oak_ledge.core.sizes.geometry import (
    edges_of,
    file_edges,
    inches,
    margin,
    outside_of,
    print_pixels,
    seen_inches,
    usual_turn,
    whole_shape,
    written_pixels,
)
from oak_ledge.core.sizes.ground import BLACK, GROUNDS, WHITE
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.reader import Part


@dataclass(frozen=True)
class SizeWords:
    """Words of the sentence that says a size, and the part of its text they stand for."""

    words: str
    part: Part | None = None


def say_size(size: Size) -> str:
    """Return a size as a plain sentence: shape, resolution, pixels and turn, one after the other.

    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> say_size(read_size("8x10in@300"))
    '8 × 10 in at 300 ppi: 2400 × 3000 px, turned to suit each photo, trimmed to fill.'
    """
    return "".join(part.words for part in say_parts(size))


def say_parts(size: Size) -> tuple[SizeWords, ...]:
    """Return the parts of a size's sentence."""
    saids = _say_shape(size)
    if size.dot != 1:
        dot = f"{size.dot.numerator} to {size.dot.denominator}"
        saids += [SizeWords(", on "), SizeWords(f"dots {dot} in shape", "dot")]
    fixed_shape = size.shape.fixes_shape
    if fixed_shape or size.turn != usual_turn(size):
        turn = "as written" if size.turn == "fixed" else "turned to suit each photo"
        saids += [SizeWords(", "), SizeWords(turn, "turn")]
    if fixed_shape and (size.shape.both_edges or size.differ != "trim"):
        saids += [SizeWords(", "), SizeWords(_differ_words(size), "differ")]
    if size.fills is not None:
        saids += [SizeWords(f", the subject filling {decimal(size.fills)} %", "differ")]
    if size.head is not None:
        saids += [SizeWords(", "), SizeWords(_head_words(size.head, size.eyes), "differ")]
    if size.outline is not None:
        saids += [SizeWords(", "), SizeWords(size.outline.words, "outline")]
        if not FORMATS[size.file.format].alpha:
            saids += [
                SizeWords(f" ({colour_words(outside_of(size))} outside, as JPEG has nothing clear)")
            ]
    if size.panels is not None:
        whole, ratio = written_pixels(size), whole_shape(size).ratio
        if whole is not None:
            saids += [SizeWords(f"; one picture of {whole[0]} × {whole[1]} px, cut in ")]
        else:
            across, along = ratio or (Fraction(1), Fraction(1))
            saids += [SizeWords(f"; {decimal(across)}:{decimal(along)} together, cut in ")]
        saids += [SizeWords(f"{size.panels.words}{_on_wall(size)}", "panels")]
    parts: tuple[tuple[Part, Sequence[str]], ...] = (
        ("differ", _ground_words(size)),
        ("edges", (*_border_words(size), *margin_words(size))),
        ("edges", () if size.mark is None else (f"the mark {size.mark.name} {_at(size.mark)}",)),
        ("frame", extra_words(size)[len(margin_words(size)) :]),
        ("pixels", _pixel_words(size)),
        ("file", _file_words(size.file)),
        ("file", (f"for {size.goes_to}",) if size.goes_to else ()),
    )
    for part, words in parts:
        for word in words:
            saids += [SizeWords("; "), SizeWords(word, part)]
    return (*saids, SizeWords("."))


def _head_words(head: HeadAsked, eyes: EyesAsked | None) -> str:
    height = "" if eyes is None else f" with the eyes at {eyes.words} of the height"
    return f"a head of {head.words}{height}"


def _at(mark: NamedMark) -> str:
    if mark.place == "calm":
        return "where it is calmest"
    return f"at the {mark.place.replace('-', ' ')}"


def _border_words(size: Size) -> Sequence[str]:
    if size.border is None:
        return ()
    wide, high = (pixels for _, pixels in edges_of(size))
    return (f"{size.border.words}, which leaves {wide} × {high} px for the picture",)


def _on_wall(size: Size) -> str:
    """Return how much of a wall panels take that hang apart."""
    lengths, unit = inches(size), size.shape.measured_in
    if size.panels is None or size.panels.gap is None or lengths is None or unit in (None, "px"):
        return ""
    width, height = (decimal(edge * PER_INCH[unit]) for edge in lengths)
    return f", {width} × {height} {unit} on the wall"


def _ground_words(size: Size) -> Sequence[str]:
    """Return what would fill beyond the photo, where a size that does not extend says so."""
    if size.backdrop is not None:
        return (f"the photo {size.backdrop.name} behind it",)
    if size.differ == "extend" or size.ground == WHITE:
        return ()
    return (f"beyond the photo {colour_words(size.ground)}",)


def _say_shape(size: Size) -> list[SizeWords]:
    shape, edges = size.shape, tuple(pixels for _, pixels in edges_of(size))
    if size.border is not None:
        edges = print_pixels(size)
    parts = [SizeWords(shape.sentence(edges), "shape")]
    remark = [SizeWords(shape.remark)] if shape.remark else []
    at = SizeWords("" if size.ppi is None else f" at {decimal(size.ppi)} ppi", "resolution")
    lengths = shape.measured_in not in (None, "px")
    if shape.both_edges and margin(size):
        lengths = True
    if lengths:
        measured = (
            [at, SizeWords(f": {' × '.join(map(str, edges))} px")] if size.ppi is not None else []
        )
        return [*parts, *measured, *remark]
    if size.ppi is not None:
        return [*parts, *remark, at]
    label = (
        "the photo's resolution label stays" if shape.keeps_pixels else "no resolution is written"
    )
    return [*parts, *remark, SizeWords(f"; {label}")]


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
    if colour in GROUNDS:
        return GROUNDS[colour].in_sentence or GROUNDS[colour].words
    return {WHITE: "white", BLACK: "black"}.get(colour, colour)


def extra_words(size: Size, output: Pixels | None = None) -> tuple[str, ...]:
    """Return what is printed beyond a size's own edges, and what of it will be seen, and where.

    `output` are the output's pixels where the size may be turned.
    """
    seen, more = seen_words(size, output), margin_words(size)
    if size.sides is not None or (size.border is not None and size.bleed is not None):
        wide, high = file_edges(size) if output is None else file_pixels(size, output)
        more = (*more, f"{wide} × {high} px with its {'sides' if size.sides else 'bleed'}")
    if size.frame is None or seen is None:
        return more
    behind = "inside the frame's lip"
    if size.frame.mat is not None:
        behind = f"in the mat's {'round ' if size.frame.mat.round else ''}window"
    return (*more, f"{seen} seen {behind}")


def margin_words(size: Size) -> tuple[str, ...]:
    """Return the words for bleed and wrap, where a size has them."""
    parts = ((size.bleed, "bleed all round"), (size.wrap, "to wrap on every side"))
    words = [f"{length_words(length)} {what}" for length, what in parts if length is not None]
    return tuple(words if size.sides is None else [*words, size.sides.words])


def seen_words(size: Size, output: Pixels | None = None) -> str | None:
    """Return how much of a framed print will be seen, in the size's own unit."""
    seen = seen_inches(size)
    if seen is None:
        return None
    if output is not None:
        output = printed_pixels(size, output)
        seen = seen if (seen[0] - seen[1]) * (output[0] - output[1]) >= 0 else (seen[1], seen[0])
    unit = size.shape.measured_in
    shown: Unit = "in" if unit in (None, "px") else unit
    edges = " × ".join(rounded(float(edge * PER_INCH[shown]), 2) for edge in seen)
    return f"{edges} {shown}"


# Each method's plain name, and one line saying when to pick it.
METHOD_WORDS: dict[MethodChoice, tuple[str, str]] = {
    "auto": ("chosen for you", "fine texture when shrinking, calm edges when enlarging"),
    "mitchell": ("gentle", "for skin and noisy photos: a little soft, no halos at edges"),
    "bicubic": ("natural", "for most photos when enlarging: calm, true to what is there"),
    "lanczos": ("crisp", "for fine texture and lines: sharpest, faint halos at hard edges"),
    "nearest": ("blocks", "for pixel art and screenshots at whole factors: every pixel a block"),
}


# What the output is looked at on, and what that does.
SHARPEN_WORDS: dict[SharpenFor, tuple[str, str]] = {
    "off": ("none", "nothing is sharpened"),
    "screen": ("screen", "light strength, a pixel wide"),
    "smooth": ("smooth paper", "for glossy and lustre paper"),
    "rough": ("rough paper or canvas", "for matte paper and canvas, which spread ink"),
}


def _pixel_words(size: Size) -> Sequence[str]:
    """Return how pixels are made, where it isn't as usual."""
    parts = [] if size.method == "auto" else [f"resampled {METHOD_WORDS[size.method][0]}"]
    if size.sharpen_for != "off":
        strength = "" if size.sharpen is None else f", strength {size.sharpen}"
        parts.append(f"sharpened for {SHARPEN_WORDS[size.sharpen_for][0]}{strength}")
    return parts


PROFILE_WORDS: dict[Profile, str] = {
    "keep": "as it came", "srgb": "sRGB", "p3": "Display P3", "grey": "grey",
    "receiver": "the receiver's profile",
}  # fmt: skip


def profile_words(file: FileSettings) -> str:
    """Name the profile a file is made in."""
    return PROFILE_WORDS[file.profile] if file.icc is None else file.icc.name


def _file_words(file: FileSettings) -> Sequence[str]:
    """Return how the file is written, where it isn't as usual."""
    parts = [FORMATS[file.format].a_file] if file.format != "jpeg" else []
    if file.quality != USUAL_QUALITY:
        parts.append(f"quality {file.quality}")
    if file.bits is not None:
        parts.append(f"{file.bits} bit")
    if file.profile != "keep":
        parts.append(f"in {profile_words(file)}")
    if file.at_most is not None:
        parts.append(f"at most {limit_words(file.at_most)}")
    if file.metadata != "keep":
        parts.append("copyright only" if file.metadata == "copyright" else "no metadata")
    if not file.location:
        parts.append("no location")
    if file.pattern != DEFAULT_PATTERN:
        parts.append(f"named {file.pattern}")
    return parts
