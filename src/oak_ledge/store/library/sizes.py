"""The library of saved sizes: kept, changed, deleted and brought back."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from oak_ledge.core.sizes.size import Size
from oak_ledge.store.kinds import readable
from oak_ledge.store.tables import JobRow, JobSizeRow, SizeRow


@dataclass(frozen=True)
class SavedSize:
    """A size of the library; `version` counts its changes."""

    id: int
    size: Size
    version: int


def every(session: Session) -> list[SavedSize]:
    """Every saved size that can be read: one that can't does not hide the others."""
    rows = select(SizeRow).where(SizeRow.deleted.is_(None)).order_by(SizeRow.id)
    return [_saved(row) for row in readable(session, rows, SizeRow.id)]


def find(session: Session, size_id: int) -> SavedSize | None:
    """Return a saved size, or None."""
    row = session.get(SizeRow, size_id)
    return None if row is None or row.deleted is not None else _saved(row)


def find_by_name(session: Session, name: str) -> SavedSize | None:
    """Return the saved size of a name, whatever its case, or None."""
    row = session.scalar(select(SizeRow).where(SizeRow.name == name, SizeRow.deleted.is_(None)))
    return None if row is None else _saved(row)


def add(session: Session, size: Size) -> SavedSize:
    """Keep a new size."""
    row = SizeRow(name=size.name, group=size.group, size=size, version=1)
    session.add(row)
    session.flush()
    return _saved(row)


def change(session: Session, size_id: int, size: Size) -> SavedSize:
    """Keep a size otherwise, as its next version."""
    row = session.get_one(SizeRow, size_id)
    row.name, row.group, row.size = size.name, size.group, size
    session.flush()
    return _saved(row)


def delete(session: Session, size_id: int, now: datetime) -> None:
    """Mark a size as deleted; it can be restored for a while."""
    session.get_one(SizeRow, size_id).deleted = now


def restore(session: Session, size_id: int) -> SavedSize | None:
    """Bring a deleted size back; None where there never was one."""
    row = session.get(SizeRow, size_id)
    if row is None:
        return None
    row.deleted = None
    session.flush()
    return _saved(row)


def deleted(session: Session, since: datetime) -> list[tuple[SavedSize, datetime]]:
    """Sizes deleted since a moment and not brought back, the last one first, each with when."""
    rows = select(SizeRow).where(SizeRow.deleted > since).order_by(SizeRow.deleted.desc())
    rows_deleted = readable(session, rows, SizeRow.id)
    return [(_saved(row), row.deleted) for row in rows_deleted if row.deleted is not None]


def uses(session: Session) -> dict[int, list[str]]:
    """Which jobs took which saved size, by name."""
    names: dict[int, list[str]] = {}
    taken = (
        select(JobSizeRow.size_id, JobRow.name)
        .join(JobRow, JobRow.id == JobSizeRow.job_id)
        .where(JobSizeRow.size_id.is_not(None))
        .order_by(JobRow.id)
    )
    for size_id, name in session.execute(taken):
        if size_id is not None:
            names.setdefault(size_id, []).append(name)
    return names


def last_used(session: Session) -> list[int]:
    """Return the saved sizes that jobs took, the one taken last first."""
    last = func.max(JobSizeRow.id)
    used = select(JobSizeRow.size_id).where(JobSizeRow.size_id.is_not(None))
    rows = session.scalars(used.group_by(JobSizeRow.size_id).order_by(last.desc()))
    return [size_id for size_id in rows if size_id is not None]


def count(session: Session) -> int:
    """How many sizes there ever were, deleted ones too."""
    return session.scalar(select(func.count()).select_from(SizeRow)) or 0


def _saved(row: SizeRow) -> SavedSize:
    return SavedSize(row.id, row.size, row.version)
