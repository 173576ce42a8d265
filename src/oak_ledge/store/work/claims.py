"""Who makes which file: claimed by a worker for a lease, renewed while it lives, put back when it ends."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ColumnElement, Select, Update, and_, func, or_, select, true, update
from sqlalchemy.orm import Session, aliased

from oak_ledge.store.tables import DeliveryFileRow, DeliveryRow, PhotoRow
from oak_ledge.store.work.deliveries import OPEN, DeliveryFile, fail, file_of, settle

# Pieces of one photo a worker takes: its other sizes may go to another core.
AT_ONCE = 4
# Workers that ended over a file: then it is not begun again.
MOST_LOST = 3

LOST = (
    "It ended the program that made it, three times. There was probably not enough memory: close other "
    "programs, or ask for fewer pixels."
)


def claim(
    session: Session,
    worker: str,
    most_pixels: int,
    lease: datetime,
    *,
    elsewhere: bool = False,
) -> list[DeliveryFile]:
    """Take the next files of one photo, of the delivery that has waited longest; none: no work.

    All panels of a piece go to one worker, which draws it once.

    They are the worker's until its `lease` ends, which it has to `renew`.

    None either while all workers of this machine together would hold more than `most_pixels` of photos
    and files; one alone may. A worker `elsewhere` has a memory of its own, and `worker` is then the
    ticket it is handed. One statement takes them, so that two workers never take the same.
    """
    these = _next_in_line().scalar_subquery()
    held = _pixels(and_(DeliveryFileRow.state == "running", DeliveryFileRow.elsewhere.is_(False)))
    fits = or_(held == 0, held + _pixels(DeliveryFileRow.id.in_(these)) <= most_pixels)
    taken = (
        update(DeliveryFileRow)
        .where(DeliveryFileRow.id.in_(these), DeliveryFileRow.state == "queued")
        .where(true() if elsewhere else fits)
        .values(state="running", worker=worker, lease=lease, elsewhere=elsewhere, machine=None)
        .returning(DeliveryFileRow.id)
    )
    ids = list(session.scalars(taken.execution_options(synchronize_session=False)))
    rows = session.scalars(
        select(DeliveryFileRow).where(DeliveryFileRow.id.in_(ids)).order_by(DeliveryFileRow.id)
    )
    files = [file_of(row) for row in rows]
    if files:
        served = select(func.max(DeliveryRow.served) + 1).scalar_subquery()
        session.execute(
            update(DeliveryRow)
            .where(DeliveryRow.id == files[0].delivery_id)
            .values(state="running", served=served)
        )
    return files


def _next_in_line() -> Select[int]:
    """Select the files of the pieces whose turn it is: of one photo, of the delivery served least."""
    file, first = aliased(DeliveryFileRow), aliased(DeliveryFileRow)
    turn = (
        select(DeliveryRow.id)
        .join(file, file.delivery_id == DeliveryRow.id)
        .where(DeliveryRow.state.in_(OPEN), file.state == "queued")
        .order_by(DeliveryRow.served, DeliveryRow.id)
        .limit(1)
        .scalar_subquery()
    )
    photo = (
        select(first.photo_id)
        .where(first.delivery_id == turn, first.state == "queued")
        .order_by(first.id)
        .limit(1)
        .scalar_subquery()
    )
    waits = and_(
        DeliveryFileRow.delivery_id == turn,
        DeliveryFileRow.photo_id == photo,
        DeliveryFileRow.state == "queued",
    )
    pieces = (
        select(DeliveryFileRow.placement_id)
        .where(waits)
        .group_by(DeliveryFileRow.placement_id)
        .order_by(func.min(DeliveryFileRow.id))
        .limit(AT_ONCE)
        .scalar_subquery()
    )
    return select(DeliveryFileRow.id).where(waits, DeliveryFileRow.placement_id.in_(pieces))


def _pixels(which: ColumnElement[bool]) -> ColumnElement[int]:
    """Return the pixels held for files: for every worker at once its photo's, and those of its largest file."""
    file = (
        select(
            func.json_extract(PhotoRow.facts, "$.width")
            * func.json_extract(PhotoRow.facts, "$.height")
            + func.max(
                func.json_extract(DeliveryFileRow.asked, "$.width")
                * func.json_extract(DeliveryFileRow.asked, "$.height")
                * DeliveryFileRow.panels
            )
        )
        .select_from(DeliveryFileRow)
        .join(PhotoRow, PhotoRow.id == DeliveryFileRow.photo_id)
        .where(which)
        .group_by(DeliveryFileRow.worker, DeliveryFileRow.photo_id)
        .subquery()
    )
    return select(func.coalesce(func.sum(file.c[0]), 0)).scalar_subquery()


