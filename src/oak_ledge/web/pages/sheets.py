"""A sheet of a job."""

from __future__ import annotations

from fastapi import Request
from fastapi.responses import HTMLResponse, Response

from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.sheets import view as sheet_view
from oak_ledge.web.pages.site import router, templates
from oak_ledge.web.types import Here, Id

# Papers of the trade; any other is written.
PAPERS = (
    ("A4@300", "A4"), ("A3@300", "A3"), ("A2@300", "A2"), ("letter@300", "Letter"),
    ("tabloid@300", "Tabloid"), ("13x19in@300", "13 × 19 in"), ("17x22in@300", "17 × 22 in"),
    ("24x36in@300", "24 × 36 in, of a roll"), ("44x60in@240", "44 × 60 in, of a roll"),
)  # fmt: skip


@router.get("/sheets/{sheet_id}", response_class=HTMLResponse, name="sheet_page")
def sheet_page(sheet_id: Id, request: Request, here: Here) -> Response:
    """A sheet: its paper at scale, its pieces where they lie."""
    view = sheet_view.view(here, sheet_id)
    pieces = jobs.view(here, view.job_id).placements
    others = [(piece.id, f"{piece.photo_name}, {piece.own or piece.size_name}") for piece in pieces]
    context = {"view": view, "papers": PAPERS, "others": others}
    return templates.TemplateResponse(request, "sheets/page.html", context)
