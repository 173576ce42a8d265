"""A job's ledge, drawn shelf by shelf."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import Query, Request
from fastapi.responses import HTMLResponse, Response

from oak_ledge.core.files.names import FIELDS
from oak_ledge.flows.delivery import listed
from oak_ledge.flows.jobs import batches, jobs, ledge as ledges
from oak_ledge.flows.jobs.ledge import By, Show
from oak_ledge.flows.library import sizes
from oak_ledge.flows.sheets import layouts, view as sheet_view
from oak_ledge.web.drawings.shelf import SCALES, WIDE, ruler_of, screen_scale, shelves, usual_scale
from oak_ledge.web.drawings.wall import rows_by_group
from oak_ledge.web.pages.sheets import PAPERS
from oak_ledge.web.pages.site import as_said, router, templates
from oak_ledge.web.types import Here, Id, Now

# Shelves of a ledge drawn at once, and each time more are asked for.
FIRST, MORE = 4, 5


Scale = Annotated[int, Query(ge=2, le=60, description="drawing units to the inch")]


Wide = Annotated[int, Query(ge=300, le=1200, description="drawing units a shelf is long")]


@router.get("/jobs/{job_id}", response_class=HTMLResponse, name="job_page")
def job_page(
    job_id: Id,
    request: Request,
    here: Here,
    now: Now,
    by: By | None = None,
    show: Show = "all",
    scale: Scale | None = None,
    wide: Wide = int(WIDE),
) -> Response:
    """A job's ledge: its first shelves; the page asks for the others as they come into view.

    A job of one size is shelved by it.
    """
    by = by or ("size" if len(jobs.brief(here, job_id).sizes) == 1 else "photo")
    shelved = _shelved(here, job_id, by, show, 0, FIRST, scale, None, wide)
    groups = rows_by_group(sizes.every(here))
    context = shelved | {
        "groups": groups,
        "tokens": [f"{{{name}}}" for name in FIELDS],
        "last": batches.last(here, job_id),
        "holds": ledges.holds(shelved["job"]),
        "made": [(other, as_said(at, now)) for other, at in listed.last_of_job(here, job_id)],
        "papers": PAPERS,
        "layouts": layouts.every(here),
        "faces": [
            row
            for group, rows in groups
            for row in rows
            if row.size.group == "screen" and row.size.outline
        ],
        "kept_sheets": sheet_view.of_job(here, job_id),
        "scales": SCALES,
        "ruler": ruler_of(shelved["scale"]),
    }
    return templates.TemplateResponse(request, "ledge.html", context)


@router.get("/jobs/{job_id}/shelves", response_class=HTMLResponse, name="job_shelves")
def job_shelves(
    job_id: Id,
    request: Request,
    here: Here,
    scale: Scale,
    first: Annotated[int, Query(ge=0, le=100_000)],
    by: By = "photo",
    show: Show = "all",
    per_pixel: Annotated[float | None, Query(gt=0, le=1e6)] = None,
    wide: Wide = int(WIDE),
) -> Response:
    """Further shelves; `per_pixel` is what those above were drawn at, left out for the first."""
    context = _shelved(here, job_id, by, show, first, MORE, scale, per_pixel, wide)
    return templates.TemplateResponse(request, "_shelves.html", context)


def _shelved(
    here: Here, job_id: Id, by: By, show: Show, first: int, count: int,
    scale: int | None, per_pixel: float | None, wide: int,
) -> dict[str, Any]:  # fmt: skip
    ledge = ledges.stretch(here, job_id, by, show, first, count)
    per_inch = scale or usual_scale(ledge.pieces, by, wide)
    dots = screen_scale(ledge.pieces, per_pixel)
    return {
        "job": ledge.job,
        "by": by,
        "show": show,
        "scale": per_inch,
        "per_pixel": dots,
        "wide": wide,
        "prints": any(piece.inches for piece in ledge.pieces),
        "shelves": shelves(ledge.job, ledge.pieces, ledge.survivals, by, per_inch, dots, wide),
        "upto": first + count if ledge.more else 0,
    }
