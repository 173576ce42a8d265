"""What a person types where a size is asked for: a size, a saved one's name, several, or nearly one."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass

from pydantic import BaseModel

from oak_ledge.core.errors import CoreError, SizeError, SizeTextError
from oak_ledge.core.sizes.edges.svg_file import outline_in
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.print_words import read_outline
from oak_ledge.core.sizes.text.read import read_marked, read_size
from oak_ledge.core.sizes.text.reader import Span
from oak_ledge.core.sizes.text.readings import also_meant, readings
from oak_ledge.core.sizes.text.sentence import SizeWords, say_parts
from oak_ledge.core.sizes.text.several import several
from oak_ledge.core.sizes.text.write import write_size
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.library.views import SizeBody, SizeRead, read_over, said_over
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.database import Session, reading
from oak_ledge.store.library import sizes


class Meaning(BaseModel):
    """A size that a text says, or may have meant; `saved_id` where it is one of the library."""

    text: str
    sentence: str
    saved_id: int | None


class Entry(BaseModel):
    """A text as far as it can be read: what it says, else what is wrong and what it may mean."""

    text: str
    sizes: list[Meaning]
    """what it says, in order; none where it can't be read"""
    first: SizeRead | None
    """the first of them, whole"""
    readings: list[Meaning]
    """what it may mean, to choose from, where it can't be read or may be meant otherwise too"""
    trouble: str | None
    at: int | None
    """where reading stopped"""
    spans: tuple[Span, ...]
    said: tuple[SizeWords, ...]


@dataclass(frozen=True)
class Meant:
    """A size that was meant, and the saved one's id where it was called by name."""

    size: Size
    saved_id: int | None = None


def enter(workspace: Workspace, body: SizeBody) -> Entry:
    """Read what was typed so far. What can't be read yet is an answer too, and never an error."""
    text = body.text or ""
    with reading(workspace.sessions) as session:
        try:
            parts = meant(session, text)
            first = said_over(parts[0][2].size, body)
        except CoreError as exc:
            if isinstance(exc, SizeTextError):
                return unread(text, str(exc), exc.at, readings(text))
            return unread(text, str(exc))
    spans: list[Span] = []
    saids: list[SizeWords] = []
    for start, part, size in parts:
        if size.saved_id is None:
            spans += [_moved(span, start) for span in read_marked(part)[1]]
        saids += [*([SizeWords(" And: ")] if saids else []), *say_parts(size.size)]
    whole = None
    if len(parts) == 1:
        ((_, _, size),) = parts
        whole = read_over(text, first, size.size, named=size.saved_id is not None)
        saids = list(whole.said)
        if whole.text == text:
            spans = list(whole.spans)
    return Entry(
        text=text,
        sizes=[_meaning(part.size, part.saved_id) for _, _, part in parts],
        first=whole,
        readings=[_meaning(other) for other in (also_meant(first) if len(parts) == 1 else ())],
        trouble=None,
        at=None,
        spans=tuple(spans),
        said=tuple(saids),
    )


class OutlineRead(BaseModel):
    """An outline that was read, as it is written behind a size; and that size's text with it."""

    text: str
    size: str


def outline_of(svg: bytes, size_text: str = "") -> OutlineRead:
    """Read an SVG file as an outline, and put it behind a size in place of the one it has.

    Raises
    ------
    SizeError
        With what is wrong with the file.
    """
    return _behind(size_text, outline_in(svg).text)


def with_outline(size_text: str, outline: str) -> OutlineRead:
    """Put a shipped outline behind a size in place of the one it has; without a word, take it away.

    Raises
    ------
    SizeError
        If there is no such outline.
    """
    if not outline.strip():
        return _behind(size_text, "")
    return _behind(size_text, read_outline(outline).text)


def _behind(size_text: str, outline: str) -> OutlineRead:
    """Put an outline behind a size; a text that is no size yet only gets it put behind it."""
    spans: tuple[Span, ...] = ()
    with suppress(SizeError):
        spans = read_marked(size_text)[1]
    bare = size_text
    for span in spans:
        if span.part == "outline":
            bare = f"{size_text[: span.start]}{size_text[span.end :]}"
    return OutlineRead(text=outline, size=f"{bare.strip()} {outline}".strip())


def read(workspace: Workspace, body: SizeBody) -> SizeRead:
    """Read a text as one size, or as the name of a saved one.

    Raises
    ------
    SizeError
        If it is none, or several.
    """
    with reading(workspace.sessions) as session:
        size = meant_one(session, body.text or "")
    named = size.saved_id is not None
    return read_over(body.text or "", said_over(size.size, body), size.size, named=named)


def meant(session: Session, text: str) -> tuple[tuple[int, str, Meant], ...]:
    """Return the sizes a text says: where each begins, its text, and what is meant by it.

    Raises
    ------
    SizeTextError
        With where reading stopped.
    """
    with suppress(SizeTextError):  # what can be read needs no library
        return ((0, text, Meant(read_size(text))),)
    known = {_plain(saved.size.name): saved for saved in sizes.every(session)}

    def one_of(part: str) -> Meant:
        saved = known.get(_plain(part))
        return Meant(read_size(part)) if saved is None else Meant(saved.size, saved.id)

    return several(text, one_of)


def meant_one(session: Session, text: str) -> Meant:
    """Return the one size that a text says.

    Raises
    ------
    SizeTextError, RequestError
        If it says none, or several.
    """
    parts = meant(session, text)
    if len(parts) > 1:
        msg = f"Only one size can be meant here; “{parts[0][1]}” and “{parts[1][1]}” are two."
        raise RequestError(msg)
    return parts[0][2]


def meant_in(session: Session, texts: Sequence[str]) -> list[tuple[Size, int | None]]:
    """Return all sizes that some texts say, with the ids of those that were called by name."""
    return [(part.size, part.saved_id) for text in texts for _, _, part in meant(session, text)]


def chosen(session: Session, text: str | None, size_id: int | None) -> Size:
    """Return the size a person wrote, else the saved one they chose."""
    if text:
        return meant_one(session, text).size
    if size_id is None:
        msg = "Choose a size, or write one like 8x10in@300."
        raise RequestError(msg)
    saved = sizes.find(session, size_id)
    if saved is None:
        msg = f"There is no size {size_id}."
        raise NotFoundError(msg)
    return saved.size


def _plain(name: str) -> str:
    return " ".join(name.casefold().replace("×", "x").split())


def _meaning(size: Size, saved_id: int | None = None) -> Meaning:
    sentence = "".join(part.words for part in say_parts(size))
    return Meaning(text=write_size(size), sentence=sentence, saved_id=saved_id)


def _moved(span: Span, by: int) -> Span:
    return Span(part=span.part, start=span.start + by, end=span.end + by)


def unread(text: str, why: str, at: int | None = None, meant: Sequence[Size] = ()) -> Entry:
    """Return why a text can't be read, and what may be meant; an empty one asks for nothing yet."""
    blank = not text.strip()
    return Entry(
        text=text,
        sizes=[],
        first=None,
        readings=[_meaning(size) for size in meant],
        trouble=None if blank else why,
        at=None if blank else at,
        spans=(),
        said=() if blank else (SizeWords(why),),
    )
