"""The bench."""

from __future__ import annotations

from typing import get_args

from fastapi import Request
from fastapi.responses import HTMLResponse, Response

from oak_ledge.core.marks.mark import PLACES
from oak_ledge.core.placements.other_shapes import COMMON
from oak_ledge.core.sizes.choices import Group
from oak_ledge.core.sizes.ground import fill_words
from oak_ledge.core.sizes.text.print_words import SHIPPED_OUTLINES
from oak_ledge.core.sizes.text.sentence import (
    METHOD_WORDS,
    PROFILE_WORDS,
    SHARPEN_WORDS,
)
from oak_ledge.flows.bench import view as bench
from oak_ledge.flows.delivery import deliveries
from oak_ledge.flows.errors import NotFoundError
from oak_ledge.flows.jobs import jobs, ledge as ledges
from oak_ledge.flows.jobs.ledge import By, Show
from oak_ledge.flows.photos import backdrops
from oak_ledge.flows.pieces.pieces import piece_of
from oak_ledge.flows.sheets import view as sheet_view
from oak_ledge.web.pages.site import router, templates
from oak_ledge.web.types import Here, Id


@router.get("/jobs/{job_id}/bench/{placement_id}", response_class=HTMLResponse, name="bench_page")
def bench_page(
    job_id: Id,
    placement_id: Id,
    request: Request,
    here: Here,
    by: By | None = None,
    show: Show = "all",
    sheet: Id | None = None,
) -> Response:
    """One placement, in the queue one came from: a size, a photo, a sheet, or all of the job."""
    view = bench.view(here, placement_id)
    if view.job_id != job_id:
        msg = f"Job {job_id} has no placement {placement_id}."
        raise NotFoundError(msg)
    job = jobs.brief(here, job_id)
    going = ledges.queue(here, job_id, placement_id, by, show)
    if sheet is not None:
        going = sheet_view.queue(here, sheet, placement_id)
    ids = [placed.id for placed in going]
    at = ids.index(placement_id)
    context = {
        "job": job,
        "view": view,
        "sheet": sheet,
        "at": at + 1,
        "of": len(ids),
        "way": {
            key: value
            for key, value in (("by", by), ("show", show), ("sheet", sheet))
            if value not in (None, "all")
        },
        "before": ids[at - 1] if at else None,
        "after": ids[at + 1] if at + 1 < len(ids) else None,
        "queue": [piece_of(placed) for placed in going[max(0, min(at - 4, len(ids) - 9)) :][:9]],
        "size_name": (view.own_size or view.size).name,
        "megapixels": f"{view.photo.facts.width * view.photo.facts.height / 1e6:.1f} megapixels",
        "backdrop_list": [
            one.model_dump() for one in backdrops.choices(here, bench.load(here, placement_id))
        ],
        "file": deliveries.newest_file(here, placement_id),
    } | _choices(view.file.profile)
    return templates.TemplateResponse(request, "bench/page.html", context)


def _choices(profile: str) -> dict[str, object]:
    """Return what the stations offer to choose from; of profiles the receiver's only where it is kept."""
    return {
        "fills": fill_words().items(),
        "profiles": [
            (name, words)
            for name, words in PROFILE_WORDS.items()
            if name != "receiver" or profile == name
        ],
        "groups": get_args(Group),
        "outlines": SHIPPED_OUTLINES,
        "places": [place for place in PLACES if place != "calm"],
        "ratios": [common.name for common in COMMON],
        "methods": METHOD_WORDS.items(),
        "sharpens": SHARPEN_WORDS.items(),
    }
