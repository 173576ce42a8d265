"""What was done to many placements at once, so that it can be undone at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from oak_ledge.store.tables import BatchRow, Change, Changes, SizeTaken


@dataclass(frozen=True)
class Batch:
    id: int
    what: str
    changes: tuple[Change, ...]
    size: SizeTaken | None
    """the job's size that became another, where that was what was done"""


def add(
    session: Session,
    job_id: int,
    what: str,
    changes: Sequence[Change],
    now: datetime,
    size: SizeTaken | None = None,
) -> Batch:
    done = Changes(changes=tuple(changes), size=size)
    row = BatchRow(job_id=job_id, what=what[:200], done=now, undone=False, changes=done)
    session.add(row)
    session.flush()
    return _of(row)


def newest(session: Session, job_id: int) -> Batch | None:
    """The last one of a job that has not been undone."""
    rows = select(BatchRow).where(BatchRow.job_id == job_id, BatchRow.undone.is_(False))
    row = session.scalar(rows.order_by(BatchRow.id.desc()).limit(1))
    return None if row is None else _of(row)


def set_undone(session: Session, batch_id: int) -> None:
    session.get_one(BatchRow, batch_id).undone = True
    session.flush()


def _of(row: BatchRow) -> Batch:
    return Batch(row.id, row.what, row.changes.changes, row.changes.size)
