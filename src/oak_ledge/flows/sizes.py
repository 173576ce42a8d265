"""The library of saved sizes: read, kept, changed, deleted, brought back, exchanged."""

from __future__ import annotations

from collections.abc import Set
from datetime import datetime
from fractions import Fraction
from functools import lru_cache
from itertools import count
from pathlib import PurePath
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.errors import SizeError
from oak_ledge.core.files.formats import ENDINGS
from oak_ledge.core.measures.bytes import limit_words
from oak_ledge.core.measures.lengths import ExactLength, Pixels
from oak_ledge.core.measures.numbers import Exact, clipped
from oak_ledge.core.placements.crop import asked_pixels
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.sizes.choices import Differ, Group, MethodChoice, SharpenFor
from oak_ledge.core.sizes.file_settings import FileSettings
from oak_ledge.core.sizes.frame import Frame, outer_of
from oak_ledge.core.sizes.ground import Fill
from oak_ledge.core.sizes.shapes import ExactShape
from oak_ledge.core.sizes.size import (
    LONGEST_NAME,
    PpiRange,
    Size,
    changed_size,
    edges_of,
    inches,
    like_photo,
    margin,
    seen_inches,
    size_from,
    written_pixels,
)
from oak_ledge.core.sizes.starters import STARTERS
from oak_ledge.core.sizes.text.exchange import read_file, write_csv, write_json
from oak_ledge.core.sizes.text.read import Span, read_marked, read_size
from oak_ledge.core.sizes.text.sentence import Said, margin_words, say_parts, seen_words
from oak_ledge.core.sizes.text.write import size_name, write_size
from oak_ledge.core.sizes.twin import twin_of
from oak_ledge.flows.making import stem_on
from oak_ledge.flows.photos import find_photo
from oak_ledge.flows.placements import SizeView, load, size_view
from oak_ledge.flows.workspace import AskedError, ChangedMeanwhileError, NotFoundError, Workspace
from oak_ledge.store import sizes
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.sizes import SavedSize

EXAMPLE = ("quay-at-dusk.jpg", (6000, 4000))


class SizeAsked(BaseModel):
    """What a person says of a size; what is left out stays, or begins as usual."""

    model_config = ConfigDict(extra="forbid")

    text: str | None = Field(default=None, max_length=500, description="such as 8x10in@300")
    name: str | None = Field(default=None, max_length=LONGEST_NAME)
    group: Group | None = None
    differ: Differ | None = None
    ground: Fill | None = None
    bleed: ExactLength | None = None
    wrap: ExactLength | None = None
    frame: Frame | None = None
    method: MethodChoice | None = None
    sharpen_for: SharpenFor | None = None
    sharpen: int | None = Field(default=None, ge=0, le=100)
    receiver: PpiRange | None = None
    greatest_enlargement: Exact | None = None
    file: FileSettings | None = None


class SizeChange(SizeAsked):
    """A saved size as it was read, with what shall be otherwise.

    Of what was read, facts that only the server says are passed over; where `text` and `size`
    disagree, `size` wins.
    """

    version: int = Field(
        ge=1, le=2**63 - 1, description="the version it was read at; an older one is refused"
    )
    size: Size | None = None
    id: Any = Field(default=None, exclude=True)
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
    at_most: Any = Field(default=None, exclude=True)
    extra: Any = Field(default=None, exclude=True)


class SizeRead(SizeView):
    """A text that was read: which of its characters say what, and the sentence part by part."""

    spans: tuple[Span, ...]
    said: tuple[Said, ...]
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
    at_most: str
    """the file's greatest bytes, as they are written"""
    extra: tuple[str, ...]
    """bleed, wrap and what is seen, in words"""


class TakenIn(BaseModel):
    """What taking a library in did, or would do: names."""

    added: list[str]
    same: list[str]
    renamed: list[tuple[str, str]]


def every(workspace: Workspace) -> list[SavedSizeView]:
    with reading(workspace.sessions) as session:
        used = sizes.uses(session)
        return [_view(saved, used) for saved in sizes.every(session)]


def view(workspace: Workspace, size_id: int) -> SavedSizeView:
    with reading(workspace.sessions) as session:
        return _view(_find(session, size_id), sizes.uses(session))


def read(asked: SizeAsked) -> SizeRead:
    """Read a text as a size, put what else is said over it, and say it all as a sentence.

    The spans are those of the text that is answered, which differs from the one given only where
    what else is said does.
    """
    text = asked.text or ""
    plain, spans = read_marked(text)
    size = _told(plain, asked)
    if write_size(size) != write_size(plain):
        text = write_size(size)
        spans = read_marked(text)[1]
    told = dict(size_view(size)) | {"text": text}
    return SizeRead(**told, spans=spans, said=say_parts(size), file_name=_file_name(size))


