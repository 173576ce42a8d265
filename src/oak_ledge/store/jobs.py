"""Jobs: photos and sizes brought together; every photo is placed on every size."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from sqlalchemy import Select, delete, exists, func, or_, select
from sqlalchemy.orm import Session, joinedload

from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.sizes.size import Size
from oak_ledge.store.photos import Photo, photo_in
from oak_ledge.store.placements import WITH_ALL, Placed, add_placements, placed_of
from oak_ledge.store.tables import (
    BatchRow,
    Change,
    Changes,
    JobPhotoRow,
    JobRow,
    JobSizeRow,
    PhotoRow,
    PlacementRow,
    SizeTaken,
)


@dataclass(frozen=True)
class Job:
    """A job's row: its name, notes, dates and state."""

    id: int
    name: str
    touched: datetime
    notes: str
    due: date | None
    away: datetime | None
    deleted: datetime | None


@dataclass(frozen=True)
class Member:
    """A photo of a job."""

    id: int
    photo: Photo


@dataclass(frozen=True)
class Taken:
    """A size as a job took it, and the saved size it came from."""

    id: int
    size: Size
    saved_id: int | None


@dataclass(frozen=True)
class Laying:
    """How a job's photo shall first lie on one of its sizes."""

    photo: Member
    size: Taken
    placement: Placement


def add(session: Session, name: str, now: datetime) -> Job:
    """Keep a new job."""
    row = JobRow(name=name, added=now, touched=now, notes="")
    session.add(row)
    session.flush()
    return _job_of(row)


def add_photos(session: Session, job_id: int, photo_ids: Sequence[int]) -> None:
    """Add photos at the end, as they are retouched where they are in no job.

    One that was taken out comes back with what was done to it.
    """
    rows = select(JobPhotoRow).where(JobPhotoRow.job_id == job_id)
    known = {row.photo_id: row for row in session.scalars(rows)}
    for photo_id in photo_ids:
        if photo_id in known:
            known[photo_id].out = None
    first = _next(session, job_id)
    new = [photo_id for photo_id in dict.fromkeys(photo_ids) if photo_id not in known]
    session.add_all(
        JobPhotoRow(
            job_id=job_id,
            photo_id=photo_id,
            position=first + n,
            retouches=session.get_one(PhotoRow, photo_id).retouches,
        )
        for n, photo_id in enumerate(new)
    )
    session.flush()


def add_size(session: Session, job_id: int, size: Size, saved_id: int | None) -> Taken:
    """Add a copy of a size at the end; the same that was taken out comes back instead."""
    known = session.scalars(select(JobSizeRow).where(JobSizeRow.job_id == job_id))
    row = next((entry for entry in known if (entry.size, entry.size_id) == (size, saved_id)), None)
    if row is None:
        position = _next(session, job_id)
        row = JobSizeRow(job_id=job_id, size_id=saved_id, size=size, position=position)
        session.add(row)
    row.out = None
    session.flush()
    return Taken(row.id, row.size, row.size_id)


def lay(session: Session, job_id: int, layings: Sequence[Laying]) -> None:
    """Keep first placements of a job's photos on its sizes."""
    add_placements(session, job_id, [(o.photo.id, o.size.id, o.placement) for o in layings])


def members(session: Session, job_id: int) -> list[Member]:
    """Return a job's photos in their order."""
    return members_of(session, [job_id])[job_id]


def members_of(session: Session, job_ids: Sequence[int]) -> dict[int, list[Member]]:
    """Return the photos of several jobs, in one query."""
    rows = (
        select(JobPhotoRow)
        .options(joinedload(JobPhotoRow.photo))
        .where(JobPhotoRow.job_id.in_(job_ids), JobPhotoRow.out.is_(None))
        .order_by(JobPhotoRow.position, JobPhotoRow.id)
    )
    members: dict[int, list[Member]] = {job_id: [] for job_id in job_ids}
    for row in session.scalars(rows):
        members[row.job_id].append(Member(row.id, photo_in(row)))
    return members


def photo_names(session: Session, job_ids: Sequence[int], most: int) -> dict[int, list[str]]:
    """Return the names of the first photos of several jobs."""
    names: dict[int, list[str]] = {}
    for job_id in job_ids:
        query = _photos_of(select(PhotoRow.name), job_id).join(JobPhotoRow.photo)
        names[job_id] = list(session.scalars(query.limit(most)))
    return names


def first_places(session: Session, job_id: int, most: int) -> list[int]:
    """Return the places of a job's first photos in it."""
    return list(session.scalars(_photos_of(select(JobPhotoRow.id), job_id).limit(most)))


