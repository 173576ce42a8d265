"""Sheets of a job: begun, changed step by step, taken back."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import datetime
from typing import Literal

from pydantic import BaseModel

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.sheets.canvas import is_paper, shown
from oak_ledge.core.sheets.cells import read_cells
from oak_ledge.core.sheets.lay import (
    closed_up,
    move_outcome,
    moved,
    placed_by_itself,
    put_on,
    still_fits,
    taken_off,
    turned_over,
    with_more,
)
from oak_ledge.core.sheets.sheet import Layout, Place, Sheet, layout_from
from oak_ledge.core.sizes.edges.panels import numbers_of
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.flows.errors import ChangedMeanwhileError, NotFoundError, RequestError
from oak_ledge.flows.jobs.jobs import find_job
from oak_ledge.flows.sheets.cells import laid_in_cells, swapped
from oak_ledge.flows.sheets.changes import (
    AddPieces,
    Change,
    Count,
    MovePiece,
    Pack,
    PutOn,
    Relay,
    Swap,
    TakeOff,
    TurnPiece,
    change_name,
    in_measure,
)
from oak_ledge.flows.sheets.layouts import canvas_for, layout_for
from oak_ledge.flows.sheets.view import (
    SheetView,
    extents,
    names_of,
    placed_on,
    sheet_in,
    view,
    view_in,
)
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.placements import Placed
from oak_ledge.store.sheets import sheets
from oak_ledge.store.sheets.sheets import KeptSheet


class SheetMoveView(BaseModel):
    """What a move would come to, in the paper's own unit."""

    n: int
    x: float
    y: float
    vertical: list[float]
    horizontal: list[float]
    """lines its edges would meet"""
    why: str
    """why it can't lie there; empty where it can"""


def start(
    workspace: Workspace,
    job_id: int,
    placement_ids: Sequence[int],
    now: datetime,
    *,
    paper: str | None = None,
    size_id: int | None = None,
    cells: str | None = None,
    layout_id: int | None = None,
    copies: int = 1,
    **value: object,
) -> SheetView:
    """Begin a sheet of a job's pieces: packed on a paper, or, with `cells`, their photos in cells of a face.

    On a paper each lies `copies` times.

    A kept layout is taken as it is; what is `said` of margin, gap, marks and names goes over it.

    Raises
    ------
    NotFoundError
        If the job has no such piece, or there is no such layout.
    CoreError
        If the paper can't be one, or the cells leave no pixel.
    """
    with transaction(workspace.sessions) as session:
        job = find_job(session, job_id)
        every = _pieces_with(session, job_id, placement_ids)
        layout = layout_for(session, canvas_for(session, paper, size_id), cells, layout_id, value)
        chosen = [every[id_] for id_ in dict.fromkeys(placement_ids)]
        if not chosen:
            msg = "A sheet needs at least one piece: choose some on the ledge."
            raise RequestError(msg)
        if layout.cells is None:
            places = tuple(place for placed in chosen for place in _places(placed) * copies)
            bare = Sheet(layout=layout, places=places)
            sheet = placed_by_itself(
                bare, extents(layout, {placed.id: placed for placed in chosen})
            )
        else:
            sheet = laid_in_cells(session, job_id, layout, chosen, now)
        number = len(sheets.of_job(session, job_id)) + 1
        name = layout.canvas.name or f"Sheet {number}"
        kept = sheets.add(session, job.id, name, sheet, "laid out", now)
        return view_in(session, kept)


def _pieces_with(session: Session, job_id: int, wanted: Sequence[int]) -> dict[int, Placed]:
    """Return the pieces of a job, and refuse those that are none of them."""
    every = {placement.id: placement for placement in jobs.placements(session, job_id)}
    for piece_id in wanted:
        if piece_id not in every:
            msg = f"Job {job_id} has no placement {piece_id}."
            raise NotFoundError(msg)
    return every


def _places(placed: Placed) -> list[Place]:
    return [Place(piece=placed.id, panel=panel) for panel in numbers_of(placed.lying.size.panels)]


def tell(workspace: Workspace, sheet_id: int, change: MovePiece) -> SheetMoveView:
    """Return what a move would come to; nothing is kept."""
    with reading(workspace.sessions) as session:
        sheet = sheet_in(session, sheet_id).sheet
        placed = placed_on(session, sheet)
    _there(sheet, change.n)
    x, y = (in_measure(sheet.layout, at) for at in (change.x, change.y))
    pieces = extents(sheet.layout, placed)
    move = move_outcome(sheet, pieces, names_of(sheet, placed), change.n, x, y, snap=change.snap)

    def figure(amount: object) -> float:
        return round(float(shown(sheet.layout.canvas, amount)), 6)  # type: ignore[arg-type]

    return SheetMoveView(
        n=change.n,
        x=figure(move.x),
        y=figure(move.y),
        vertical=[figure(line) for line in move.vertical],
        horizontal=[figure(line) for line in move.horizontal],
        why=move.why,
    )


