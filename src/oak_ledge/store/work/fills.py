"""Grounds and retouches that wait to be made, are being made, or could not be."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, fields
from datetime import datetime
from typing import Literal, cast

from sqlalchemy import ColumnElement, Update, delete, func, or_, select, true, update
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session, aliased

from oak_ledge.core.photos.fill_work import FillWork
from oak_ledge.store.tables import FillRow

FillState = Literal["waiting", "running", "failed"]

# Workers that ended over it: then it is not begun again.
MOST_LOST = 2

LOST = (
    "It ended the program that made it, twice. There was probably not enough memory: close other "
    "programs, or take the crop nearer to the photo."
)


@dataclass(frozen=True)
class Fill:
    """One that is not made yet."""

    id: int
    made_of: str
    photo_id: int
    work: FillWork
    state: FillState
    begun: datetime | None
    reason: str | None


@dataclass(frozen=True)
class FillWish:
    """One that shall be made; lower turns come first."""

    made_of: str
    photo_id: int
    work: FillWork
    pixels: int
    turn: int
    asker: str
    """what it is for: asked for something else, it wants this no more"""


def ask(session: Session, wish: FillWish) -> None:
    """Ask for one; what is asked for already stays as it is, but for a better turn."""
    row = {
        **{field.name: getattr(wish, field.name) for field in fields(wish)},
        "state": "waiting",
        "lost": 0,
    }
    statement = insert(FillRow).values(row)
    better = {"turn": func.min(FillRow.turn, statement.excluded.turn)}
    session.execute(statement.on_conflict_do_update(index_elements=["made_of"], set_=better))


def find_many(session: Session, made_of: Collection[str]) -> dict[str, Fill]:
    """Return those that are not made yet, by what they are made of."""
    rows = session.scalars(select(FillRow).where(FillRow.made_of.in_(made_of)))
    return {row.made_of: _of(row) for row in rows}


def claim(
    session: Session,
    worker: str,
    most_pixels: int,
    now: datetime,
    lease: datetime,
    *,
    elsewhere: bool = False,
) -> Fill | None:
    """Take the next one, for a lease; None where none waits, or memory for no more is left.

    A worker `elsewhere` has a memory of its own; it `begin`s when it takes what it was handed.
    One statement takes it, so that two workers never take the same.
    """
    other = aliased(FillRow)
    held = select(func.coalesce(func.sum(other.pixels), 0)).where(
        other.state == "running", other.elsewhere.is_(False)
    )
    running = held.scalar_subquery()
    waits = aliased(FillRow)
    next_one = (
        select(waits.id)
        .where(waits.state == "waiting")
        .order_by(waits.turn, waits.id)
        .limit(1)
        .scalar_subquery()
    )
    taken = (
        update(FillRow)
        .where(FillRow.id == next_one, FillRow.state == "waiting")
        .where(true() if elsewhere else or_(running == 0, running + FillRow.pixels <= most_pixels))
        .values(
            state="running",
            worker=worker,
            begun=None if elsewhere else now,
            lease=lease,
            elsewhere=elsewhere,
        )
        .returning(FillRow.id)
    )
    fill_id = session.scalar(taken.execution_options(synchronize_session=False))
    return None if fill_id is None else _of(session.get_one(FillRow, fill_id))


def is_still(session: Session, fill_id: int, worker: str) -> bool:
    """Return whether a worker's fill is still wanted, and its own."""
    its = select(FillRow.id).where(
        FillRow.id == fill_id, FillRow.state == "running", FillRow.worker == worker
    )
    return session.scalar(its) is not None


def set_made(session: Session, fill_id: int, worker: str) -> None:
    """Note that a fill is made: nothing is left to do."""
    session.execute(delete(FillRow).where(FillRow.id == fill_id, FillRow.worker == worker))


