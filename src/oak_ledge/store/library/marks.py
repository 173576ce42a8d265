"""The library of marks, and their files, told by their content."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from oak_ledge.core.marks.mark import NamedMark
from oak_ledge.store.kinds import readable
from oak_ledge.store.tables import MarkPictureRow, MarkRow


@dataclass(frozen=True)
class SavedMark:
    """A mark of the library; `text` is what it says, where it is a line of text."""

    id: int
    mark: NamedMark
    text: str | None
    deleted: bool = False


def every(session: Session) -> list[SavedMark]:
    """Every mark that can be read and is not deleted, by name."""
    rows = select(MarkRow).where(MarkRow.deleted.is_(None)).order_by(MarkRow.name, MarkRow.id)
    return [_saved(row) for row in readable(session, rows, MarkRow.id)]


def find(session: Session, mark_id: int) -> SavedMark | None:
    """Return a mark, deleted or not; None where there never was one."""
    row = session.get(MarkRow, mark_id)
    return None if row is None else _saved(row)


def called(session: Session, name: str) -> SavedMark | None:
    """Return the mark of a name, whatever its case."""
    same = (saved for saved in every(session) if saved.mark.name.casefold() == name.casefold())
    return next(same, None)


def add(session: Session, mark: NamedMark, text: str | None, now: datetime) -> SavedMark:
    """Keep a new mark."""
    row = MarkRow(name=mark.name, mark=mark, text=text, added=now)
    session.add(row)
    session.flush()
    return _saved(row)


def change(session: Session, mark_id: int, mark: NamedMark) -> SavedMark:
    """Keep a mark otherwise; pieces keep it as they have it."""
    row = session.get_one(MarkRow, mark_id)
    row.name, row.mark = mark.name, mark
    session.flush()
    return _saved(row)


def set_deleted(session: Session, mark_id: int, when: datetime | None) -> SavedMark:
    """Delete a mark, or bring it back with None."""
    row = session.get_one(MarkRow, mark_id)
    row.deleted = when
    session.flush()
    return _saved(row)


def keep_file(session: Session, sha256: str, data: bytes) -> None:
    """Keep a mark's file, once."""
    if session.get(MarkPictureRow, sha256) is None:
        session.add(MarkPictureRow(hash=sha256, data=data))
        session.flush()


def file_of(session: Session, sha256: str) -> bytes | None:
    """Return a mark's file, or None."""
    row = session.get(MarkPictureRow, sha256)
    return None if row is None else row.data


def _saved(row: MarkRow) -> SavedMark:
    return SavedMark(row.id, row.mark, row.text, row.deleted is not None)
