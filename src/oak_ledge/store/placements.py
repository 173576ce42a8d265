"""Placements and their history of steps: undo and redo outlive a restart."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from typing import Any, Literal, cast

from sqlalchemy import ScalarResult, bindparam, delete, func, insert, select, update
from sqlalchemy.orm import InstrumentedAttribute, Session, joinedload, object_session

from oak_ledge.core.heads.face_points import FaceStep
from oak_ledge.core.photos.retouches import Retouches, RetouchStep, undone
from oak_ledge.core.placements.lying import Lying, lying_on
from oak_ledge.core.placements.placement import Placement, changed, size_at
from oak_ledge.core.receivers.receiver import Receiver
from oak_ledge.core.sizes.size import Size
from oak_ledge.store.photos import Photo, photo_in
from oak_ledge.store.receivers import receivers
from oak_ledge.store.tables import JobPhotoRow, JobRow, JobSizeRow, PlacementRow, StepRow

State = Literal["new", "placed", "settled", "made"]


@dataclass(frozen=True)
class Placed:
    """A placement with all it needs: its photo, its size, its state and place in history."""

    id: int
    job_id: int
    job: str
    """the job's name"""
    job_size_id: int
    job_photo_id: int
    photo: Photo
    size: Size
    saved: Size | None
    """the size of the library it was taken from, as it stands now"""
    placement: Placement
    state: State
    step: int
    receiver: Receiver | None = None
    """the one its size names"""
    word: str | None = None
    """what the client said of it"""

    @cached_property
    def lying(self) -> Lying:
        """How the photo lies on the size."""
        return lying_on(self.size, self.photo.facts.upright, self.placement)


def add_placements(
    session: Session, job_id: int, layings: Sequence[tuple[int, int, Placement]]
) -> None:
    """Add a job's placements, (place of the photo, place of the size, how it first lies) each."""
    if not layings:
        return
    rows = [
        {
            "job_id": job_id,
            "job_photo_id": photo,
            "job_size_id": size,
            "placement": placement,
            "state": "new",
            "step": 0,
        }
        for photo, size, placement in layings
    ]
    new = insert(PlacementRow).returning(PlacementRow.id, sort_by_parameter_order=True)
    ids = session.execute(new, rows).scalars()
    steps = [
        {"placement_id": at, "step": 0, "what": "suggested", "placement": row["placement"]}
        for at, row in zip(ids, rows, strict=True)
    ]
    session.execute(insert(StepRow), steps)


# Placements with their photo and size at once: a gesture waits for one query.
WITH_ALL = select(PlacementRow).options(
    joinedload(PlacementRow.job_photo).joinedload(JobPhotoRow.photo),
    joinedload(PlacementRow.job_size).joinedload(JobSizeRow.saved),
    joinedload(PlacementRow.job),
)
# Written once, as putting a statement together takes as long as asking it.
_ONE = WITH_ALL.where(PlacementRow.id == bindparam("placement"))
_OF_IT = StepRow.placement_id == bindparam("placement")
_HIGHEST = select(func.max(StepRow.step)).where(_OF_IT)
_STEPS = select(StepRow.step, StepRow.what).where(_OF_IT).order_by(StepRow.step)


def find(session: Session, placement_id: int) -> Placed | None:
    """Return a placement with its photo and size, or None."""
    row = session.scalar(_ONE, {"placement": placement_id})
    if row is None:
        return None
    # A session holds its rows weakly; held here, a change that follows finds it without asking.
    session.info[PlacementRow] = row
    return placed_of(row)


def as_it_is_now(session: Session, placement_id: int) -> Placed:
    """Return a placement that was found in this session, after what was done to it there."""
    return placed_of(_row(session, placement_id))


def find_many(session: Session, placement_ids: Sequence[int]) -> dict[int, Placed]:
    """Placements by their ids, those that are there; in one query."""
    rows = session.scalars(WITH_ALL.where(PlacementRow.id.in_(placement_ids)))
    return {row.id: placed_of(row) for row in rows}


def states(session: Session, placement_ids: Collection[int]) -> dict[int, str]:
    """How far placements are, by their ids; those of deleted jobs are no more."""
    state_of: dict[int, str] = {}
    every = sorted(placement_ids)
    for at in range(0, len(every), 500):  # SQLite takes only so many in one question
        query = (
            select(PlacementRow.id, PlacementRow.state)
            .join(PlacementRow.job)
            .where(PlacementRow.id.in_(every[at : at + 500]), JobRow.deleted.is_(None))
        )
        state_of |= {row.id: row.state for row in session.execute(query)}
    return state_of


