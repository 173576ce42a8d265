"""Who makes which file: claimed by a worker for a lease, renewed while it lives, put back when it ends."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ColumnElement, and_, func, or_, select, update
from sqlalchemy.orm import Session, aliased

from oak_ledge.store.tables import DeliveryFileRow, DeliveryRow, PhotoRow
from oak_ledge.store.work.deliveries import OPEN, DeliveryFile, file_of

AT_ONCE = 4  # pieces of one photo a worker takes: its other sizes may go to another core


def claim(session: Session, worker: str, most_pixels: int, lease: datetime) -> list[DeliveryFile]:
    """Take the next files of one photo, of the delivery that has waited longest; none: no work.

    All panels of a piece go to one worker, which draws it once.

    They are the worker's until its `lease` ends, which it has to `renew`.

    None either while all workers together would hold more than `most_pixels` of photos and files;
    one alone may. One statement takes them, so that two workers never take the same.
    """
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
    chosen = select(DeliveryFileRow.id).where(waits, DeliveryFileRow.placement_id.in_(pieces))
    these = chosen.scalar_subquery()
    held = _pixels(DeliveryFileRow.state == "running")
    taken = (
        update(DeliveryFileRow)
        .where(DeliveryFileRow.id.in_(these), DeliveryFileRow.state == "queued")
        .where(or_(held == 0, held + _pixels(DeliveryFileRow.id.in_(these)) <= most_pixels))
        .values(state="running", worker=worker, lease=lease)
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


def _pixels(which: ColumnElement[bool]) -> ColumnElement[int]:
    """The pixels held for files: for every worker at once its photo's, and those of its largest file."""
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


def put_back(session: Session, worker: str | None = None) -> None:
    """Queue again what was being made by a worker that is no more, or by any."""
    lost = update(DeliveryFileRow).where(DeliveryFileRow.state == "running")
    if worker is not None:
        lost = lost.where(DeliveryFileRow.worker == worker)
    session.execute(lost.values(state="queued", worker=None, lease=None))


def put_back_ended(session: Session, now: datetime) -> None:
    """Queue again what workers hold whose lease has ended."""
    ended = update(DeliveryFileRow).where(_ended(now))
    session.execute(ended.values(state="queued", worker=None, lease=None))


def any_ended(session: Session, now: datetime) -> bool:
    """Say whether a worker holds a file whose lease has ended."""
    return session.scalar(select(DeliveryFileRow.id).where(_ended(now)).limit(1)) is not None


def _ended(now: datetime) -> ColumnElement[bool]:
    lease = DeliveryFileRow.lease
    return and_(DeliveryFileRow.state == "running", or_(lease.is_(None), lease < now))


def renew(session: Session, worker: str, lease: datetime) -> None:
    """A worker lives: what it is at is its own for longer."""
    its = update(DeliveryFileRow).where(
        DeliveryFileRow.state == "running", DeliveryFileRow.worker == worker
    )
    session.execute(its.values(lease=lease))


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
    """Say whether any file is being made."""
    running = select(DeliveryFileRow.id).where(DeliveryFileRow.state == "running")
    return session.scalar(running.limit(1)) is not None
