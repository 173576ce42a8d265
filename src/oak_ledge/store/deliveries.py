"""Deliveries: which files were asked for, what was measured, what became of each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal, cast

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from oak_ledge.core.pixels.proof import Asked, Measured
from oak_ledge.store.tables import DeliveryFileRow, DeliveryRow

FileState = Literal["queued", "made", "failed"]
DeliveryState = Literal["queued", "running", "paused", "done", "stopped"]
STOPPED = "The program was stopped before this file was finished. Make it again."


@dataclass(frozen=True)
class DeliveryFile:
    id: int
    delivery_id: int
    placement_id: int
    name: str | None
    asked: Asked
    measured: Measured | None
    state: FileState
    reason: str | None


@dataclass(frozen=True)
class Delivery:
    id: int
    job_id: int
    state: DeliveryState
    files: tuple[DeliveryFile, ...]


def add(session: Session, job_id: int, asked: Sequence[tuple[int, Asked]], now: datetime) -> int:
    """Write down what shall be made, (placement, asked) each, before any of it is."""
    row = DeliveryRow(job_id=job_id, state="running", added=now)
    session.add(row)
    session.flush()
    for placement_id, wanted in asked:
        session.add(
            DeliveryFileRow(
                delivery_id=row.id, placement_id=placement_id, asked=wanted, state="queued"
            )
        )
    session.flush()
    return row.id


def file_made(session: Session, file_id: int, name: str, measured: Measured) -> None:
    row = session.get_one(DeliveryFileRow, file_id)
    row.name, row.measured, row.state = name, measured, "made"


def file_failed(
    session: Session, file_id: int, reason: str, name: str | None = None,
    measured: Measured | None = None,
) -> None:  # fmt: skip
    row = session.get_one(DeliveryFileRow, file_id)
    row.name, row.measured, row.state, row.reason = name, measured, "failed", reason


def finish(session: Session, delivery_id: int) -> None:
    session.get_one(DeliveryRow, delivery_id).state = "done"


def find(session: Session, delivery_id: int) -> Delivery | None:
    row = session.get(DeliveryRow, delivery_id)
    if row is None:
        return None
    files = tuple(_file_of(file) for file in row.files)
    return Delivery(row.id, row.job_id, cast(DeliveryState, row.state), files)


def newest_file(session: Session, placement_id: int) -> DeliveryFile | None:
    row = session.scalar(
        select(DeliveryFileRow)
        .where(DeliveryFileRow.placement_id == placement_id)
        .order_by(DeliveryFileRow.id.desc())
        .limit(1)
    )
    return None if row is None else _file_of(row)


def mark_stopped(session: Session) -> None:
    """After a kill: what was still running says so, with the way on."""
    session.execute(
        update(DeliveryFileRow)
        .where(DeliveryFileRow.state == "queued")
        .values(state="failed", reason=STOPPED)
    )
    session.execute(
        update(DeliveryRow).where(DeliveryRow.state == "running").values(state="stopped")
    )


def _file_of(row: DeliveryFileRow) -> DeliveryFile:
    return DeliveryFile(
        id=row.id,
        delivery_id=row.delivery_id,
        placement_id=row.placement_id,
        name=row.name,
        asked=row.asked,
        measured=row.measured,
        state=cast(FileState, row.state),
        reason=row.reason,
    )