def failed(session: Session, fill_id: int, worker: str, reason: str) -> None:
    """Note that a fill can't be made, and why."""
    its = update(FillRow).where(FillRow.id == fill_id, FillRow.worker == worker)
    session.execute(its.values(state="failed", reason=reason, worker=None, lease=None))


def forget(session: Session, made_of: Collection[str]) -> None:
    """Forget that some failed."""
    failed = delete(FillRow).where(FillRow.made_of.in_(made_of), FillRow.state == "failed")
    session.execute(failed)


def of_asker(session: Session, asker: str) -> set[str]:
    """Name what was asked for something and is not made yet."""
    its = select(FillRow.made_of).where(FillRow.asker == asker, FillRow.state != "failed")
    return set(session.scalars(its))


def drop(session: Session, asker: str, but: Collection[str] = ()) -> None:
    """Want no more what was asked for something, at whatever point it is, but for some."""
    its = delete(FillRow).where(FillRow.asker == asker, FillRow.made_of.not_in(but))
    session.execute(its)


def renew(session: Session, worker: str, lease: datetime) -> bool:
    """Note that a worker lives: what it is at is its own for longer; False where it is at nothing."""
    return session.scalar(_its(worker).values(lease=lease).returning(FillRow.id)) is not None


def begin(session: Session, ticket: str, now: datetime, lease: datetime) -> bool:
    """Return a worker elsewhere begins what was handed out; False where it is not its own any more."""
    begun = _its(ticket).values(begun=now, lease=lease)
    return session.scalar(begun.returning(FillRow.id)) is not None


def of_ticket(session: Session, ticket: str) -> Fill | None:
    """Return what is handed out under a ticket, and is not back yet."""
    row = session.scalar(
        select(FillRow).where(FillRow.state == "running", FillRow.worker == ticket)
    )
    return None if row is None else _of(row)


def handed_out(session: Session) -> int:
    """How many are out."""
    out = select(func.count()).where(FillRow.state == "running", FillRow.elsewhere)
    return session.scalar(out) or 0


def _its(worker: str) -> Update:
    return (
        update(FillRow)
        .where(FillRow.state == "running", FillRow.worker == worker)
        .execution_options(synchronize_session=False)
    )


def put_all_back(session: Session) -> None:
    """Put back in line what was being made when all workers of this machine ended."""
    running = update(FillRow).where(FillRow.state == "running", FillRow.elsewhere.is_(False))
    session.execute(running.values(state="waiting", worker=None, lease=None))


def put_back(session: Session, worker: str) -> None:
    """Put back in line what a lost worker was making; what ended too many workers has failed."""
    _lost(session, FillRow.worker == worker)


def put_back_ended(session: Session, now: datetime) -> None:
    """Put back all whose lease has ended."""
    _lost(session, FillRow.lease < now)


def _lost(session: Session, which: ColumnElement[bool]) -> None:
    lost = update(FillRow).where(FillRow.state == "running", which)
    untaken = lost.where(FillRow.begun.is_(None))  # nobody took it from the queue
    session.execute(untaken.values(state="waiting", worker=None, lease=None))
    again = lost.where(FillRow.lost + 1 < MOST_LOST)
    session.execute(again.values(state="waiting", worker=None, lease=None, lost=FillRow.lost + 1))
    session.execute(lost.values(state="failed", worker=None, lease=None, reason=LOST))


def any_ended(session: Session, now: datetime) -> bool:
    """Return whether a worker holds one whose lease has ended."""
    ended = select(FillRow.id).where(FillRow.state == "running", FillRow.lease < now)
    return session.scalar(ended.limit(1)) is not None


def waiting(session: Session) -> int:
    """How many wait."""
    rows = select(func.count()).select_from(FillRow).where(FillRow.state == "waiting")
    return session.scalar(rows) or 0


def _of(row: FillRow) -> Fill:
    return Fill(
        row.id,
        row.made_of,
        row.photo_id,
        row.work,
        cast(FillState, row.state),
        row.begun,
        row.reason,
    )
