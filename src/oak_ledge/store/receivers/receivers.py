"""Receivers: who files go to, and how each stands."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from oak_ledge.core.receivers.receiver import Receiver
from oak_ledge.store.kinds import readable
from oak_ledge.store.receivers.tables import ReceiverRow


@dataclass(frozen=True)
class KeptReceiver:
    """A receiver's row; `rehearsing` where files go to its stand-in, with its `fault`."""

    id: int
    version: int
    receiver: Receiver
    paused: bool
    rehearsing: bool
    fault: str | None
    deleted: bool


def every(session: Session) -> list[KeptReceiver]:
    """Every receiver that can be read and is not deleted, the oldest first."""
    rows = select(ReceiverRow).where(ReceiverRow.deleted.is_(None)).order_by(ReceiverRow.id)
    return [_kept(row) for row in readable(session, rows, ReceiverRow.id)]


def find(session: Session, receiver_id: int) -> KeptReceiver | None:
    """Return a receiver, deleted or not; None where there never was one."""
    row = session.get(ReceiverRow, receiver_id)
    return None if row is None else _kept(row)


def add(session: Session, receiver: Receiver) -> KeptReceiver:
    """Keep a new receiver."""
    row = ReceiverRow(
        name=receiver.name, receiver=receiver, paused=False, rehearsing=False, fault=None
    )
    session.add(row)
    session.flush()
    return _kept(row)


def change(session: Session, receiver_id: int, receiver: Receiver) -> KeptReceiver:
    """Keep a receiver otherwise; its version goes up."""
    row = session.get_one(ReceiverRow, receiver_id)
    row.name, row.receiver = receiver.name, receiver
    session.flush()
    return _kept(row)


def set_deleted(session: Session, receiver_id: int, when: datetime | None) -> None:
    """Delete a receiver, or bring it back with None."""
    session.get_one(ReceiverRow, receiver_id).deleted = when
    session.flush()


def set_paused(session: Session, receiver_id: int, *, paused: bool) -> None:
    """Begin no further file for a receiver, or go on."""
    session.get_one(ReceiverRow, receiver_id).paused = paused
    session.flush()


def set_rehearsing(
    session: Session, receiver_id: int, *, rehearsing: bool, fault: str | None
) -> None:
    """Let files go to a receiver's stand-in, or to itself."""
    row = session.get_one(ReceiverRow, receiver_id)
    row.rehearsing, row.fault = rehearsing, fault if rehearsing else None
    session.flush()


def _kept(row: ReceiverRow) -> KeptReceiver:
    return KeptReceiver(
        row.id,
        row.version,
        row.receiver,
        row.paused,
        row.rehearsing,
        row.fault,
        row.deleted is not None,
    )
