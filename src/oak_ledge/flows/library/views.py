"""Sizes as the pages show them, and what a person says of one."""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.files.names import stem_on
from oak_ledge.core.files.proof import asked_of
from oak_ledge.core.marks.mark import NamedMark
from oak_ledge.core.measures.bytes import limit_words
from oak_ledge.core.measures.lengths import ExactLength, Pixels
from oak_ledge.core.measures.numbers import Exact
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.sizes.checks import refuse_open_extend
from oak_ledge.core.sizes.choices import Differ, Group, MethodChoice, SharpenFor
from oak_ledge.core.sizes.edges.border import BorderAsked
from oak_ledge.core.sizes.edges.frame import Frame, outer_of
from oak_ledge.core.sizes.edges.sides import SidesAsked
from oak_ledge.core.sizes.fields import LONGEST_NAME
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.core.sizes.file.formats import format_of
from oak_ledge.core.sizes.file.ppi_range import PpiRange
from oak_ledge.core.sizes.file_geometry import joints_path
from oak_ledge.core.sizes.geometry import (
    edge_path,
    edges_of,
    file_edges,
    inches,
    ratio_is_open,
    seen_inches,
    whole_margin,
    written_pixels,
)
from oak_ledge.core.sizes.ground import Fill
from oak_ledge.core.sizes.size import Size, changed_size, size_from
from oak_ledge.core.sizes.text.read import read_marked, read_size
from oak_ledge.core.sizes.text.reader import Span
from oak_ledge.core.sizes.text.sentence import (
    SizeWords,
    margin_words,
    say_parts,
    say_size,
    seen_words,
)
from oak_ledge.core.sizes.text.write import (
    border_text,
    shape_label,
    size_name,
    write_shape,
    write_size,
)
from oak_ledge.store.library.sizes import SavedSize


class SizeView(BaseModel):
    """A size with its text and its words."""

    name: str
    text: str
    """all of it that one line can say"""
    shape_text: str
    """its shape alone, without what is said of ground, edges, file and pixels"""
    label: str
    sentence: str
    free: bool
    size: Size


def size_view(size: Size) -> SizeView:
    """Return a size with its sentence, text and figures."""
    return SizeView(
        name=size_name(size),
        text=write_size(size),
        shape_text=write_shape(size),
        label=shape_label(size),
        sentence=say_size(size),
        free=ratio_is_open(size),
        size=size,
    )


EXAMPLE = ("quay-at-dusk.jpg", (6000, 4000))


class SizeBody(BaseModel):
    """What a person says of a size; what is left out stays, or begins as usual."""

    model_config = ConfigDict(extra="forbid")

    text: str | None = Field(default=None, max_length=500, description="such as 8x10in@300")
    name: str | None = Field(default=None, max_length=LONGEST_NAME)
    group: Group | None = None
    differ: Differ | None = None
    ground: Fill | None = None
    bleed: ExactLength | None = None
    border: BorderAsked | None = None
    mark: NamedMark | None = None
    wrap: ExactLength | None = None
    sides: SidesAsked | None = None
    frame: Frame | None = None
    method: MethodChoice | None = None
    sharpen_for: SharpenFor | None = None
    sharpen: int | None = Field(default=None, ge=0, le=100)
    receiver: PpiRange | None = None
    goes_to: str | None = Field(default=None, max_length=LONGEST_NAME)
    greatest_enlargement: Exact | None = None
    file: FileSettings | None = None


class SizeChange(SizeBody):
    """A saved size as it was read, with what shall be otherwise.

    Of what was read, facts that only the server says are passed over; where `text` and `size`
    disagree, `size` wins.
    """

    version: int = Field(
        ge=1, le=2**63 - 1, description="the version it was read at; an older one is refused"
    )
    size: Size | None = None
    id: Any = Field(default=None, exclude=True)
    shape_text: Any = Field(default=None, exclude=True)
    label: Any = Field(default=None, exclude=True)
    sentence: Any = Field(default=None, exclude=True)
    free: Any = Field(default=None, exclude=True)
    used_in: Any = Field(default=None, exclude=True)
    pixels: Any = Field(default=None, exclude=True)
    outline: Any = Field(default=None, exclude=True)
    outline_unit: Any = Field(default=None, exclude=True)
    beyond: Any = Field(default=None, exclude=True)
    seen: Any = Field(default=None, exclude=True)
    framed: Any = Field(default=None, exclude=True)
    edge: Any = Field(default=None, exclude=True)
    joints: Any = Field(default=None, exclude=True)
    border_text: Any = Field(default=None, exclude=True)
    at_most: Any = Field(default=None, exclude=True)
    extra: Any = Field(default=None, exclude=True)


class SizeRead(SizeView):
    """A text that was read: which of its characters say what, and the sentence part by part."""

    spans: tuple[Span, ...]
    said: tuple[SizeWords, ...]
    file_name: str
    """such as its files would be called"""