def keep(
    workspace: Workspace, sheet_id: int, change: Change, now: datetime, seen: int | None = None
) -> SheetView:
    """Change a sheet, as one step of its history.

    Raises
    ------
    CoreError, RequestError, NotFoundError
        If it can't be; nothing is changed then.
    ChangedMeanwhileError
        If it stands at another step than was `seen`.
    """

    def do(session: Session, kept: KeptSheet) -> None:
        sheet = _changed(session, kept, change, now)
        if sheet != kept.sheet:
            sheets.keep(session, sheet_id, sheet, change_name(change))

    return _done_if_newest(workspace, sheet_id, seen, do)


def put(
    workspace: Workspace, sheet_id: int, sheet: Sheet, name: str | None, seen: int | None = None
) -> SheetView:
    """Put a whole sheet in place of what it is: its layout and where everything lies.

    Raises
    ------
    RequestError
        If something would lie over something else or beyond the margin, or is no piece of the job.
    """

    def do(session: Session, kept: KeptSheet) -> None:
        if name is not None:
            sheets.rename(session, sheet_id, name.strip()[:120] or kept.name)
        every = {placement.id for placement in jobs.placements(session, kept.job_id)}
        own = every | {entry.piece for entry in kept.sheet.places}
        if {spot.piece for spot in sheet.places} - own:
            msg = f"Sheet {sheet_id} is of another job than some of these pieces."
            raise RequestError(msg)
        if sheet.layout.cells != kept.sheet.layout.cells:
            msg = "Whether a sheet has cells is decided when it is begun."
            raise RequestError(msg)
        placed = placed_on(session, sheet)
        for place in sheet.places:
            if place.panel not in numbers_of(placed[place.piece].lying.size.panels):
                msg = f"Piece {place.piece} has no panel {place.panel}; nothing was changed."
                raise RequestError(msg)
        pieces = extents(sheet.layout, placed)
        if sheet.layout.cells is None and not still_fits(sheet, pieces):
            msg = "Pieces would lie over each other or beyond the margin; nothing was changed."
            raise RequestError(msg)
        if sheet != kept.sheet:
            sheets.keep(session, sheet_id, sheet, "typed")

    return _done_if_newest(workspace, sheet_id, seen, do)


def walk(
    workspace: Workspace, sheet_id: int, by: Literal[-1, 1], seen: int | None = None
) -> SheetView:
    """Undo or redo one step; at either end nothing changes."""
    return _done_if_newest(
        workspace, sheet_id, seen, lambda session, kept: sheets.walk(session, sheet_id, by)
    )


def remove(workspace: Workspace, sheet_id: int) -> None:
    """Delete a sheet; its pieces and the files made of it stay."""
    with transaction(workspace.sessions) as session:
        sheet_in(session, sheet_id)
        sheets.remove(session, sheet_id)


def _done_if_newest(
    workspace: Workspace,
    sheet_id: int,
    seen: int | None,
    do: Callable[[Session, KeptSheet], object],
) -> SheetView:
    with transaction(workspace.sessions) as session:
        kept = sheet_in(session, sheet_id)
        newest = seen in (None, kept.step)
        if newest:
            do(session, kept)
            sheet_in(session, sheet_id)  # as it is kept now, it can be read
    answer = view(workspace, sheet_id)
    if not newest:
        msg = f"{answer.name} was changed meanwhile, in another window or by somebody else. It is shown as it is now."
        raise ChangedMeanwhileError(msg, answer)
    return answer


def _there(sheet: Sheet, n: int) -> None:
    if n >= len(sheet.places):
        msg = f"The sheet has no piece {n}."
        raise NotFoundError(msg)


def _changed(session: Session, kept: KeptSheet, change: Change, now: datetime) -> Sheet:
    sheet = kept.sheet
    if isinstance(change, MovePiece | TurnPiece | TakeOff | PutOn | Swap):
        _there(sheet, change.n)
    if sheet.layout.cells is not None:
        return _changed_cells(session, kept, change, now)
    if isinstance(change, Swap):
        msg = "Only photos in cells can be swapped; move a piece instead."
        raise RequestError(msg)
    placed = placed_on(session, sheet)
    pieces, names = extents(sheet.layout, placed), names_of(sheet, placed)
    if isinstance(change, MovePiece):
        x, y = (in_measure(sheet.layout, at) for at in (change.x, change.y))
        return moved(sheet, pieces, names, change.n, x, y, snap=change.snap)
    if isinstance(change, TurnPiece):
        return turned_over(sheet, pieces, names, change.n)
    if isinstance(change, TakeOff):
        return taken_off(sheet, change.n)
    if isinstance(change, PutOn):
        return closed_up(put_on(sheet, pieces, names, change.n, change.page))
    if isinstance(change, Pack):
        return placed_by_itself(sheet, pieces)
    if isinstance(change, Relay):
        return _relaid(sheet, change, placed)
    return _with_more(session, kept, change)


