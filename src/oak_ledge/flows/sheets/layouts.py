"""Layouts of sheets: what a new sheet has, and those kept under a name for the next job."""

from __future__ import annotations

from pydantic import BaseModel

from oak_ledge.core.sheets.canvas import is_paper
from oak_ledge.core.sheets.cells import read_cells
from oak_ledge.core.sheets.sheet import Kind, Layout, layout_from, usual_spaces
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.sheets.view import LayoutView, layout_view, sheet_in
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.library import sizes
from oak_ledge.store.sheets import sheets
from oak_ledge.store.sheets.sheets import KeptLayout

USUAL_PAPER = "A4@300"


class SavedLayout(BaseModel):
    """A layout that is kept under a name."""

    id: int
    name: str
    layout: LayoutView


def every(workspace: Workspace) -> list[SavedLayout]:
    """Return all kept layouts."""
    with reading(workspace.sessions) as session:
        kept = sheets.layouts(session)
    return [
        SavedLayout(id=part.id, name=part.name, layout=layout_view(part.layout)) for part in kept
    ]


def keep(workspace: Workspace, sheet_id: int, name: str) -> SavedLayout:
    """Keep a sheet's paper and how it is laid out, under a name; one that has it is replaced.

    Raises
    ------
    RequestError
        If the name is empty.
    """
    called = " ".join(name.split())[:80]
    if not called:
        msg = "Give the layout a name."
        raise RequestError(msg)
    with transaction(workspace.sessions) as session:
        kept = sheets.keep_layout(session, called, sheet_in(session, sheet_id).sheet.layout)
    return SavedLayout(id=kept.id, name=kept.name, layout=layout_view(kept.layout))


def remove(workspace: Workspace, layout_id: int) -> None:
    """Forget a kept layout; one that is not here is refused."""
    with transaction(workspace.sessions) as session:
        _find(session, layout_id)
        sheets.remove_layout(session, layout_id)


def _find(session: Session, layout_id: int) -> KeptLayout:
    kept = sheets.find_layout(session, layout_id)
    if kept is None:
        msg = f"There is no layout {layout_id}."
        raise NotFoundError(msg)
    return kept


def canvas_for(session: Session, paper: str | None, size_id: int | None) -> Size | None:
    """Return the paper or face that is written, or that of the library."""
    if size_id is None:
        return None if paper is None else read_size(paper)
    saved = sizes.find(session, size_id)
    if saved is None:
        msg = f"There is no size {size_id}."
        raise NotFoundError(msg)
    return saved.size


def layout_for(
    session: Session,
    canvas: Size | None,
    cells: str | None,
    layout_id: int | None,
    fields: dict[str, object],
) -> Layout:
    """Return the layout a new sheet has: a kept one, or the usual one, with what is said over it."""
    given = {name: value for name, value in fields.items() if value is not None}
    if cells is not None:
        given["cells"] = read_cells(cells)
    if layout_id is not None:
        kept = _find(session, layout_id)
        if canvas is not None:
            given["canvas"] = canvas
        return layout_from(**dict(kept.layout) | given)
    canvas = canvas or read_size(USUAL_PAPER)
    margin, gap = ("0", "0") if cells is not None else usual_spaces(canvas)
    usual = {"margin": margin, "gap": gap, "kind": _usual_kind(canvas)}
    return layout_from(**{"canvas": canvas} | usual | given)


def _usual_kind(canvas: Size) -> Kind:
    """Return what a sheet is made as where nobody says: a face with a limit of bytes as what can keep to it."""
    if is_paper(canvas):
        return "pdf"
    if canvas.file.format in ("jpeg", "tiff"):
        return "jpeg" if canvas.file.format == "jpeg" else "tiff"
    return "png" if canvas.file.at_most is None else "jpeg"