def of_photo(session: Session, photo_id: int) -> list[Placed]:
    """Every placement of a photo, in every job."""
    rows = WITH_ALL.join(PlacementRow.job_photo).where(JobPhotoRow.photo_id == photo_id)
    return [placed_of(row) for row in session.scalars(rows.order_by(PlacementRow.id))]


def at_place(session: Session, job_photo_id: int) -> list[Placed]:
    """Every placement of a photo in one job, the oldest first."""
    rows = WITH_ALL.where(PlacementRow.job_photo_id == job_photo_id).order_by(PlacementRow.id)
    return [placed_of(row) for row in session.scalars(rows)]


def keep(
    session: Session,
    placement_id: int,
    placement: Placement,
    what: str,
    now: datetime,
    retouched: RetouchStep | None = None,
    faced: FaceStep | None = None,
) -> Placed:
    """Keep a new step, and what it changed of the photo's retouches or faces; undone steps are forgotten."""
    row = _row(session, placement_id)
    step = StepRow(what=what, placement=placement, retouched=retouched, faced=faced)
    return _add_step(session, row, step, "placed", now)


def take_size(
    session: Session,
    placement_id: int,
    placement: Placement,
    what: str,
    state: State,
    now: datetime,
) -> Placed:
    """Keep how a placement lies on its job's changed size, as a step; `state` is its state then."""
    step = StepRow(what=what, placement=placement)
    return _add_step(session, _row(session, placement_id), step, state, now)


def _add_step(
    session: Session,
    row: PlacementRow,
    step: StepRow,
    state: State,
    now: datetime,
) -> Placed:
    # the highest there ever was is still there: what is forgotten below is followed by this one
    of_it = StepRow.placement_id == row.id
    number = (session.scalar(_HIGHEST, {"placement": row.id}) or 0) + 1
    if number > row.step + 1:
        undone = delete(StepRow).where(of_it, StepRow.step > row.step)
        session.execute(undone.execution_options(synchronize_session=False))
    step.placement_id, step.step = row.id, number
    session.add(step)
    row.step, row.placement, row.state = number, step.placement, state
    return _touched(session, row, now)


def walk(session: Session, placement_id: int, by: Literal[-1, 1], now: datetime) -> Placed:
    """Go one step back or forth; where there is none nothing changes."""
    row = _row(session, placement_id)
    steps = select(StepRow).where(StepRow.placement_id == placement_id)
    if by < 0:
        steps = steps.where(StepRow.step < row.step).order_by(StepRow.step.desc())
    else:
        steps = steps.where(StepRow.step > row.step).order_by(StepRow.step)
    step = session.scalar(steps.limit(1))
    return placed_of(row) if step is None else _stand_at(session, row, step, "placed", now)


def go_to(
    session: Session, placement_id: int, step: int, state: State, now: datetime
) -> Placed | None:
    """Stand at one step of the history; None where there is none of that number."""
    row = _row(session, placement_id)
    step_row = session.scalar(
        select(StepRow).where(StepRow.placement_id == placement_id, StepRow.step == step)
    )
    return None if step_row is None else _stand_at(session, row, step_row, state, now)


def _stand_at(
    session: Session, row: PlacementRow, step: StepRow, state: State, now: datetime
) -> Placed:
    _retouch_between(session, row, step.step)
    _face_between(session, row, step.step)
    row.step, row.placement, row.state = step.step, _as_it_lay(step, row.job_size.size), state
    return _touched(session, row, now)


def _steps_between(
    session: Session, row: PlacementRow, to: int, changed_there: InstrumentedAttribute[Any]
) -> ScalarResult[StepRow]:
    """Return the steps gone through on the way to another, in that order, that hold something in a column."""
    low, high = sorted((row.step, to))
    steps = select(StepRow).where(
        StepRow.placement_id == row.id,
        StepRow.step > low,
        StepRow.step <= high,
        changed_there.is_not(None),
    )
    order = StepRow.step.desc() if to < row.step else StepRow.step
    return session.scalars(steps.order_by(order))


def _retouch_between(session: Session, row: PlacementRow, to: int) -> None:
    """Take back, or do again, what the steps between changed of the photo's retouches."""
    photo = row.job_photo
    for step in _steps_between(session, row, to, StepRow.retouched):
        assert step.retouched is not None
        was, became = step.retouched.before, step.retouched.after
        if to > row.step:
            was, became = became, was
        now = photo.retouches
        kept = undone(now.retouches, was, became)
        photo.retouches = Retouches(retouches=kept, version=now.version + 1)
        photo_changed(session, photo.id)


