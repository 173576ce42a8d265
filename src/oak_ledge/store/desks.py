"""What desks received and answered, and how they stand."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal, cast

from sqlalchemy import select
from sqlalchemy.orm import Session

from oak_ledge.store.tables import DeliveryFileRow, DeskRow, ReceiptRow

Fault = Literal["none", "slow", "refuses", "breaks off"]


@dataclass(frozen=True)
class Stands:
    """How a desk stands: the fault switched on, and whether it hangs."""

    fault: Fault = "none"
    hung: bool = False


@dataclass(frozen=True)
class Receipt:
    """What a receiver answered to a file."""

    desk: str
    delivery_id: int
    file_id: int
    name: str
    accepted: bool
    words: str
    received: datetime


def stands(session: Session, name: str) -> Stands:
    """Return how a receiver stands: its fault, and what it was sent."""
    row = session.get(DeskRow, name)
    return Stands() if row is None else Stands(cast(Fault, row.fault), row.hung)


def set_stands(session: Session, name: str, now: Stands) -> None:
    """Set how a receiver stands."""
    row = session.get(DeskRow, name)
    if row is None:
        session.add(DeskRow(name=name, fault=now.fault, hung=now.hung))
    else:
        row.fault, row.hung = now.fault, now.hung
    session.flush()


def add(
    session: Session, desk: str, file_id: int, words: str, now: datetime, *, accepted: bool
) -> None:
    """Keep what a receiver answered to a file."""
    session.add(
        ReceiptRow(
            desk=desk, delivery_file_id=file_id, accepted=accepted, words=words, received=now
        )
    )
    session.flush()


def received(session: Session, desk: str | None = None) -> list[Receipt]:
    """Every receipt, the newest first; of one desk or of all."""
    rows = (
        select(ReceiptRow, DeliveryFileRow)
        .join(DeliveryFileRow, DeliveryFileRow.id == ReceiptRow.delivery_file_id)
        .order_by(ReceiptRow.id.desc())
    )
    if desk is not None:
        rows = rows.where(ReceiptRow.desk == desk)
    return [
        Receipt(
            row.desk,
            file.delivery_id,
            file.id,
            file.name or "",
            row.accepted,
            row.words,
            row.received,
        )
        for row, file in session.execute(rows)
    ]
