"""Sheets of a job and their history; layouts kept for the next job."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from oak_ledge.core.sheets.sheet import Layout, Sheet
from oak_ledge.store.tables import SheetLayoutRow, SheetRow, SheetStepRow


@dataclass(frozen=True)
class KeptSheet:
    """A sheet's row: its name, layout and pieces, and the step it stands at."""

    id: int
    job_id: int
    name: str
    sheet: Sheet
    step: int


@dataclass(frozen=True)
class KeptLayout:
    """A layout that is kept under a name."""

    id: int
    name: str
    layout: Layout


def add(
    session: Session, job_id: int, name: str, sheet: Sheet, what: str, now: datetime
) -> KeptSheet:
    """Keep a new sheet of a job."""
    row = SheetRow(job_id=job_id, name=name, sheet=sheet, step=0, added=now)
    session.add(row)
    session.flush()
    session.add(SheetStepRow(sheet_id=row.id, step=0, what=what, sheet=sheet))
    session.flush()
    return _of(row)


def find(session: Session, sheet_id: int) -> KeptSheet | None:
    """Return a sheet, or None."""
    row = session.get(SheetRow, sheet_id)
    return None if row is None else _of(row)


def of_job(session: Session, job_id: int) -> list[KeptSheet]:
    """Return the sheets of a job, the oldest first."""
    rows = select(SheetRow).where(SheetRow.job_id == job_id).order_by(SheetRow.id)
    return [_of(row) for row in session.scalars(rows)]


def known(session: Session, sheet_ids: Collection[int]) -> set[int]:
    """Those of some sheets that are still there."""
    return set(session.scalars(select(SheetRow.id).where(SheetRow.id.in_(sheet_ids))))


def keep(session: Session, sheet_id: int, sheet: Sheet, what: str) -> KeptSheet:
    """Keep a new step; undone ones are forgotten."""
    row = session.get_one(SheetRow, sheet_id)
    of_it = SheetStepRow.sheet_id == sheet_id
    highest = session.scalar(select(func.max(SheetStepRow.step)).where(of_it)) or 0
    session.execute(delete(SheetStepRow).where(of_it, SheetStepRow.step > row.step))
    step = highest + 1  # a number is never given twice
    session.add(SheetStepRow(sheet_id=sheet_id, step=step, what=what, sheet=sheet))
    row.sheet, row.step = sheet, step
    session.flush()
    return _of(row)


def walk(session: Session, sheet_id: int, by: Literal[-1, 1]) -> KeptSheet:
    """Go one step back or forth; where there is none nothing changes."""
    row = session.get_one(SheetRow, sheet_id)
    steps = select(SheetStepRow).where(SheetStepRow.sheet_id == sheet_id)
    if by < 0:
        steps = steps.where(SheetStepRow.step < row.step).order_by(SheetStepRow.step.desc())
    else:
        steps = steps.where(SheetStepRow.step > row.step).order_by(SheetStepRow.step)
    step = session.scalar(steps.limit(1))
    if step is not None:
        row.sheet, row.step = step.sheet, step.step
        session.flush()
    return _of(row)


def steps_of(session: Session, sheet_id: int) -> list[tuple[int, str]]:
    """Return a sheet's steps in their order: which, and what was done."""
    rows = select(SheetStepRow.step, SheetStepRow.what).where(SheetStepRow.sheet_id == sheet_id)
    return [(step, what) for step, what in session.execute(rows.order_by(SheetStepRow.step))]


def rename(session: Session, sheet_id: int, name: str) -> None:
    """Rename a sheet."""
    session.get_one(SheetRow, sheet_id).name = name
    session.flush()


def remove(session: Session, sheet_id: int) -> None:
    """Delete a sheet with its history; its pieces and files stay."""
    session.execute(delete(SheetStepRow).where(SheetStepRow.sheet_id == sheet_id))
    session.execute(delete(SheetRow).where(SheetRow.id == sheet_id))


def layouts(session: Session) -> list[KeptLayout]:
    """Return the layouts that are kept, by name."""
    rows = session.scalars(select(SheetLayoutRow).order_by(SheetLayoutRow.name))
    return [KeptLayout(row.id, row.name, row.layout) for row in rows]


def keep_layout(session: Session, name: str, layout: Layout) -> KeptLayout:
    """Keep a layout under a name, in place of one that has it."""
    row = session.scalar(select(SheetLayoutRow).where(SheetLayoutRow.name == name))
    if row is None:
        row = SheetLayoutRow(name=name, layout=layout)
        session.add(row)
    row.layout = layout
    session.flush()
    return KeptLayout(row.id, row.name, row.layout)


def find_layout(session: Session, layout_id: int) -> KeptLayout | None:
    """Return a kept layout, or None."""
    row = session.get(SheetLayoutRow, layout_id)
    return None if row is None else KeptLayout(row.id, row.name, row.layout)


def remove_layout(session: Session, layout_id: int) -> None:
    """Delete a kept layout."""
    session.execute(delete(SheetLayoutRow).where(SheetLayoutRow.id == layout_id))


def _of(row: SheetRow) -> KeptSheet:
    return KeptSheet(row.id, row.job_id, row.name, row.sheet, row.step)