class SavedSizeView(SizeView):
    """A size of the library, with the jobs that took it and its outlines in inches or pixels."""

    id: int
    group: Group
    version: int
    used_in: list[str]
    pixels: str
    outline: tuple[float, float] | None
    outline_unit: Literal["in", "px"]
    beyond: tuple[float, float] | None
    """the file with bleed and wrap, where it is larger than the print"""
    seen: tuple[float, float] | None
    """what lip or mat leave to be seen"""
    framed: tuple[float, float] | None
    """the frame's outer edge"""
    edge: str
    """the outline a piece is cut along, as path data in the unit square; empty for a rectangle"""
    joints: str
    """where it is cut in panels, likewise"""
    at_most: str
    """the file's greatest bytes, as they are written"""
    border_text: str
    """the border as it is written: one length or four; empty without one"""
    extra: tuple[str, ...]
    """border, bleed, wrap and what is seen, in words"""


class SizesTakenIn(BaseModel):
    """What taking a library in did, or would do: names."""

    added: list[str]
    same: list[str]
    renamed: list[tuple[str, str]]


def read_over(text: str, size: Size, plain: Size, *, named: bool) -> SizeRead:
    """Return a size that was read of a text, or is `named` by it, changed as was said beside it.

    What was said is put over the `plain` size.

    The text answered differs from the one given only where that is a name, or what else is said
    differs from it.
    """
    if named or write_shape(size) != write_shape(plain):
        text = write_shape(size)
    spans = read_marked(text)[1]
    shown = dict(size_view(size)) | {"text": text}
    return SizeRead(**shown, spans=spans, said=say_parts(size), file_name=file_name_of(size))


def file_name_of(size: Size) -> str:
    """Return the name of the file that a photo of 24 megapixels would make.

    Raises
    ------
    FileError
        If the name pattern has a field that does not exist.
    """
    photo, upright = EXAMPLE
    body = asked_of(size, lying_on(size, upright, suggest(size, upright)).asked)
    return stem_on(size, body, photo, "Quay in summer", 1) + format_of(size.file.format).ending


def with_text(size: Size, text: str) -> Size:
    """Put what a text says over a size.

    All that a line can say is as it is written; what stands in no line stays.
    """
    written = read_size(text)
    stay = ("name", "group", "backdrop", "mark", "receiver", "greatest_enlargement", "file")
    fields = {name: value for name, value in written if name not in stay}
    kept = {
        name: getattr(size.file, name)
        for name in ("floor", "fine_colour", "progressive", "compression")
    }
    if size.file.icc is not None and written.file.profile == "keep":
        kept |= {"icc": size.file.icc, "profile": size.file.profile}
    marks = {"marks": size.sides.marks} if size.sides and written.sides else {}
    if marks and written.sides:
        fields["sides"] = written.sides.model_copy(update=marks)
    return changed_size(size, **fields, file=written.file.model_copy(update=kept))


def said_over(size: Size, body: SizeBody) -> Size:
    """Put what a person said over a size, checked as a whole."""
    fields = body.model_dump(exclude_unset=True, exclude={"text", "version", "size"})
    # none takes one of these away; of the rest it says nothing
    may_go = ("receiver", "bleed", "border", "mark", "wrap", "sides", "frame", "sharpen")
    fields = {name: value for name, value in fields.items() if value is not None or name in may_go}
    size_meant = size_from(dict(size) | fields)
    refuse_open_extend(size_meant)
    file_name_of(size_meant)  # a pattern that can't be is refused here, not when files are made
    return size_meant


def view_of(saved: SavedSize, used: dict[int, list[str]]) -> SavedSizeView:
    """Return a saved size with the jobs that use it."""
    return SavedSizeView.model_construct(
        id=saved.id,
        version=saved.version,
        used_in=used.get(saved.id, []),
        **_words_of(saved.size),
    )


@lru_cache(maxsize=4096)  # a library is shown again and again, and changes size by size
def _words_of(size: Size) -> dict[str, Any]:
    """All that is shown of a saved size and follows from the size alone."""
    lengths = inches(size) if size.shape.measured_in != "px" else None
    outline = lengths or written_pixels(size)
    pixels = [*file_edges(size)] if size.sides or size.border else [px for _, px in edges_of(size)]
    edges = " × ".join(map(str, pixels))
    more = 2 * whole_margin(size)
    file = (lengths[0] + more, lengths[1] + more) if lengths and more else None
    framed = outer_of(size.frame, lengths) if size.frame and lengths else None
    seen = seen_words(size)
    return dict(size_view(size)) | {
        "group": size.group,
        "pixels": f"{edges} px" if edges else "as the crop has",
        "outline": _floats(outline),
        "outline_unit": "in" if lengths else "px",
        "beyond": _floats(file),
        "seen": _floats(seen_inches(size)),
        "framed": _floats(framed),
        "edge": edge_path(size, (pixels[0], pixels[1])) if outline else "",
        "joints": joints_path(size, whole) if (whole := written_pixels(size)) else "",
        "border_text": border_text(size),
        "extra": (
            *([size.border.words] if size.border else []),
            *margin_words(size),
            *([f"{seen} seen"] if seen else []),
        ),
        "at_most": "" if size.file.at_most is None else limit_words(size.file.at_most),
    }


def _floats(edges: tuple[Fraction, Fraction] | Pixels | None) -> tuple[float, float] | None:
    return None if edges is None else (float(edges[0]), float(edges[1]))