def _file_name(size: Size) -> str:
    """Give the name of the file that a photo of 24 megapixels would make.

    Raises
    ------
    FileError
        If the name pattern has a field that does not exist.
    """
    photo, held = EXAMPLE
    pixels = asked_pixels(size, held, suggest(size, held))
    return stem_on(size, pixels, photo, "Quay in summer", 1) + ENDINGS[size.file.format]


def chosen(session: Session, text: str | None, size_id: int | None) -> Size:
    """Give the size a person wrote, else the saved one they chose."""
    if text:
        return read_size(text)
    if size_id is None:
        msg = "Choose a size, or write one like 8x10in@300."
        raise AskedError(msg)
    saved = sizes.find(session, size_id)
    if saved is None:
        msg = f"There is no size {size_id}."
        raise NotFoundError(msg)
    return saved.size


def add(workspace: Workspace, asked: SizeAsked) -> SavedSizeView:
    """Keep a new size; a name that is taken gets a number behind it."""
    if not asked.text:
        msg = "A size begins with its text, such as 8x10in@300."
        raise SizeError(msg)
    with transaction(workspace.sessions) as session:
        size = _told(read_size(asked.text), asked)
        return _view(sizes.add(session, _named(session, size)), {})


def change(workspace: Workspace, size_id: int, asked: SizeChange) -> SavedSizeView:
    """Change a saved size. Jobs that took it keep their copy as it was.

    Raises
    ------
    ChangedMeanwhileError
        If it stands at another version than the one that was read.
    """
    with transaction(workspace.sessions) as session:
        saved = _find(session, size_id)
        newest = saved.version == asked.version
        if newest:
            saved = sizes.change(session, size_id, _changed(saved.size, asked))
        told = _view(saved, sizes.uses(session))
    if not newest:
        msg = (
            f"“{size_name(saved.size)}” was changed meanwhile (version {saved.version}, "
            f"yours was {asked.version}). Look at it again, then change it."
        )
        raise ChangedMeanwhileError(msg, told)
    return told


def _changed(saved: Size, asked: SizeChange) -> Size:
    """Put what was sent back over a saved size: first as a whole, then field by field."""
    size = saved
    if asked.size is not None:
        size = asked.size
        # name and group stand beside the size too: the one that was changed is meant
        for name in ("name", "group"):
            if getattr(asked, name) is not None and getattr(size, name) == getattr(saved, name):
                size = changed_size(size, **{name: getattr(asked, name)})
        said = asked.model_copy(update={"name": None, "group": None})
        return _told(size, said)
    if asked.text:
        size = with_text(size, asked.text)
    return _told(size, asked)


def with_text(size: Size, text: str) -> Size:
    """Put what a text says over a size; the rest of it stays."""
    told = read_size(text)
    said = {name: getattr(told, name) for name in ("shape", "ppi", "dot", "turn", "differ")}
    return changed_size(size, **said)


def delete(workspace: Workspace, size_id: int, now: datetime) -> SavedSizeView:
    """Delete a size; jobs keep their copies, and it can be brought back."""
    with transaction(workspace.sessions) as session:
        told = _view(_find(session, size_id), sizes.uses(session))
        sizes.delete(session, size_id, now)
        return told


def delete_named(workspace: Workspace, name: str, now: datetime) -> SavedSizeView:
    """Delete the size of a name."""
    with transaction(workspace.sessions) as session:
        saved = _named_one(session, name)
        told = _view(saved, sizes.uses(session))
        sizes.delete(session, saved.id, now)
        return told


def restore(workspace: Workspace, size_id: int) -> SavedSizeView:
    with transaction(workspace.sessions) as session:
        saved = sizes.restore(session, size_id)
        if saved is None:
            raise NotFoundError(_no_size(size_id))
        return _view(saved, sizes.uses(session))


def keep_of(workspace: Workspace, placement_id: int) -> SavedSizeView:
    """Keep the size a placement lies on in the library; a free crop is kept as its exact pixels."""
    placed = load(workspace, placement_id)
    size = size_at(placed.size, placed.placement)
    if placed.placement.free is not None:
        width, height = placed.placement.free
        label = None if size.ppi is None else float(size.ppi)
        size = like_photo(size.name, (width, height), label).model_copy(
            update={"group": size.group, "file": size.file, "receiver": size.receiver}
        )
    with transaction(workspace.sessions) as session:
        return _view(sizes.add(session, _named(session, size)), {})


def keep_like(workspace: Workspace, photo_id: int) -> SavedSizeView:
    """Keep the size of a photo in the library: its pixels, its resolution label, so its shape."""
    photo = find_photo(workspace, photo_id)
    size = like_photo(f"like {PurePath(photo.name).stem}", photo.facts.held, photo.facts.ppi)
    with transaction(workspace.sessions) as session:
        return _view(sizes.add(session, _named(session, size)), {})


def copy(workspace: Workspace, size_id: int, *, twin: bool) -> SavedSizeView:
    """Keep a copy of a size, or its twin with width and height traded."""
    with transaction(workspace.sessions) as session:
        size = _find(session, size_id).size
        name = size_name(size)
        copied = changed_size(size, name=with_tail(name, ", copy"))
        if twin:
            copied = changed_size(twin_of(size), name=with_tail(name, ", twin"))
        return _view(sizes.add(session, _named(session, copied)), {})


