"""The jobs page."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Request
from fastapi.responses import HTMLResponse, Response

from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.jobs.shelves import shelves
from oak_ledge.flows.library import sizes
from oak_ledge.web.drawings.oak import ledge_of
from oak_ledge.web.pages.site import as_said, router, templates
from oak_ledge.web.types import Here, Now


def headline(jobs_in_hand: int, *, away: bool = False) -> str:
    """What stands at the top of the jobs page."""
    words = ("No", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine")
    number = words[jobs_in_hand] if jobs_in_hand < len(words) else str(jobs_in_hand)
    what = "job" if jobs_in_hand == 1 else "jobs"
    return f"{number} finished {what}" if away else f"{number} open {what}"


# Saved sizes that stand ready at once, those used last.
RECENT = 9


# Jobs shown at first, and each time more are asked for.
FIRST_JOBS = MORE_JOBS = 12


@router.get("/", response_class=HTMLResponse, name="jobs_page")
def jobs_page(
    request: Request,
    here: Here,
    now: Now,
    away: bool = False,
    find: Annotated[str, Query(max_length=200)] = "",
    upto: Annotated[int, Query(ge=1, le=10_000)] = FIRST_JOBS,
) -> Response:
    """The first page: all jobs on their shelves."""
    shelved = shelves(here, away=away, find=find, count=upto)
    every, more = shelved.shelves, shelved.whole - upto
    counts: dict[str, int] = {}
    for job in every:
        for name, count in job.counts.items():
            counts[name] = counts.get(name, 0) + count
    context = {
        "headline": headline(shelved.whole, away=away),
        "find": find,
        "more": f"Show {min(more, MORE_JOBS)} more of {more}" if more > 0 else "",
        "upto": upto + MORE_JOBS,
        "away": away,
        "deleted": jobs.deleted(here),
        "today": now.date(),
        "jobs": [
            (
                job,
                ledge_of(
                    job.placements, width=1200 if first else 580, height=132 if first else 104
                ),
                as_said(job.touched, now),
            )
            for first, job in zip([True] + [False] * len(every), every, strict=False)
        ],
        "counts": counts,
        "pieces": sum(job.whole for job in every),
        "sizes": [choice.model_dump() for choice in sizes.choices(here)[:RECENT]],
    }
    return templates.TemplateResponse(request, "jobs.html", context)
