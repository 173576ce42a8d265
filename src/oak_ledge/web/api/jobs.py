"""Jobs: started, looked over, changed as a whole."""

from __future__ import annotations

from base64 import b64encode
from typing import Literal

from fastapi import APIRouter
from fastapi.responses import Response

from oak_ledge.core.reports.cut_card import MouldingNeeded
from oak_ledge.flows.jobs import (
    batches,
    jobs,
    ledge as ledges,
    mouldings,
    quick,
    review as reviews,
    survivors as surviving,
)
from oak_ledge.flows.jobs.batches import Done
from oak_ledge.flows.jobs.job_views import JobBrief, JobChange, JobView
from oak_ledge.flows.jobs.ledge import Overview
from oak_ledge.flows.jobs.quick import Quick, QuickBody
from oak_ledge.flows.jobs.review import TakenAnswers
from oak_ledge.flows.jobs.survivors import Survival
from oak_ledge.web.api.answer import LETTERS, attached, of_kind, written
from oak_ledge.web.drawings.review import drawn
from oak_ledge.web.pages.site import STATIC, templates
from oak_ledge.web.types import (
    AnswersBody,
    BatchBody,
    Here,
    Id,
    JobBody,
    MembersBody,
    Now,
    ReviewBody,
)

router = APIRouter()

# The fonts of a review: family, weights, file.
_FONTS = (
    ("Zilla Slab", "600", "zilla-slab-latin-600-normal.woff2"),
    ("Source Sans 3", "200 900", "source-sans-3-latin-wght-normal.woff2"),
)


@router.post("/quick")
def tell_quick(body: QuickBody, here: Here) -> list[Quick]:
    """What each photo would become on one size: pixels and estimated bytes; nothing is kept."""
    return quick.tell(here, body)


@router.post("/jobs", status_code=201, response_model=JobView)
def start_job(body: JobBody, here: Here, now: Now) -> Response:
    """Start a job with photos and sizes."""
    job_id = jobs.start(
        here, body.name, body.photo_ids, body.size_ids, body.size_texts, now, body.file
    )
    return written(jobs.view(here, job_id), 201)


@router.get("/jobs")
def every_job(here: Here, away: bool = False) -> list[JobBrief]:
    """The jobs in hand, the one last touched first, or those that are finished; each one's pieces are its own answer's."""
    return jobs.every(here, away=away).jobs


@router.get("/jobs/{job_id}", response_model=JobView)
def job(job_id: Id, here: Here) -> Response:
    """A job with all that is in it."""
    return written(jobs.view(here, job_id))


@router.put("/jobs/{job_id}")
def change_job(job_id: Id, body: JobChange, here: Here, now: Now) -> JobBrief:
    """Change a job's name, notes, due date, order, or whether it is finished."""
    return jobs.change(here, job_id, body, now)


@router.delete("/jobs/{job_id}")
def delete_job(job_id: Id, here: Here, now: Now) -> JobBrief:
    """Delete a job; for thirty days it can be brought back."""
    return jobs.delete(here, job_id, now)


@router.post("/jobs/{job_id}/restore")
def restore_job(job_id: Id, here: Here, now: Now) -> JobBrief:
    """Bring a deleted job back."""
    return jobs.restore(here, job_id, now)


@router.post("/jobs/{job_id}/copy", status_code=201)
def copy_job(job_id: Id, here: Here, now: Now) -> JobView:
    """Start another job with the same photos and sizes, all laid anew."""
    return jobs.view(here, jobs.copy(here, job_id, now))


@router.post("/jobs/{job_id}/members", status_code=201)
def add_members(job_id: Id, body: MembersBody, here: Here, now: Now) -> JobView:
    """Add photos and sizes; what was taken out comes back as it was left."""
    return jobs.add(here, job_id, body.photo_ids, body.size_ids, body.size_texts, now, body.file)


@router.delete("/jobs/{job_id}/members/{of}/{place}")
def take_out(job_id: Id, of: Literal["photo", "size"], place: Id, here: Here, now: Now) -> JobView:
    """Take a photo or a size out of a job, by its place in it; added again it comes back."""
    return jobs.take_out(here, job_id, of, place, now)


@router.post("/jobs/{job_id}/batch")
def batch(job_id: Id, body: BatchBody, here: Here, now: Now) -> Done:
    """Do one thing to many placements, as one step that can be undone."""
    return batches.do(here, job_id, body.placement_ids, body.doing, now, only_tell=body.only_tell)


@router.post("/jobs/{job_id}/batch/undo")
def undo_batch(job_id: Id, here: Here, now: Now) -> Done:
    """Undo what was last done to many at once; what was worked on since stays."""
    return batches.undo(here, job_id, now)


@router.get("/jobs/{job_id}/overview")
def overview(job_id: Id, here: Here) -> Overview:
    """How far all pieces of a job are, and which notes want a look."""
    return ledges.overview(here, job_id)


@router.get("/jobs/{job_id}/shown")
def shown(job_id: Id, here: Here, show: ledges.Show = "all") -> list[int]:
    """The placements a ledge shows: all, those to look at, or those with a note."""
    return ledges.ids_shown(here, job_id, show)


@router.get("/jobs/{job_id}/survival")
def survival(job_id: Id, here: Here) -> list[Survival]:
    """What of every photo lies inside all its pieces, and which sizes can't keep its zones."""
    return surviving.survivals(here, job_id)


@router.get("/jobs/{job_id}/mouldings")
def needed_mouldings(job_id: Id, here: Here) -> list[MouldingNeeded]:
    """How much of which moulding the job's framed pieces take."""
    return mouldings.needed(here, job_id)


@router.get(
    "/jobs/{job_id}/framing-card",
    response_class=Response,
    responses=of_kind("image/png", "application/pdf"),
)
def framing_card(
    job_id: Id, here: Here, camera: str = "3:2", kind: Literal["png", "pdf"] = "pdf"
) -> Response:
    """The sizes' outlines inside a camera's picture, to take along."""
    media = {"png": "image/png", "pdf": "application/pdf"}[kind]
    name = attached(f"framing-card.{kind}")
    card = surviving.framing_card(here, job_id, camera, kind, LETTERS)
    return Response(card, media_type=media, headers=name)


@router.post("/jobs/{job_id}/review", response_class=Response, responses=of_kind("text/html"))
def review(job_id: Id, body: ReviewBody, here: Here) -> Response:
    """A review for the client: pieces in one HTML file that opens anywhere and fetches nothing."""
    made = reviews.review(here, job_id, body.placement_ids)
    page = templates.get_template("review.html").render(
        job=made.job,
        pieces=drawn(made),
        about={"job_id": made.job_id, "job": made.job},
        style=_lettering() + (STATIC / "css/review.css").read_text("utf-8"),
        script=(STATIC / "js/review/review.js").read_text("utf-8"),
    )
    return Response(page, media_type="text/html", headers=attached(f"{made.job}-review.html"))


@router.post("/jobs/{job_id}/review/answers")
def take_answers(job_id: Id, body: AnswersBody, here: Here, now: Now) -> TakenAnswers:
    """The client's answers: a yes approves, a no or a word puts a piece in work, with the word as its note."""
    return reviews.take_in(here, job_id, body.text, now)


def _lettering() -> str:
    """Return the fonts of a review, within it."""
    rules = (
        f'@font-face{{font-family:"{name}";font-weight:{weight};src:url(data:font/woff2;base64,'
        f'{b64encode((STATIC / "fonts" / file).read_bytes()).decode()}) format("woff2")}}\n'
        for name, weight, file in _FONTS
    )
    return "".join(rules)
