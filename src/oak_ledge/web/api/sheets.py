"""Sheets of a job's pieces: laid out, changed, made; layouts kept for the next job."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import Response

from oak_ledge.flows.delivery.deliveries import DeliveryView
from oak_ledge.flows.sheets import layouts, preview, print_orders, sheets, view as sheet_view
from oak_ledge.flows.sheets.layouts import SavedLayout
from oak_ledge.flows.sheets.sheets import SheetMoveView
from oak_ledge.flows.sheets.view import SheetName, SheetView
from oak_ledge.web.api.answer import of_kind
from oak_ledge.web.types import (
    Here,
    Id,
    LayoutBody,
    Now,
    SeenBody,
    SheetBody,
    SheetChangeBody,
    SheetMakeBody,
    SheetMoveBody,
    SheetPut,
)

router = APIRouter()


@router.post("/jobs/{job_id}/sheets", status_code=201)
def start_sheet(job_id: Id, body: SheetBody, here: Here, now: Now) -> SheetView:
    """Lay pieces on a paper, over as few pages as can be; or, with `cells`, their photos in a face's cells."""
    fields = body.model_dump(exclude={"placement_ids"})
    return sheets.start(here, job_id, body.placement_ids, now, **fields)


@router.get("/jobs/{job_id}/sheets")
def sheets_of_job(job_id: Id, here: Here) -> list[SheetName]:
    """The sheets of a job: which, and what they are called."""
    return sheet_view.of_job(here, job_id)


@router.get("/sheets/{sheet_id}")
def sheet(sheet_id: Id, here: Here) -> SheetView:
    """A sheet as it is drawn."""
    return sheet_view.view(here, sheet_id)


@router.put("/sheets/{sheet_id}")
def put_sheet(sheet_id: Id, body: SheetPut, here: Here) -> SheetView:
    """Put a whole sheet in place of what it is; what `GET` answers can be changed and sent back."""
    return sheets.put(here, sheet_id, body.sheet, body.name, body.step)


@router.delete("/sheets/{sheet_id}", status_code=204)
def delete_sheet(sheet_id: Id, here: Here) -> None:
    """Delete a sheet; its pieces and the files made of it stay."""
    sheets.remove(here, sheet_id)


@router.post("/sheets/{sheet_id}/tell")
def tell_sheet(sheet_id: Id, body: SheetMoveBody, here: Here) -> SheetMoveView:
    """Where a piece would lie, drawn to its neighbours' edges; nothing is kept."""
    return sheets.tell(here, sheet_id, body.change)


@router.post("/sheets/{sheet_id}/gesture")
def change_sheet(sheet_id: Id, body: SheetChangeBody, here: Here, now: Now) -> SheetView:
    """Change a sheet, as one step of its history."""
    return sheets.keep(here, sheet_id, body.change, now, body.step)


@router.post("/sheets/{sheet_id}/undo")
def undo_sheet(sheet_id: Id, here: Here, body: SeenBody | None = None) -> SheetView:
    """Undo the last step of a sheet."""
    return sheets.walk(here, sheet_id, -1, None if body is None else body.step)


@router.post("/sheets/{sheet_id}/redo")
def redo_sheet(sheet_id: Id, here: Here, body: SeenBody | None = None) -> SheetView:
    """Redo the step of a sheet that was undone last."""
    return sheets.walk(here, sheet_id, 1, None if body is None else body.step)


@router.post("/sheets/{sheet_id}/make", status_code=201)
def make_sheet(
    sheet_id: Id, here: Here, now: Now, body: SheetMakeBody | None = None
) -> DeliveryView:
    """Make a sheet through the same queue and proof as any file."""
    return print_orders.make(here, sheet_id, now, None if body is None else body.kind)


@router.get("/sheets/{sheet_id}/preview", response_class=Response, responses=of_kind("image/jpeg"))
def sheet_preview(
    sheet_id: Id,
    here: Here,
    edge: Annotated[int, Query(ge=16, le=2048)] = 800,
    page: Annotated[int, Query(ge=0, le=1000)] = 0,
) -> Response:
    """A page as it will look."""
    picture = preview.page_preview(here, sheet_id, page, edge)
    return Response(picture, media_type="image/jpeg", headers={"Cache-Control": "no-store"})


@router.get("/sheet-layouts")
def every_layout(here: Here) -> list[SavedLayout]:
    """The layouts kept for the next job."""
    return layouts.every(here)


@router.post("/sheet-layouts", status_code=201)
def keep_layout(body: LayoutBody, here: Here) -> SavedLayout:
    """Keep a sheet's paper and how it is laid out under a name."""
    return layouts.keep(here, body.sheet_id, body.name)


@router.delete("/sheet-layouts/{layout_id}", status_code=204)
def remove_layout(layout_id: Id, here: Here) -> None:
    """Forget a kept layout."""
    layouts.remove(here, layout_id)
