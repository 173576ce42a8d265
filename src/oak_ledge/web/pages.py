"""Pages for people: the jobs page and the bench. Everything they show comes from the flows."""

from __future__ import annotations

import hashlib
from contextlib import suppress
from datetime import datetime
from pathlib import Path
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse, Response
from fastapi.templating import Jinja2Templates

from oak_ledge.core.sizes.choices import Group
from oak_ledge.core.sizes.text.sentence import METHOD_WORDS, SHARPEN_WORDS
from oak_ledge.flows.bench import view as bench
from oak_ledge.flows.delivery import deliveries
from oak_ledge.flows.handing import desks
from oak_ledge.flows.jobs import batches, jobs, ledge as ledges
from oak_ledge.flows.jobs.ledge import By, Show
from oak_ledge.flows.library import sizes, views
from oak_ledge.flows.pieces.pieces import piece_of
from oak_ledge.flows.workspace import NotFoundError
from oak_ledge.web.ledges import ledge_of
from oak_ledge.web.shelves import SCALES, ruler_of, screen_scale, shelves, usual_scale
from oak_ledge.web.types import Here, Id, Now
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


def headline(jobs_in_hand: int, *, away: bool = False) -> str:
    """What stands at the top of the jobs page."""
    words = ("No", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine")
    number = words[jobs_in_hand] if jobs_in_hand < len(words) else str(jobs_in_hand)
    return f"{number} job{'' if jobs_in_hand == 1 else 's'} {'put away' if away else 'in hand'}"


def touched(moment: datetime, now: datetime) -> str:
    """When a job was last worked on, as people say it."""
    then, today = moment.astimezone(), now.astimezone()
    days = (today.date() - then.date()).days
    if days <= 1:
        return f"{'yesterday' if days else 'today'}, {then:%H:%M}"
    return f"{then.day} {then:%B}" + ("" if then.year == today.year else f" {then.year}")


FIRST_JOBS = MORE_JOBS = 12  # jobs shown at first, and each time more are asked for


@router.get("/", response_class=HTMLResponse, name="jobs_page")
def jobs_page(
    request: Request,
    here: Here,
    now: Now,
    away: bool = False,
    find: Annotated[str, Query(max_length=200)] = "",
    upto: Annotated[int, Query(ge=1, le=10_000)] = FIRST_JOBS,
) -> Response:
    found = jobs.every(here, away=away, find=find, count=upto)
    every, more = found.jobs, found.whole - upto
    counts: dict[str, int] = {}
    for job in every:
        for name, count in job.counts.items():
            counts[name] = counts.get(name, 0) + count
    context = {
        "headline": headline(found.whole, away=away),
        "find": find,
        "more": f"Show {min(more, MORE_JOBS)} more of {more}" if more > 0 else "",
        "upto": upto + MORE_JOBS,
        "away": away,
        "deleted": jobs.deleted(here),
        "today": now.date(),
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
def sizes_wall(group: Group, request: Request, here: Here, chosen: Id | None = None) -> Response:
    context = _wall(sizes.every(here), group, chosen)
    return templates.TemplateResponse(request, "_wall.html", context)


def _wall(every: list[views.SavedSizeView], group: str, chosen: Id | None) -> dict[str, object]:
    shown = [size for size in every if size.group == group]
    return {"wall": wall_of(shown, chosen), "group": group}


FIRST, MORE = 4, 5  # shelves of a ledge drawn at once, and each time more are asked for
Scale = Annotated[int, Query(ge=2, le=60, description="drawing units to the inch")]


@router.get("/jobs/{job_id}", response_class=HTMLResponse, name="job_page")
def job_page(
    job_id: Id,
    request: Request,
    here: Here,
    by: By = "photo",
    show: Show = "all",
    scale: Scale | None = None,
) -> Response:
    """A job's ledge: its first shelves; the page asks for the others as they come into view."""
    shelved = _shelved(here, job_id, by, show, 0, FIRST, scale, None)
    context = shelved | {
        "groups": rows_by_group(sizes.every(here)),
        "last": batches.last(here, job_id),
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
    per_pixel: Annotated[float, Query(gt=0, le=1e6)],
    first: Annotated[int, Query(ge=0, le=100_000)],
    by: By = "photo",
    show: Show = "all",
) -> Response:
    context = _shelved(here, job_id, by, show, first, MORE, scale, per_pixel)
    return templates.TemplateResponse(request, "_shelves.html", context)


def _shelved(
    here: Here, job_id: Id, by: By, show: Show, first: int, count: int,
    scale: int | None, per_pixel: float | None,
) -> dict[str, Any]:  # fmt: skip
    found = ledges.stretch(here, job_id, by, show, first, count)
    per_inch = scale or usual_scale(found.pieces)
    dots = per_pixel or screen_scale(found.pieces)
    return {
        "job": found.job,
        "by": by,
        "show": show,
        "scale": per_inch,
        "per_pixel": dots,
        "shelves": shelves(found.job, found.pieces, found.survivals, by, per_inch, dots),
        "upto": first + count if found.more else 0,
    }


@router.get("/jobs/{job_id}/bench/{placement_id}", response_class=HTMLResponse, name="bench_page")
def bench_page(
    job_id: Id,
    placement_id: Id,
    request: Request,
    here: Here,
    by: By | None = None,
    show: Show = "all",
) -> Response:
    """One placement, in the queue one came from: a size, a photo, or all of the job."""
    view = bench.view(here, placement_id)
    if view.job_id != job_id:
        msg = f"Job {job_id} has no placement {placement_id}."
        raise NotFoundError(msg)
    job = jobs.brief(here, job_id)
    going = ledges.queue(here, job_id, placement_id, by, show)
    ids = [one.id for one in going]
    at = ids.index(placement_id)
    context = {
        "job": job,
        "view": view,
        "at": at + 1,
        "of": len(ids),
        "way": {
            key: value for key, value in (("by", by), ("show", show)) if value not in (None, "all")
        },
        "before": ids[at - 1] if at else None,
        "after": ids[at + 1] if at + 1 < len(ids) else None,
        "queue": [piece_of(one) for one in going[max(0, min(at - 4, len(ids) - 9)) :][:9]],
        "file": deliveries.newest_file(here, placement_id),
        "methods": METHOD_WORDS.items(),
        "sharpens": SHARPEN_WORDS.items(),
    }
    return templates.TemplateResponse(request, "bench.html", context)


PAPERS = (("a4", "A4"), ("a3", "A3"), ("a5", "A5"), ("letter", "Letter"), ("tabloid", "Tabloid"))
MOST_DRAWN = 150  # pieces on a delivery's ledge; a larger one is told by its counts


@router.get("/deliveries", response_class=HTMLResponse, name="deliveries_page")
def deliveries_page(request: Request, here: Here) -> Response:
    context = {"deliveries": deliveries.every(here)}
    return templates.TemplateResponse(request, "deliveries.html", context)


@router.get("/deliveries/{delivery_id}", response_class=HTMLResponse, name="delivery_page")
def delivery_page(delivery_id: Id, request: Request, here: Here, now: Now) -> Response:
    """A delivery: its pieces fill in along the ledge, its files asked against measured."""
    found = deliveries.view(here, delivery_id, now)
    wanted = {file.placement_id for file in found.files}
    drawing = None
    if len(wanted) <= MOST_DRAWN:
        with suppress(NotFoundError):  # its job may be deleted; the files are still handed out
            job = jobs.view(here, found.job_id)
            pieces = [piece for piece in job.placements if piece.id in wanted]
            job = job.model_copy(update={"placements": pieces})
            drawing = ledge_of(job, width=800, height=76) if pieces else None
    context = {"delivery": found, "drawing": drawing, "folder": here.folder, "papers": PAPERS}
    return templates.TemplateResponse(request, "delivery.html", context)


@router.get("/desks", response_class=HTMLResponse, name="desks_page")
def desks_page(request: Request, here: Here) -> Response:
    """What each stand-in received and answered."""
    context = {"desks": desks.every(here), "received": desks.received(here)}
    return templates.TemplateResponse(request, "desks.html", context)
