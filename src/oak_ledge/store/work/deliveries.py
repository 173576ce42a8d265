"""Deliveries: which files were asked for, what was measured, what became of each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from datetime import datetime
from typing import Literal, cast

from sqlalchemy import ColumnElement, exists, func, or_, select, true, update
from sqlalchemy.orm import Session

from oak_ledge.core.files.proof import Asked, Measured
from oak_ledge.core.photos.retouches import Retouches
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.sheets.print_order import SheetOrder
from oak_ledge.core.sizes.size import Size
from oak_ledge.store.tables import DeliveryFileRow, DeliveryRow, FormerFile, JobRow

FileState = Literal["queued", "running", "made", "held", "failed"]
DeliveryState = Literal["queued", "running", "paused", "done", "stopped"]
OPEN = ("queued", "running")


@dataclass(frozen=True)
class DeliveryFile:
    """A file of a delivery, frozen as it was asked for, and what came of it."""

    id: int
    delivery_id: int
    placement_id: int
    photo_id: int
    name: str | None
    asked: Asked
    measured: Measured | None
    state: FileState
    reason: str | None
    made_of: str | None
    """what it is made of: a hash over photo, size and placement"""
    finished: datetime | None
    photo_hash: str
    size: Size
    placement: Placement
    retouches: Retouches
    """the four of them as they were when it was asked for"""
    panel: int | None
    """which panel of its piece it is, from 1; None where the piece is one file"""
    panels: int
    """how many files its piece has"""
    sheet_id: int | None
    sheet: SheetOrder | None
    """a sheet as it was asked for; None where the file is of one piece"""
    former: FormerFile | None
    """what stands in its place until it is made again"""
    machine: str | None
    """the other machine that makes it, or made it; None: this one"""


@dataclass(frozen=True)
class Delivery:
    """A delivery's row, with its files."""

    id: int
    job_id: int
    state: DeliveryState
    added: datetime
    files: tuple[DeliveryFile, ...]


@dataclass(frozen=True)
class Wanted:
    """A file to be made; one that is `held` says why it can't be."""

    placement_id: int
    photo_id: int
    name: str
    asked: Asked
    made_of: str
    photo_hash: str
    size: Size
    placement: Placement
    retouches: Retouches
    panel: int | None = None
    panels: int = 1
    sheet_id: int | None = None
    sheet: SheetOrder | None = None
    held: str | None = None


def to_send(session: Session) -> list[tuple[int, int]]:
    """Return deliveries that are over and shall be sent now, each with its receiver."""
    rows = select(DeliveryRow.id, DeliveryRow.send_to).where(
        DeliveryRow.send_to.is_not(None), DeliveryRow.state == "done"
    )
    return [(row.id, row.send_to) for row in session.execute(rows) if row.send_to is not None]


def set_sent(session: Session, delivery_id: int) -> None:
    """Keep that a delivery was handed over to be sent."""
    session.get_one(DeliveryRow, delivery_id).send_to = None
    session.flush()


def add(
    session: Session,
    job_id: int,
    wanted: Sequence[Wanted],
    now: datetime,
    send_to: int | None = None,
) -> int:
    """Write down what shall be made before any of it is; held files are no work."""
    row = DeliveryRow(job_id=job_id, state="queued", added=now, served=0, send_to=send_to)
    session.add(row)
    session.flush()
    session.add_all(
        DeliveryFileRow(
            delivery_id=row.id,
            placement_id=wish.placement_id,
            photo_id=wish.photo_id,
            name=wish.name,
            asked=wish.asked,
            made_of=wish.made_of,
            photo_hash=wish.photo_hash,
            size=wish.size,
            placement=wish.placement,
            retouches=wish.retouches,
            panel=wish.panel,
            panels=wish.panels,
            sheet_id=wish.sheet_id,
            sheet=wish.sheet,
            state="queued" if wish.held is None else "held",
            reason=wish.held,
        )
        for wish in wanted
    )
    session.flush()
    settle(session, row.id)
    return row.id


def file_made(
    session: Session, file: DeliveryFile, worker: str, measured: Measured, now: datetime
) -> bool:
    """Mark a file as made; return False if it is another worker's by now, and change nothing."""
    row = _still(session, file, worker)
    if row is None:
        return False
    row.measured, row.state, row.reason, row.finished = measured, "made", None, now
    row.former, row.lease, row.lost = None, None, 0
    settle(session, file.delivery_id)
    return True