def named(workspace: Workspace, name: str) -> Size:
    """Find a saved size by its name."""
    with reading(workspace.sessions) as session:
        return _named_one(session, name).size


def _named_one(session: Session, name: str) -> SavedSize:
    saved = sizes.find_by_name(session, name)
    if saved is None:
        names = [size_name(one.size) for one in sizes.every(session)]
        msg = f"there is no size “{clipped(name)}”; there are {', '.join(names) or 'none yet'}"
        raise SizeError(msg)
    return saved


def export(workspace: Workspace, kind: Literal["json", "csv"]) -> str:
    with reading(workspace.sessions) as session:
        library = [saved.size for saved in sizes.every(session)]
    return write_csv(library) if kind == "csv" else write_json(library)


def take_in(workspace: Workspace, text: str, *, only_tell: bool = False) -> TakenIn:
    """Take a library in from JSON or CSV: all of it or nothing.

    A size that is here already, equal in every field, is passed over; one whose name is taken
    by another size is kept under a new name. `only_tell` reports and keeps nothing.
    """
    told = TakenIn(added=[], same=[], renamed=[])
    incoming, tails = read_file(text), dict[str, int]()
    with transaction(workspace.sessions) as session:
        here = {saved.size for saved in sizes.every(session)}
        taken = {size.name for size in here}
        for size in incoming:
            if size in here:
                told.same.append(size_name(size))
                continue
            kept = _with_free_name(size, taken, tails)
            here.add(kept)
            taken.add(kept.name)
            if kept.name == size.name:
                told.added.append(kept.name)
            else:
                told.renamed.append((size.name, kept.name))
            if not only_tell:
                sizes.add(session, kept)
    return told


def add_starters(workspace: Workspace) -> None:
    """Give a library that never held anything its first sizes."""
    with transaction(workspace.sessions) as session:
        if sizes.count(session):
            return
        for name, group, text, receiver, more in STARTERS:
            told = {"name": name, "group": group, "receiver": receiver} | more
            sizes.add(session, size_from(dict(read_size(text)) | told))


def _told(size: Size, asked: SizeAsked) -> Size:
    """Put what a person said over a size, checked as a whole."""
    said = asked.model_dump(exclude_unset=True, exclude={"text", "version", "size"})
    # none takes one of these away; of the rest it says nothing
    may_go = ("receiver", "bleed", "wrap", "frame", "sharpen")
    said = {name: value for name, value in said.items() if value is not None or name in may_go}
    found = size_from(dict(size) | said)
    _file_name(found)  # a pattern that can't be is refused here, not when files are made
    return found


def _named(session: Session, size: Size) -> Size:
    return _with_free_name(size, {saved.size.name for saved in sizes.every(session)})


def _with_free_name(size: Size, taken: Set[str], tails: dict[str, int] | None = None) -> Size:
    """Give a size a name that is not taken; `tails` remember how far each was counted."""
    wanted = (size.name.strip() or size_view(size).label)[:LONGEST_NAME]
    name = wanted
    if name in taken:
        tails = {} if tails is None else tails
        for number in count(tails.get(wanted, 2)):
            name = with_tail(wanted, f" {number}")
            if name not in taken:
                tails[wanted] = number + 1
                break
    return changed_size(size, name=name)


def with_tail(name: str, tail: str) -> str:
    """Put a tail to a name, which is cut for it where it would become too long."""
    return name[: LONGEST_NAME - len(tail)].rstrip() + tail


def _find(session: Session, size_id: int) -> SavedSize:
    saved = sizes.find(session, size_id)
    if saved is None:
        raise NotFoundError(_no_size(size_id))
    return saved


def _no_size(size_id: int) -> str:
    return f"There is no size {size_id}."


def _view(saved: SavedSize, used: dict[int, list[str]]) -> SavedSizeView:
    return SavedSizeView.model_construct(
        id=saved.id,
        version=saved.version,
        used_in=used.get(saved.id, []),
        **_words_of(saved.size),
    )


@lru_cache(maxsize=4096)  # a library is shown again and again, and changes size by size
def _words_of(size: Size) -> dict[str, Any]:
    """All that is shown of a saved size and follows from the size alone."""
    lengths = (
        inches(size) if not isinstance(size.shape, ExactShape) or size.shape.unit != "px" else None
    )
    outline = lengths or written_pixels(size)
    edges = " × ".join(str(px) for _, px in edges_of(size))
    more = 2 * margin(size)
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
        "extra": (*margin_words(size), *([f"{seen} seen"] if seen else [])),
        "at_most": "" if size.file.at_most is None else limit_words(size.file.at_most),
    }


def _floats(edges: tuple[Fraction, Fraction] | Pixels | None) -> tuple[float, float] | None:
    return None if edges is None else (float(edges[0]), float(edges[1]))
