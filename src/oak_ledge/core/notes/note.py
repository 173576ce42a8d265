"""A note: its level, its code, a sentence with its figures; their order, and what stops a piece (rules, section 8).

`stop` = do not hand over, `look` = a person should decide, `fine` = nothing is to be done.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from typing import Literal

from pydantic import BaseModel, ConfigDict

Severity = Literal["stop", "look", "fine"]


class Way(BaseModel):
    """One of several steps that would fix something: what it is called, and its words."""

    model_config = ConfigDict(frozen=True)

    key: str
    words: str


class Note(BaseModel):
    """One note: its level, its code, a sentence with its figures, and what would fix it.

    `fix` is the text of the size that was likely meant, or that the library holds now; `way`
    names the one step that takes it, `ways` several to choose from.
    """

    model_config = ConfigDict(frozen=True)

    level: Severity
    code: str
    text: str
    fix: str | None = None
    way: str | None = None
    ways: tuple[Way, ...] = ()


def in_order(notes: Iterable[Note | None], *more: Note | None) -> tuple[Note, ...]:
    """Put notes in order, stops first; what is None is no note."""
    order: dict[Severity, int] = {"stop": 0, "look": 1, "fine": 2}
    all_found = [note for note in (*notes, *more) if note is not None]
    return tuple(sorted(all_found, key=lambda note: order[note.level]))


ALLOWED = "Made anyway, as you said."


def taken_on(notes: Iterable[Note], allow: Collection[str]) -> Iterator[Note]:
    """Return notes as they stand once a person has taken the responsibility for some of their codes."""
    for note in notes:
        if note.level == "stop" and note.code in allow:
            text = f"{note.text} {ALLOWED}"
            yield note.model_copy(update={"level": "look", "text": text, "fix": None, "way": None})
        else:
            yield note


def stops(notes: tuple[Note, ...], allowed: frozenset[str] = frozenset()) -> Iterator[Note]:
    """Return the stop notes whose code no one has taken the responsibility for."""
    return (note for note in notes if note.level == "stop" and note.code not in allowed)
