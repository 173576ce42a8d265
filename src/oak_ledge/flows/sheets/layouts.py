"""Layouts of sheets, kept under a name for the next job."""

from __future__ import annotations

from pydantic import BaseModel

from oak_ledge.flows.sheets.view import LayoutView, layout_view, sheet_in
from oak_ledge.flows.workspace import AskedError, NotFoundError, Workspace
from oak_ledge.store import sheets
from oak_ledge.store.database import reading, transaction


class SavedLayout(BaseModel):
    id: int
    name: str
    layout: LayoutView


def every(workspace: Workspace) -> list[SavedLayout]:
    with reading(workspace.sessions) as session:
        found = sheets.layouts(session)
    return [SavedLayout(id=one.id, name=one.name, layout=layout_view(one.layout)) for one in found]


def keep(workspace: Workspace, sheet_id: int, name: str) -> SavedLayout:
    """Keep a sheet's paper and how it is laid out, under a name; one that has it is replaced.

    Raises
    ------
    AskedError
        If the name is empty.
    """
    called = " ".join(name.split())[:80]
    if not called:
        msg = "Give the layout a name."
        raise AskedError(msg)
    with transaction(workspace.sessions) as session:
        made = sheets.keep_layout(session, called, sheet_in(session, sheet_id).sheet.layout)
    return SavedLayout(id=made.id, name=made.name, layout=layout_view(made.layout))


def remove(workspace: Workspace, layout_id: int) -> None:
    with transaction(workspace.sessions) as session:
        if sheets.find_layout(session, layout_id) is None:
            msg = f"There is no layout {layout_id}."
            raise NotFoundError(msg)
        sheets.remove_layout(session, layout_id)