def _face_between(session: Session, row: PlacementRow, to: int) -> None:
    """Take back, or do again, what the steps between changed of the photo's faces; what was changed elsewhere since stays."""
    photo = row.job_photo.photo
    for step in _steps_between(session, row, to, StepRow.faced):
        assert step.faced is not None
        was, becomes = step.faced.after, step.faced.before
        if to > row.step:
            was, becomes = becomes, was
        if photo.faces in (None, was):
            photo.faces = becomes


def photo_changed(session: Session, job_photo_id: int) -> None:
    """Note that a photo changed in its job: its pieces there that are made are `placed` again."""
    query = update(PlacementRow).where(
        PlacementRow.job_photo_id == job_photo_id, PlacementRow.state == "made"
    )
    session.execute(query.values(state="placed"))


def _as_it_lay(step: StepRow, size: Size) -> Placement:
    """Return a step's placement; where the job's size is another by now, it is this photo's own."""
    if step.size in (None, size) or step.placement.size is not None:
        return step.placement
    return changed(step.placement, size=step.size)


def remember_size(session: Session, job_size_id: int, size: Size) -> None:
    """Note on all steps so far which size they lay on, before the job's own becomes another."""
    on_it = select(PlacementRow.id).where(PlacementRow.job_size_id == job_size_id)
    steps = update(StepRow).where(StepRow.size.is_(None), StepRow.placement_id.in_(on_it))
    session.execute(steps.values(size=size).execution_options(synchronize_session=False))


def steps_of(session: Session, placement_id: int) -> list[tuple[int, str]]:
    """Return a placement's steps in their order: which, and what was done."""
    rows = session.connection().execute(_STEPS, {"placement": placement_id})
    return [(step, what) for step, what in rows]


def last_on(session: Session, placed: Placed, size: Size) -> Placement | None:
    """Return how a piece lay when it last lay on a size, by its steps up to now."""
    steps = select(StepRow).where(StepRow.placement_id == placed.id, StepRow.step <= placed.step)
    for step in session.scalars(steps.order_by(StepRow.step.desc())):
        if size_at(step.size or placed.size, step.placement) == size:
            return step.placement
    return None


def lay_anew(
    session: Session, placement_id: int, placement: Placement, what: str, now: datetime
) -> Placed:
    """Lay a photo anew that no hand has been at; its history begins with this."""
    row = _row(session, placement_id)
    of_it = StepRow.placement_id == placement_id
    number = (session.scalar(select(func.max(StepRow.step)).where(of_it)) or 0) + 1
    session.execute(delete(StepRow).where(of_it).execution_options(synchronize_session=False))
    session.add(StepRow(placement_id=placement_id, step=number, what=what, placement=placement))
    row.step, row.placement, row.state = number, placement, "new"
    return _touched(session, row, now)


def stay_as_it_is(session: Session, placement_id: int, size: Size) -> None:
    """Leave a placement as it lies on a size that is its job's no more: it is its own from now on."""
    row = _row(session, placement_id)
    if row.placement.size is None:
        row.placement = changed(row.placement, size=size)
    session.flush()


def set_state(session: Session, placement_id: int, state: State, now: datetime) -> Placed:
    """Set a placement's state, and return it as it is now."""
    row = _row(session, placement_id)
    row.state = state
    if state == "settled":  # what was asked for is done
        row.word = None
    return _touched(session, row, now)


def set_word(session: Session, placement_id: int, word: str | None) -> None:
    """Keep what the client said of a placement."""
    _row(session, placement_id).word = word
    session.flush()


def _touched(session: Session, row: PlacementRow, now: datetime) -> Placed:
    row.job.touched = now
    session.flush()
    return placed_of(row)


def placed_of(row: PlacementRow) -> Placed:
    """Return the placement a row holds, with its photo and size."""
    saved = row.job_size.saved
    return Placed(
        id=row.id,
        job_id=row.job_id,
        job=row.job.name,
        job_size_id=row.job_size_id,
        job_photo_id=row.job_photo_id,
        photo=photo_in(row.job_photo),
        size=row.job_size.size,
        saved=None if saved is None or saved.deleted is not None else saved.size,
        placement=row.placement,
        state=cast(State, row.state),
        step=row.step,
        receiver=_receiver_of(row),
        word=row.word,
    )


def _receiver_of(row: PlacementRow) -> Receiver | None:
    """Return the receiver that a placement's size names; they are looked up once a session."""
    name = size_at(row.job_size.size, row.placement).goes_to
    session = object_session(row)
    if not name or session is None:
        return None
    if receivers not in session.info:
        session.info[receivers] = {
            kept.receiver.name.casefold(): kept.receiver for kept in receivers.every(session)
        }
    known: dict[str, Receiver] = session.info[receivers]
    return known.get(name.casefold())


def _row(session: Session, placement_id: int) -> PlacementRow:
    return session.get_one(PlacementRow, placement_id)
