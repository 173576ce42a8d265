"""The library of saved sizes."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from oak_ledge.core.sizes import Size
from oak_ledge.store.tables import SizeRow


@dataclass(frozen=True)
class SavedSize:
    id: int
    size: Size


def every(session: Session) -> list[SavedSize]:
    return [
        SavedSize(row.id, row.size) for row in session.scalars(select(SizeRow).order_by(SizeRow.id))
    ]


def find(session: Session, size_id: int) -> SavedSize | None:
    row = session.get(SizeRow, size_id)
    return None if row is None else SavedSize(row.id, row.size)


def add(session: Session, size: Size) -> SavedSize:
    row = SizeRow(name=size.name, group=size.group, size=size)
    session.add(row)
    session.flush()
    return SavedSize(row.id, size)
