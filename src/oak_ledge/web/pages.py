"""Pages for people: the jobs page and the bench. Everything they show comes from the flows."""

from __future__ import annotations

import hashlib
from datetime import datetime
from pathlib import Path

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from fastapi.templating import Jinja2Templates

from oak_ledge.core.size_text import METHOD_WORDS, SHARPEN_WORDS
from oak_ledge.core.sizes import Group
from oak_ledge.flows import deliveries, jobs, placements, sizes
from oak_ledge.flows.workspace import NotFoundError
from oak_ledge.web.ledges import ledge_of
from oak_ledge.web.types import Here, Now
from oak_ledge.web.walls import rows_by_group, wall_of

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


templates.env.trim_blocks = templates.env.lstrip_blocks = True


def headline(jobs_in_hand: int) -> str:
    """What stands at the top of the jobs page."""
    words = ("No", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine")
    number = words[jobs_in_hand] if jobs_in_hand < len(words) else str(jobs_in_hand)
    return f"{number} job{'' if jobs_in_hand == 1 else 's'} in hand"


def touched(moment: datetime, now: datetime) -> str:
    """When a job was last worked on, as people say it."""
    then, today = moment.astimezone(), now.astimezone()
    days = (today.date() - then.date()).days
    if days <= 1:
        return f"{'yesterday' if days else 'today'}, {then:%H:%M}"
    return f"{then.day} {then:%B}" + ("" if then.year == today.year else f" {then.year}")


@router.get("/", response_class=HTMLResponse, name="jobs_page")
def jobs_page(request: Request, here: Here, now: Now) -> Response:
    every = jobs.every(here)
    counts: dict[str, int] = {}
    for job in every:
        for name, count in job.counts.items():
            counts[name] = counts.get(name, 0) + count
    context = {
        "headline": headline(len(every)),
        "jobs": [
            (
                job,
                ledge_of(job, width=1200 if first else 580, height=132 if first else 104),
                touched(job.touched, now),
            )
            for first, job in zip([True] + [False] * len(every), every, strict=False)
        ],
        "counts": counts,
        "pieces": sum(len(job.placements) for job in every),
        "groups": rows_by_group(sizes.every(here)),
    }
    return templates.TemplateResponse(request, "jobs.html", context)


@router.get("/sizes", response_class=HTMLResponse, name="sizes_page")
def sizes_page(request: Request, here: Here) -> Response:
    every = sizes.every(here)
    context = {
        "groups": rows_by_group(every),
        "methods": METHOD_WORDS.items(),
        "sharpens": SHARPEN_WORDS.items(),
    } | _wall(every, "print", None)
    return templates.TemplateResponse(request, "sizes.html", context)


@router.get("/sizes/list", response_class=HTMLResponse, name="sizes_list")
def sizes_list(request: Request, here: Here) -> Response:
    context = {"groups": rows_by_group(sizes.every(here))}
    return templates.TemplateResponse(request, "_sizes_list.html", context)


@router.get("/sizes/wall/{group}", response_class=HTMLResponse, name="sizes_wall")
def sizes_wall(group: Group, request: Request, here: Here, chosen: int | None = None) -> Response:
    context = _wall(sizes.every(here), group, chosen)
    return templates.TemplateResponse(request, "_wall.html", context)


def _wall(every: list[sizes.SavedSizeView], group: str, chosen: int | None) -> dict[str, object]:
    shown = [size for size in every if size.group == group]
    return {"wall": wall_of(shown, chosen), "group": group}


@router.get("/jobs/{job_id}", name="job_page")
def job_page(job_id: int, request: Request, here: Here) -> Response:
    """Go on with a job where it was left."""
    job = jobs.view(here, job_id)
    on = (job.next or job.placements[0]).id
    return RedirectResponse(request.url_for("bench_page", job_id=job_id, placement_id=on), 303)


@router.get("/jobs/{job_id}/bench/{placement_id}", response_class=HTMLResponse, name="bench_page")
def bench_page(job_id: int, placement_id: int, request: Request, here: Here) -> Response:
    view = placements.view(here, placement_id)
    if view.job_id != job_id:
        msg = f"Job {job_id} has no placement {placement_id}."
        raise NotFoundError(msg)
    job = jobs.view(here, job_id)
    ids = [piece.id for piece in job.placements]
    at = ids.index(placement_id)
    context = {
        "job": job,
        "view": view,
        "at": at + 1,
        "before": ids[at - 1] if at else None,
        "after": ids[at + 1] if at + 1 < len(ids) else None,
        "queue": job.placements[max(0, min(at - 4, len(ids) - 9)) :][:9],
        "file": deliveries.newest_file(here, placement_id),
        "methods": METHOD_WORDS.items(),
        "sharpens": SHARPEN_WORDS.items(),
    }
    return templates.TemplateResponse(request, "bench.html", context)