def put_all_back(session: Session) -> None:
    """Queue again what was being made when all workers of this machine were ended."""
    here = update(DeliveryFileRow).where(
        DeliveryFileRow.state == "running", DeliveryFileRow.elsewhere.is_(False)
    )
    session.execute(here.values(state="queued", worker=None, lease=None))


def put_back(session: Session, worker: str, now: datetime, reason: str = LOST) -> None:
    """Queue again what was being made by a worker that is no more; what ended too many has failed."""
    _lost(session, DeliveryFileRow.worker == worker, now, reason)


def put_back_ended(session: Session, now: datetime) -> None:
    """Put back all whose lease has ended."""
    _lost(session, _ended(now), now)


def _lost(session: Session, which: ColumnElement[bool], now: datetime, reason: str = LOST) -> None:
    rows = select(DeliveryFileRow).where(DeliveryFileRow.state == "running", which)
    for row in session.scalars(rows.order_by(DeliveryFileRow.id)):
        begun = not row.elsewhere or row.machine is not None  # else nobody took it from the queue
        row.lost += begun
        if row.lost < MOST_LOST:
            row.state, row.worker, row.lease = "queued", None, None
            row.elsewhere, row.machine = False, None
        else:
            fail(row, reason, now)
            settle(session, row.delivery_id)
    session.flush()


def any_ended(session: Session, now: datetime) -> bool:
    """Return whether a worker holds a file whose lease has ended."""
    return session.scalar(select(DeliveryFileRow.id).where(_ended(now)).limit(1)) is not None


def _ended(now: datetime) -> ColumnElement[bool]:
    lease = DeliveryFileRow.lease
    return and_(DeliveryFileRow.state == "running", or_(lease.is_(None), lease < now))


def renew(session: Session, worker: str, lease: datetime) -> bool:
    """Note that a worker lives: what it is at is its own for longer; False where it is at nothing."""
    return (
        session.scalar(_its(worker).values(lease=lease).returning(DeliveryFileRow.id)) is not None
    )


def begin(session: Session, ticket: str, machine: str, lease: datetime) -> bool:
    """Return a worker elsewhere begins what was handed out; False where it is not its own any more."""
    begun = _its(ticket).values(machine=machine, lease=lease)
    return session.scalar(begun.returning(DeliveryFileRow.id)) is not None


def of_ticket(session: Session, ticket: str) -> list[DeliveryFile]:
    """Return what is handed out under a ticket, and is not back yet."""
    rows = select(DeliveryFileRow).where(
        DeliveryFileRow.state == "running", DeliveryFileRow.worker == ticket
    )
    return [file_of(row) for row in session.scalars(rows.order_by(DeliveryFileRow.id))]


def handed_out(session: Session) -> int:
    """How many tickets are out."""
    out = select(func.count(DeliveryFileRow.worker.distinct())).where(
        DeliveryFileRow.state == "running", DeliveryFileRow.elsewhere
    )
    return session.scalar(out) or 0


def _its(worker: str) -> Update:
    return (
        update(DeliveryFileRow)
        .where(DeliveryFileRow.state == "running", DeliveryFileRow.worker == worker)
        .execution_options(synchronize_session=False)
    )


def groups_waiting(session: Session) -> int:
    """How many photos have files that wait in deliveries that go on."""
    waiting = (
        select(
            DeliveryFileRow.delivery_id,
            DeliveryFileRow.photo_id,
            func.count(DeliveryFileRow.placement_id.distinct()),
        )
        .join(DeliveryRow, DeliveryRow.id == DeliveryFileRow.delivery_id)
        .where(DeliveryRow.state.in_(OPEN), DeliveryFileRow.state == "queued")
        .group_by(DeliveryFileRow.delivery_id, DeliveryFileRow.photo_id)
    )
    return sum(-(-count // AT_ONCE) for _, _, count in session.execute(waiting))


def any_running(session: Session) -> bool:
    """Return whether any file is being made."""
    running = select(DeliveryFileRow.id).where(DeliveryFileRow.state == "running")
    return session.scalar(running.limit(1)) is not None
