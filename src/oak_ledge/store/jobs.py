"""Jobs: photos and sizes brought together; every photo is placed on every size."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from oak_ledge.core.placements import Placement
from oak_ledge.core.sizes import Size
from oak_ledge.store.photos import Photo
from oak_ledge.store.placements import WHOLE, Placed, add_placement, placed_of
from oak_ledge.store.tables import JobPhotoRow, JobRow, JobSizeRow, PlacementRow


@dataclass(frozen=True)
class Job:
    id: int
    name: str
    touched: datetime


@dataclass(frozen=True)
class Laying:
    """How one photo shall first lie on one size of a new job."""

    photo: Photo
    size_number: int
    placement: Placement


def add(
    session: Session,
    name: str,
    photos: Sequence[Photo],
    sizes: Sequence[tuple[Size, int | None]],
    layings: Sequence[Laying],
    now: datetime,
) -> Job:
    """Add a job; `sizes` are (a copy of the size, the saved size it came from)."""
    row = JobRow(name=name, added=now, touched=now)
    session.add(row)
    session.flush()
    photo_rows = {p.id: JobPhotoRow(job_id=row.id, photo_id=p.id) for p in photos}
    size_rows = [JobSizeRow(job_id=row.id, size_id=saved, size=size) for size, saved in sizes]
    session.add_all([*photo_rows.values(), *size_rows])
    session.flush()
    for laying in layings:
        add_placement(
            session,
            row.id,
            photo_rows[laying.photo.id].id,
            size_rows[laying.size_number].id,
            laying.placement,
        )
    return _job_of(row)


def find(session: Session, job_id: int) -> Job | None:
    row = session.get(JobRow, job_id)
    return None if row is None else _job_of(row)


def every(session: Session) -> list[Job]:
    """Every job, the one last touched first."""
    rows = session.scalars(select(JobRow).order_by(JobRow.touched.desc(), JobRow.id.desc()))
    return [_job_of(row) for row in rows]


def placements(session: Session, job_id: int) -> list[Placed]:
    """A job's placements, size by size, in the order photos were brought in."""
    rows = session.scalars(
        WHOLE.where(PlacementRow.job_id == job_id).order_by(
            PlacementRow.job_size_id, PlacementRow.job_photo_id
        )
    )
    return [placed_of(row) for row in rows]


def change_size(
    session: Session, job_size_id: int, size: Size, *, still_saved: bool
) -> list[Placed]:
    """Change a job's own copy of a size; give the placements that lie on it.

    Without `still_saved` the job's size is its own from now on, no copy of one in the library.
    """
    row = session.get_one(JobSizeRow, job_size_id)
    row.size = size
    row.size_id = row.size_id if still_saved else None
    session.flush()
    session.expire(row)
    rows = session.scalars(WHOLE.where(PlacementRow.job_size_id == job_size_id))
    return [placed_of(row) for row in rows]


def _job_of(row: JobRow) -> Job:
    return Job(row.id, row.name, row.touched)
