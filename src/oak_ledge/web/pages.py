"""Pages for people: the jobs page and the bench. Everything they show comes from the flows."""

from __future__ import annotations

import hashlib
from pathlib import Path

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from fastapi.templating import Jinja2Templates

from oak_ledge.flows import deliveries, jobs, placements, sizes
from oak_ledge.flows.workspace import NotFoundError
from oak_ledge.web.ledges import ledge_of
from oak_ledge.web.types import Here

HERE = Path(__file__).parent
STATIC = HERE / "static"
templates = Jinja2Templates(HERE / "templates")
router = APIRouter(include_in_schema=False)


def static_version() -> str:
    """A name for the present content of our own scripts and styles, for their addresses."""
    digest = hashlib.sha256()
    for path in sorted(STATIC.glob("[cj]s*/*")):
        digest.update(path.read_bytes())
    return digest.hexdigest()[:10]


templates.env.globals["version"] = static_version()
templates.env.trim_blocks = templates.env.lstrip_blocks = True


@router.get("/", response_class=HTMLResponse, name="jobs")
def jobs_page(request: Request, here: Here) -> Response:
    every = jobs.every(here)
    counts: dict[str, int] = {}
    for job in every:
        for name, count in job.counts.items():
            counts[name] = counts.get(name, 0) + count
    context = {
        "jobs": [(job, ledge_of(job)) for job in every],
        "counts": counts,
        "pieces": sum(len(job.pieces) for job in every),
        "sizes": sizes.every(here),
    }
    return templates.TemplateResponse(request, "jobs.html", context)


@router.get("/jobs/{job_id}", name="job")
def job_page(job_id: int, request: Request, here: Here) -> Response:
    """Go on with a job where it was left."""
    job = jobs.view(here, job_id)
    on = job.go_on or job.pieces[0].placement_id
    return RedirectResponse(request.url_for("bench", job_id=job_id, placement_id=on), 303)


@router.get("/jobs/{job_id}/bench/{placement_id}", response_class=HTMLResponse, name="bench")
def bench_page(job_id: int, placement_id: int, request: Request, here: Here) -> Response:
    view = placements.view(here, placement_id)
    if view.job_id != job_id:
        msg = f"Job {job_id} has no placement {placement_id}."
        raise NotFoundError(msg)
    job = jobs.view(here, job_id)
    ids = [piece.placement_id for piece in job.pieces]
    at = ids.index(placement_id)
    context = {
        "job": job,
        "view": view,
        "at": at + 1,
        "before": ids[at - 1] if at else None,
        "after": ids[at + 1] if at + 1 < len(ids) else None,
        "queue": job.pieces[max(0, min(at - 4, len(ids) - 9)) :][:9],
        "file": deliveries.newest_file(here, placement_id),
    }
    return templates.TemplateResponse(request, "bench.html", context)