def _relaid(sheet: Sheet, change: Relay, placed: dict[int, Placed]) -> Sheet:
    """Lay a sheet out otherwise: where all still fits it stays, else it is placed anew."""
    if change.cells is not None:
        msg = "Whether a sheet has cells is decided when it is begun."
        raise RequestError(msg)
    layout = _with_said(sheet.layout, change)
    new_sheet = sheet.model_copy(update={"layout": layout})
    pieces = extents(layout, placed)
    same_paper = layout.canvas.shape == sheet.layout.canvas.shape
    fits = (
        same_paper
        and still_fits(new_sheet, pieces)
        and all(p.page is not None for p in new_sheet.places)
    )
    spaced = (layout.margin, layout.gap) == (sheet.layout.margin, sheet.layout.gap)
    return new_sheet if fits and spaced else placed_by_itself(new_sheet, pieces)


def _with_said(layout: Layout, change: Relay) -> Layout:
    fields: dict[str, object] = {
        name: value
        for name in ("margin", "gap", "marks", "names")
        if (value := getattr(change, name)) is not None
    }
    if change.made_as is not None:
        fields["kind"] = change.made_as
    if change.paper is not None:
        fields["canvas"] = read_size(change.paper)
    new_layout = layout_from(**dict(layout) | fields)
    if new_layout.kind == "pdf" and not is_paper(new_layout.canvas):
        msg = "a PDF needs a paper in lengths. Make a PNG, TIFF or JPEG of a face"
        raise PlacementError(msg)
    return new_layout


def _with_more(session: Session, kept: KeptSheet, change: Count | AddPieces) -> Sheet:
    """Add pieces, or say how many there are of one; what is there stays where it lies."""
    sheet = kept.sheet
    wanted = [change.placement_id] if isinstance(change, Count) else change.placement_ids
    every = _pieces_with(session, kept.job_id, wanted)
    gone: list[int] = []
    more: list[Place] = []
    for piece_id in wanted:
        its = [n for n, place in enumerate(sheet.places) if place.piece == piece_id]
        each = _places(every[piece_id])
        count = change.count if isinstance(change, Count) else len(its) // len(each) + 1
        gone += its[count * len(each) :]
        more += each * (count - len(its) // len(each))
    if gone:
        sheet = taken_off(sheet, *gone)
    if not more:
        return sheet
    placed = placed_on(session, sheet) | {wish: every[wish] for wish in wanted}
    return with_more(sheet, extents(sheet.layout, placed), more)


def _changed_cells(session: Session, kept: KeptSheet, change: Change, now: datetime) -> Sheet:
    sheet = kept.sheet
    if isinstance(change, Swap):
        _there(sheet, change.other)
        return swapped(session, kept.job_id, sheet, change.n, change.other, now)
    if isinstance(change, TakeOff):
        places = (*sheet.places[: change.n], *sheet.places[change.n + 1 :])
        return sheet.model_copy(update={"places": places})
    if isinstance(change, Relay):
        layout = _with_said(sheet.layout, change)
        if change.cells is not None:
            layout = layout.model_copy(update={"cells": read_cells(change.cells)})
        divided = ("canvas", "margin", "gap", "cells")
        if all(getattr(layout, name) == getattr(sheet.layout, name) for name in divided):
            return sheet.model_copy(update={"layout": layout})
        placed = placed_on(session, sheet)
        chosen = [placed[place.piece] for place in sheet.places]
        return laid_in_cells(session, kept.job_id, layout, chosen, now)
    if isinstance(change, AddPieces):
        every = {placement.id: placement for placement in jobs.placements(session, kept.job_id)}
        more = [every[id_] for id_ in change.placement_ids if id_ in every]
        placed = placed_on(session, sheet)
        chosen = [placed[place.piece] for place in sheet.places]
        return laid_in_cells(session, kept.job_id, sheet.layout, [*chosen, *more], now)
    msg = "What lies in a cell fills it: slide its photo, swap two cells, or divide the face otherwise."
    raise RequestError(msg)
