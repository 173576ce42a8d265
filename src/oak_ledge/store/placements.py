"""Placements and their history of steps: undo and redo outlive a restart."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal, cast

from sqlalchemy import bindparam, delete, select
from sqlalchemy.orm import Session, joinedload

from oak_ledge.core.placements import Placement
from oak_ledge.core.sizes import Size
from oak_ledge.store.photos import Photo, photo_of
from oak_ledge.store.tables import JobPhotoRow, JobSizeRow, PlacementRow, StepRow

State = Literal["new", "placed", "settled", "made"]


@dataclass(frozen=True)
class Placed:
    """A placement with all it needs: its photo, its size, its state and place in history."""

    id: int
    job_id: int
    job_size_id: int
    job_photo_id: int
    photo: Photo
    size: Size
    saved: Size | None
    """the size of the library it was taken from, as it stands now"""
    placement: Placement
    state: State
    step: int


def add_placements(
    session: Session, job_id: int, layings: Sequence[tuple[int, int, Placement]]
) -> None:
    """Add a job's placements, (place of the photo, place of the size, how it first lies) each."""
    rows = [
        PlacementRow(
            job_id=job_id,
            job_photo_id=photo,
            job_size_id=size,
            placement=placement,
            state="new",
            step=0,
        )
        for photo, size, placement in layings
    ]
    session.add_all(rows)
    session.flush()
    session.add_all(
        StepRow(placement_id=row.id, step=0, what="suggested", placement=row.placement)
        for row in rows
    )


# Placements with their photo and size at once: a gesture waits for one query.
WHOLE = select(PlacementRow).options(
    joinedload(PlacementRow.job_photo).joinedload(JobPhotoRow.photo),
    joinedload(PlacementRow.job_size).joinedload(JobSizeRow.saved),
    joinedload(PlacementRow.job),
)
# Written once, as putting a statement together takes as long as asking it.
_ONE = WHOLE.where(PlacementRow.id == bindparam("placement"))


def find(session: Session, placement_id: int) -> Placed | None:
    row = session.scalar(_ONE, {"placement": placement_id})
    if row is None:
        return None
    # A session holds its rows weakly; held here, a change that follows finds it without asking.
    session.info[PlacementRow] = row
    return placed_of(row)


def find_many(session: Session, placement_ids: Sequence[int]) -> dict[int, Placed]:
    """Placements by their ids, those that are there; in one query."""
    rows = session.scalars(WHOLE.where(PlacementRow.id.in_(placement_ids)))
    return {row.id: placed_of(row) for row in rows}


def of_photo(session: Session, photo_id: int) -> list[Placed]:
    """Every placement of a photo, in every job."""
    rows = WHOLE.join(PlacementRow.job_photo).where(JobPhotoRow.photo_id == photo_id)
    return [placed_of(row) for row in session.scalars(rows.order_by(PlacementRow.id))]


def keep(
    session: Session, placement_id: int, placement: Placement, what: str, now: datetime
) -> Placed:
    """Keep a new step; steps that had been undone are forgotten."""
    row = _row(session, placement_id)
    undone = delete(StepRow).where(StepRow.placement_id == placement_id, StepRow.step > row.step)
    session.execute(undone.execution_options(synchronize_session=False))
    row.step += 1
    session.add(StepRow(placement_id=placement_id, step=row.step, what=what, placement=placement))
    row.placement, row.state = placement, "placed"
    return _touched(session, row, now)


def walk(session: Session, placement_id: int, by: int, now: datetime) -> Placed:
    """Go steps back or forth; where there are none nothing changes."""
    row = _row(session, placement_id)
    step = session.scalar(
        select(StepRow).where(StepRow.placement_id == placement_id, StepRow.step == row.step + by)
    )
    if step is None:
        return placed_of(row)
    row.step, row.placement, row.state = step.step, step.placement, "placed"
    return _touched(session, row, now)


def go_back(session: Session, placement_id: int, step: int, state: str, now: datetime) -> Placed:
    """Stand at an earlier step again, in the state it had then."""
    found = walk(session, placement_id, step - _row(session, placement_id).step, now)
    return set_state(session, found.id, cast(State, state), now)


def step_names(session: Session, placement_id: int) -> list[str]:
    steps = select(StepRow.what).where(StepRow.placement_id == placement_id).order_by(StepRow.step)
    return list(session.scalars(steps))


def begin_again(
    session: Session, placement_id: int, placement: Placement, what: str, now: datetime
) -> Placed:
    """Lay a photo anew after its size changed: steps on the old size mean nothing on the new."""
    row = _row(session, placement_id)
    session.execute(delete(StepRow).where(StepRow.placement_id == placement_id))
    row.step, row.placement, row.state = 0, placement, "new"
    session.add(StepRow(placement_id=placement_id, step=0, what=what, placement=placement))
    return _touched(session, row, now)


def set_state(session: Session, placement_id: int, state: State, now: datetime) -> Placed:
    row = _row(session, placement_id)
    row.state = state
    return _touched(session, row, now)


def _touched(session: Session, row: PlacementRow, now: datetime) -> Placed:
    row.job.touched = now
    session.flush()
    return placed_of(row)


def placed_of(row: PlacementRow) -> Placed:
    saved = row.job_size.saved
    return Placed(
        id=row.id,
        job_id=row.job_id,
        job_size_id=row.job_size_id,
        job_photo_id=row.job_photo_id,
        photo=photo_of(row.job_photo.photo),
        size=row.job_size.size,
        saved=None if saved is None or saved.deleted is not None else saved.size,
        placement=row.placement,
        state=cast(State, row.state),
        step=row.step,
    )


def _row(session: Session, placement_id: int) -> PlacementRow:
    return session.get_one(PlacementRow, placement_id)