def file_failed(
    session: Session, file: DeliveryFile, worker: str, reason: str, now: datetime
) -> bool:
    """Mark a file as failed; the file that was made in its place before is put back."""
    row = _still(session, file, worker)
    if row is None:
        return False
    fail(row, reason, now)
    settle(session, file.delivery_id)
    return True


def _still(session: Session, file: DeliveryFile, worker: str) -> DeliveryFileRow | None:
    row = session.get(DeliveryFileRow, file.id)
    mine = row is not None and row.state == "running" and row.worker == worker
    return row if mine else None


def fail(row: DeliveryFileRow, reason: str, now: datetime) -> None:
    """Mark a file as failed; the file that was made in its place before is put back."""
    was = row.former
    row.lease, row.former = None, None
    if was is None:
        row.measured, row.state, row.reason, row.finished = None, "failed", reason, now
        return
    row.name, row.asked, row.measured, row.made_of = was.name, was.asked, was.measured, was.made_of
    row.size, row.placement, row.retouches = was.size, was.placement, was.retouches
    row.finished = None if was.finished is None else datetime.fromisoformat(was.finished)
    row.state = "made"
    row.reason = f"Making it again failed. {reason} The file made before is kept."


def again(session: Session, delivery_id: int, file_id: int, wanted: Wanted) -> bool:
    """Queue a file once more, as it is wanted now; False where it is not of that delivery.

    What is there already stays until the new one has taken its place.
    """
    row = session.get(DeliveryFileRow, file_id)
    if row is None or row.delivery_id != delivery_id or row.state in OPEN:
        return False
    if row.state == "made" and row.measured is not None:
        row.former = FormerFile(
            name=row.name or "",
            asked=row.asked,
            measured=row.measured,
            made_of=row.made_of,
            finished=None if row.finished is None else row.finished.isoformat(),
            size=row.size,
            placement=row.placement,
            retouches=row.retouches,
        )
    row.name, row.asked, row.made_of = wanted.name, wanted.asked, wanted.made_of
    row.photo_hash, row.size, row.placement = wanted.photo_hash, wanted.size, wanted.placement
    row.retouches = wanted.retouches
    _queue(session, row)
    return True


def once_more(session: Session, file_id: int) -> None:
    """Queue a file that was made and is gone, exactly as it was asked for."""
    _queue(session, session.get_one(DeliveryFileRow, file_id))


def _queue(session: Session, row: DeliveryFileRow) -> None:
    row.state, row.reason, row.measured, row.finished = "queued", None, None, None
    row.lost, row.machine = 0, None
    session.get_one(DeliveryRow, row.delivery_id).state = "queued"
    session.flush()


def every_made(session: Session) -> list[DeliveryFile]:
    """All files that are made."""
    rows = select(DeliveryFileRow).where(DeliveryFileRow.state == "made")
    return [file_of(row) for row in session.scalars(rows.order_by(DeliveryFileRow.id))]


def set_state(session: Session, delivery_id: int, state: DeliveryState) -> None:
    """Set a delivery's state."""
    session.get_one(DeliveryRow, delivery_id).state = state
    session.flush()


def drop_queued(session: Session, delivery_id: int, reason: str, now: datetime) -> None:
    """Leave what has not been begun yet."""
    waiting = select(DeliveryFileRow).where(
        DeliveryFileRow.delivery_id == delivery_id, DeliveryFileRow.state == "queued"
    )
    for row in session.scalars(waiting):
        fail(row, reason, now)
    session.flush()


def settle(session: Session, delivery_id: int) -> None:
    """Mark a delivery as done once none of its files is still to be made."""
    session.flush()
    _settled(session, DeliveryRow.id == delivery_id)


def settle_all(session: Session) -> None:
    """Mark every such delivery as done."""
    _settled(session, true())


def _settled(session: Session, which: ColumnElement[bool]) -> None:
    left = exists().where(
        DeliveryFileRow.delivery_id == DeliveryRow.id, DeliveryFileRow.state.in_(OPEN)
    )
    over = update(DeliveryRow).where(which, DeliveryRow.state.in_(OPEN), ~left)
    session.execute(over.values(state="done"))