def _photos_of(query: Select[Any], job_id: int) -> Select[Any]:
    return (
        query.select_from(JobPhotoRow)
        .where(JobPhotoRow.job_id == job_id, JobPhotoRow.out.is_(None))
        .order_by(JobPhotoRow.position, JobPhotoRow.id)
    )


def taken(session: Session, job_id: int) -> list[Taken]:
    """Return a job's sizes in their order."""
    return taken_by(session, [job_id])[job_id]


def taken_by(session: Session, job_ids: Sequence[int]) -> dict[int, list[Taken]]:
    """Return the sizes of several jobs, in one query."""
    rows = (
        select(JobSizeRow)
        .where(JobSizeRow.job_id.in_(job_ids), JobSizeRow.out.is_(None))
        .order_by(JobSizeRow.position, JobSizeRow.id)
    )
    sizes_taken: dict[int, list[Taken]] = {job_id: [] for job_id in job_ids}
    for row in session.scalars(rows):
        sizes_taken[row.job_id].append(Taken(row.id, row.size, row.size_id))
    return sizes_taken


def pairs(session: Session, job_id: int) -> set[tuple[int, int]]:
    """Which photo lies on which size already, by their places in the job."""
    query = select(PlacementRow.job_photo_id, PlacementRow.job_size_id)
    rows = session.execute(query.where(PlacementRow.job_id == job_id))
    return {(photo, size) for photo, size in rows}


def take_photo_out(session: Session, job_photo_id: int, now: datetime) -> None:
    """Take a photo out of its job; what was done to it rests."""
    session.get_one(JobPhotoRow, job_photo_id).out = now
    session.flush()


def take_size_out(session: Session, job_size_id: int, now: datetime) -> None:
    """Take a size out of its job; what was done on it rests."""
    session.get_one(JobSizeRow, job_size_id).out = now
    session.flush()


def put_in_order(
    session: Session, photos: Sequence[int] | None, sizes: Sequence[int] | None
) -> None:
    """Put a job's photos and sizes in this order."""
    for position, photo_id in enumerate(photos or ()):
        session.get_one(JobPhotoRow, photo_id).position = position
    for position, size_id in enumerate(sizes or ()):
        session.get_one(JobSizeRow, size_id).position = position
    session.flush()


def change(session: Session, job_id: int, now: datetime, **changes: object) -> Job:
    """Change a job's name, notes, due date, or whether it is finished or deleted."""
    row = session.get_one(JobRow, job_id)
    for name, value in changes.items():
        setattr(row, name, value)
    row.touched = now
    session.flush()
    return _job_of(row)


def forget(session: Session, job_id: int) -> list[int]:
    """Delete a job for good, with its placements and their history; give the photos it had."""
    had = select(JobPhotoRow.photo_id).where(JobPhotoRow.job_id == job_id)
    ids = list(session.scalars(had))
    session.execute(delete(JobRow).where(JobRow.id == job_id))
    return ids


def find(session: Session, job_id: int) -> Job | None:
    """Return a job, or None."""
    row = session.get(JobRow, job_id)
    return None if row is None else _job_of(row)


def every(session: Session) -> list[Job]:
    """Every job, deleted ones too, the one last touched first."""
    rows = session.scalars(select(JobRow).order_by(JobRow.touched.desc(), JobRow.id.desc()))
    return [_job_of(row) for row in rows]


def listed(
    session: Session, *, away: bool, find: str = "", count: int | None = None
) -> tuple[list[Job], int]:
    """Jobs in hand or finished, the one last touched first: `count` of them, and how many there are.

    `find` is looked for in the names of jobs, their photos and sizes, and in their notes.
    """
    which = select(JobRow).where(
        JobRow.deleted.is_(None), JobRow.away.is_not(None) if away else JobRow.away.is_(None)
    )
    for word in find.split()[:8]:
        photo = exists().where(
            JobPhotoRow.job_id == JobRow.id,
            PhotoRow.id == JobPhotoRow.photo_id,
            PhotoRow.name.icontains(word, autoescape=True),
        )
        size = exists().where(
            JobSizeRow.job_id == JobRow.id,
            func.json_extract(JobSizeRow.size, "$.name").icontains(word, autoescape=True),
        )
        named = JobRow.name.icontains(word, autoescape=True)
        which = which.where(or_(named, JobRow.notes.icontains(word, autoescape=True), photo, size))
    whole = session.scalar(select(func.count()).select_from(which.subquery())) or 0
    rows = which.order_by(JobRow.touched.desc(), JobRow.id.desc())
    return [_job_of(row) for row in session.scalars(rows.limit(count))], whole


