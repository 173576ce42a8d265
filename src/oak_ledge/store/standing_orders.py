"""Standing orders: folders whose photos become files by themselves."""

from __future__ import annotations

from dataclasses import dataclass, fields
from datetime import datetime

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from oak_ledge.core.sizes.text.several import Several
from oak_ledge.store.tables import StandingOrderRow


@dataclass(frozen=True)
class StandingOrder:
    """A standing order's row: what folder is watched, and what is made of its photos."""

    id: int
    folder: str
    out: str
    sizes: Several
    on: bool
    trouble: str | None
    """why it is not followed just now"""
    added: datetime
    receiver_id: int | None
    """who its files are sent to"""


def every(session: Session) -> list[StandingOrder]:
    """All of them, the oldest first."""
    rows = select(StandingOrderRow).order_by(StandingOrderRow.id)
    return [_of(row) for row in session.scalars(rows)]


def find(session: Session, order_id: int) -> StandingOrder | None:
    """Return a standing order, or None."""
    row = session.get(StandingOrderRow, order_id)
    return None if row is None else _of(row)


def add(
    session: Session,
    folder: str,
    out: str,
    sizes: Several,
    now: datetime,
    receiver_id: int | None = None,
) -> int:
    """Keep a new standing order; return its number, which none had before."""
    row = StandingOrderRow(
        folder=folder,
        out=out,
        sizes=sizes,
        on=True,
        trouble=None,
        added=now,
        receiver_id=receiver_id,
    )
    session.add(row)
    session.flush()
    return row.id


def set_on(session: Session, order_id: int, *, on: bool) -> None:
    """Pause a standing order, or let it go on."""
    row = session.get_one(StandingOrderRow, order_id)
    row.on, row.trouble = on, None
    session.flush()


def set_trouble(session: Session, order_id: int, trouble: str | None) -> None:
    """Keep why an order is not followed; one that is no more needs no word."""
    row = session.get(StandingOrderRow, order_id)
    if row is not None and row.trouble != trouble:
        row.trouble = trouble
        session.flush()


def remove(session: Session, order_id: int) -> None:
    """Delete a standing order."""
    session.execute(delete(StandingOrderRow).where(StandingOrderRow.id == order_id))


def _of(row: StandingOrderRow) -> StandingOrder:
    return StandingOrder(
        **{field.name: getattr(row, field.name) for field in fields(StandingOrder)}
    )