def find(session: Session, delivery_id: int) -> Delivery | None:
    """Return a delivery with its files, or None."""
    row = session.get(DeliveryRow, delivery_id)
    if row is None:
        return None
    files = tuple(file_of(file) for file in row.files)
    return Delivery(row.id, row.job_id, cast(DeliveryState, row.state), row.added, files)


def ids(session: Session, find: str = "") -> list[int]:
    """Return the ids of all deliveries, the newest first.

    With `find` only those with all of its words in the name of their job or of a file.
    """
    query = select(DeliveryRow.id).order_by(DeliveryRow.id.desc())
    for word in find.split()[:8]:
        named = exists().where(
            JobRow.id == DeliveryRow.job_id, JobRow.name.icontains(word, autoescape=True)
        )
        held = exists().where(
            DeliveryFileRow.delivery_id == DeliveryRow.id,
            DeliveryFileRow.name.icontains(word, autoescape=True),
        )
        query = query.where(or_(named, held))
    return list(session.scalars(query))


def count_open(session: Session) -> int:
    """How many deliveries are being made."""
    going_on = select(func.count()).where(DeliveryRow.state.in_(OPEN))
    return session.scalar(going_on) or 0


def last_of_job(session: Session, job_id: int, most: int) -> list[tuple[int, datetime]]:
    """Return the last deliveries of a job, the newest first: their ids, and when they were asked for."""
    query = (
        select(DeliveryRow.id, DeliveryRow.added)
        .where(DeliveryRow.job_id == job_id)
        .order_by(DeliveryRow.id.desc())
        .limit(most)
    )
    return [(row_id, added) for row_id, added in session.execute(query)]


def all_made(session: Session, file: DeliveryFile) -> bool:
    """Return whether every file of a file's piece is made in its delivery."""
    left = select(DeliveryFileRow.id).where(
        DeliveryFileRow.delivery_id == file.delivery_id,
        DeliveryFileRow.placement_id == file.placement_id,
        DeliveryFileRow.state != "made",
    )
    return session.scalar(left.limit(1)) is None


def of_sheet(session: Session, sheet_id: int) -> DeliveryFile | None:
    """Return the last file that was asked for of a sheet."""
    rows = select(DeliveryFileRow).where(DeliveryFileRow.sheet_id == sheet_id)
    row = session.scalar(rows.order_by(DeliveryFileRow.id.desc()).limit(1))
    return None if row is None else file_of(row)


def newest_file(session: Session, placement_id: int) -> DeliveryFile | None:
    """Return the last file that was asked for of a placement; the first of its panels."""
    row = session.scalar(
        select(DeliveryFileRow)
        .where(DeliveryFileRow.placement_id == placement_id, DeliveryFileRow.sheet.is_(None))
        .order_by(DeliveryFileRow.delivery_id.desc(), DeliveryFileRow.id)
        .limit(1)
    )
    return None if row is None else file_of(row)


def files_of(session: Session, placement_id: int, most: int = 20) -> list[DeliveryFile]:
    """Return the files made of a placement that are still known, the newest first."""
    rows = select(DeliveryFileRow).where(
        DeliveryFileRow.placement_id == placement_id,
        DeliveryFileRow.state == "made",
        DeliveryFileRow.sheet.is_(None),
    )
    newest = rows.order_by(DeliveryFileRow.delivery_id.desc(), DeliveryFileRow.id)
    file_rows = session.scalars(newest.limit(most))
    return [file_of(row) for row in file_rows]


def last_made(session: Session, job_id: int) -> dict[tuple[int, int | None], DeliveryFile]:
    """Return the last file that was made of each placement of a job, and of each of its panels."""
    rows = (
        select(DeliveryFileRow)
        .join(DeliveryRow, DeliveryRow.id == DeliveryFileRow.delivery_id)
        .where(DeliveryRow.job_id == job_id, DeliveryFileRow.state == "made")
        .where(DeliveryFileRow.sheet.is_(None))
        .order_by(DeliveryFileRow.id)
    )
    return {(row.placement_id, row.panel): file_of(row) for row in session.scalars(rows)}


def file_of(row: DeliveryFileRow) -> DeliveryFile:
    """Return a row as what it says."""
    return DeliveryFile(**{field.name: getattr(row, field.name) for field in fields(DeliveryFile)})