def placements_of(session: Session, job_ids: Sequence[int]) -> dict[int, list[Placed]]:
    """Return the placements of several jobs, each job's size by size in its own order; in one query."""
    pieces: dict[int, list[Placed]] = {job_id: [] for job_id in job_ids}
    rows = session.scalars(_in_order().where(PlacementRow.job_id.in_(job_ids))).all()
    for row in rows:
        pieces[row.job_id].append(placed_of(row))
    return pieces


def _in_order() -> Select[PlacementRow]:
    return (
        WITH_ALL.join(PlacementRow.job_photo)
        .join(PlacementRow.job_size)
        .where(JobPhotoRow.out.is_(None), JobSizeRow.out.is_(None))
        .order_by(JobSizeRow.position, JobSizeRow.id, JobPhotoRow.position, JobPhotoRow.id)
    )


def placements(
    session: Session,
    job_id: int,
    *,
    photos: Sequence[int] | None = None,
    sizes: Sequence[int] | None = None,
) -> list[Placed]:
    """Return a job's placements, size by size, in the job's own order; of some photos or sizes only."""
    wanted = _in_order().where(PlacementRow.job_id == job_id)
    if photos is not None:
        wanted = wanted.where(JobPhotoRow.id.in_(photos))
    if sizes is not None:
        wanted = wanted.where(JobSizeRow.id.in_(sizes))
    rows = session.scalars(wanted).all()
    # A session holds its rows weakly; held here, changes that follow find them without asking.
    session.info[JobRow] = rows
    return [placed_of(row) for row in rows]


def size_of(session: Session, job_size_id: int) -> Taken:
    """Return a size as a job took it."""
    row = session.get_one(JobSizeRow, job_size_id)
    return Taken(row.id, row.size, row.size_id)


def change_size(session: Session, job_size_id: int, size: Size, saved_id: int | None) -> Taken:
    """Change a job's own copy of a size, and which saved one it is a copy of."""
    row = session.get_one(JobSizeRow, job_size_id)
    row.size, row.size_id = size, saved_id
    session.flush()
    session.expire(row, ["saved"])
    return Taken(row.id, row.size, row.size_id)


def on_size(session: Session, job_size_id: int) -> list[Placed]:
    """Every placement on one of a job's sizes, also of photos that were taken out."""
    rows = session.scalars(WITH_ALL.where(PlacementRow.job_size_id == job_size_id)).all()
    session.info[JobSizeRow] = rows
    return [placed_of(row) for row in rows]


def _next(session: Session, job_id: int) -> int:
    """Return a position after every photo and size of a job."""
    numbers = [0]
    numbers += session.scalars(select(JobPhotoRow.position).where(JobPhotoRow.job_id == job_id))
    numbers += session.scalars(select(JobSizeRow.position).where(JobSizeRow.job_id == job_id))
    return max(numbers) + 1


def _job_of(row: JobRow) -> Job:
    return Job(row.id, row.name, row.touched, row.notes, row.due, row.away, row.deleted)


@dataclass(frozen=True)
class Batch:
    """What was done to many placements at once, so that it can be undone at once."""

    id: int
    what: str
    changes: tuple[Change, ...]
    size: SizeTaken | None
    """the job's size that became another, where that was what was done"""


def add_batch(
    session: Session,
    job_id: int,
    what: str,
    changes: Sequence[Change],
    now: datetime,
    size: SizeTaken | None = None,
) -> Batch:
    """Keep what one batch changed, so that it can be undone as one."""
    done = Changes(changes=tuple(changes), size=size)
    row = BatchRow(job_id=job_id, what=what[:200], done=now, undone=False, changes=done)
    session.add(row)
    session.flush()
    return _batch_of(row)


def newest_batch(session: Session, job_id: int) -> Batch | None:
    """Return the last one of a job that has not been undone."""
    rows = select(BatchRow).where(BatchRow.job_id == job_id, BatchRow.undone.is_(False))
    row = session.scalar(rows.order_by(BatchRow.id.desc()).limit(1))
    return None if row is None else _batch_of(row)


def set_batch_undone(session: Session, batch_id: int) -> None:
    """Mark a batch as undone."""
    session.get_one(BatchRow, batch_id).undone = True
    session.flush()


def _batch_of(row: BatchRow) -> Batch:
    return Batch(row.id, row.what, row.changes.changes, row.changes.size)
