"""What is painted over and copied on a photo in a job: kept there, so that all its pieces in that job show it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.photos.fill_work import FillWork
from oak_ledge.core.photos.retouches import (
    MOST_RETOUCHES,
    Retouch,
    Retouches,
    RetouchStep,
    checked,
)
from oak_ledge.flows.errors import ChangedMeanwhileError, NotFoundError, RequestError
from oak_ledge.flows.photos.photos import photo_in
from oak_ledge.flows.photos.scenes import ask, is_made, missing
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs, photos, placements
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.photos import InJob, Photo
from oak_ledge.store.placements import Placed
from oak_ledge.store.tables import Change


class RetouchesBody(BaseModel):
    """All retouches of a photo as they shall be.

    `version` is that of the list it is decided on; `placement_id` the piece it is done on, whose history
    then has it as a step.
    """

    model_config = ConfigDict(extra="forbid")

    retouches: list[Retouch] = Field(max_length=MOST_RETOUCHES)
    version: int | None = Field(default=None, ge=0)
    placement_id: int | None = None
    step: int | None = None


class RetouchesView(BaseModel):
    """A photo's retouches: each in words, whether it is made, and how many pieces show them."""

    retouches: tuple[Retouch, ...]
    version: int
    words: tuple[str, ...]
    made: tuple[bool, ...]
    pieces: int
    """in this job"""
    others: int = 0
    """jobs that hold the photo too, with other retouches or none"""
    grown: float = 0.0
    """photo pixels by which what was brushed just now was grown, as the edge beneath is soft"""
    in_ground: bool = False
    """what was brushed just now lies in the piece's continued ground, and is a step of that piece"""


@dataclass(frozen=True)
class Where:
    """A photo and the job whose retouches are meant; neither job nor place where it is in none."""

    photo: Photo
    job_id: int | None = None
    place: int | None = None
    others: tuple[InJob, ...] = ()

    @property
    def name(self) -> str:
        """What work that is asked for here is asked for."""
        return (
            f"photo {self.photo.id}"
            if self.job_id is None
            else f"job {self.job_id} photo {self.photo.id}"
        )


def where(session: Session, photo_id: int, job_id: int | None = None) -> Where:
    """Find a photo in a job, or in the only one it is in.

    Raises
    ------
    NotFoundError
        If there is no such photo, or not in that job.
    RequestError
        If no job is named and it is in several.
    """
    photo = photo_in(session, photo_id)
    held = photos.jobs_with(session, photo_id)
    mine = [member for member in held if job_id in (None, member.job_id)]
    if job_id is not None and not mine:
        msg = f"Job {job_id} has no photo {photo_id}."
        raise NotFoundError(msg)
    if len(mine) > 1:
        msg = (
            f"{photo.name} is in {len(mine)} jobs, each with retouches of its own. Say which is "
            f"meant: /api/jobs/{mine[-1].job_id}/photos/{photo_id}/retouches."
        )
        raise RequestError(msg)
    if not mine:
        return Where(photo)
    (here,) = mine
    others = tuple(member for member in held if member is not here)
    return Where(here.photo, here.job_id, here.place, others)


def find_retouches(workspace: Workspace, photo_id: int, job_id: int | None) -> Where:
    """Return the retouches of a photo in a job, or those it brings into its next one."""
    with reading(workspace.sessions) as session:
        return where(session, photo_id, job_id)


def view(workspace: Workspace, photo_id: int, job_id: int | None = None) -> RetouchesView:
    """Look at the retouches of a photo in a job, or in the only one it is in."""
    return _view_of(workspace, find_retouches(workspace, photo_id, job_id))


def _view_of(workspace: Workspace, here: Where) -> RetouchesView:
    photo, retouches = here.photo, here.photo.retouches
    pieces = 0
    if here.place is not None:
        with reading(workspace.sessions) as session:
            pieces = len(placements.at_place(session, here.place))
    differ = [
        earlier
        for earlier in here.others
        if earlier.photo.retouches.retouches != retouches.retouches
    ]
    return RetouchesView(
        retouches=retouches.retouches,
        version=retouches.version,
        words=tuple(_words(n, retouch) for n, retouch in enumerate(retouches.retouches, 1)),
        made=tuple(
            is_made(workspace, photo, FillWork(retouches=retouches, one=retouch))
            for retouch in retouches.retouches
        ),
        pieces=pieces,
        others=len(differ),
    )


def _words(place: int, retouch: Retouch) -> str:
    what = {
        "paint_over": f"painted over, try {retouch.attempt}",
        "copy_texture": "texture copied",
        "cut_out": f"cut out, try {retouch.attempt}",
    }[retouch.kind]
    hidden = "" if retouch.shown else ", not shown"
    return f"{place}. {what}{hidden}"


def put(
    workspace: Workspace,
    photo_id: int,
    body: RetouchesBody,
    now: datetime,
    job_id: int | None = None,
) -> RetouchesView:
    """Set all retouches of a photo in a job; what is new is made.

    The job is the one named, that of the piece it is done on, or the only one that holds the photo.

    Raises
    ------
    ChangedMeanwhileError
        If they are others by now than those it was decided on; nothing is kept.
    FillError
        If one can't be.
    """
    with transaction(workspace.sessions) as session:
        if job_id is None and body.placement_id is not None:
            job_id = _placed_on(session, body.placement_id, photo_in(session, photo_id)).job_id
        here = where(session, photo_id, job_id)
        before = here.photo.retouches
        newest = body.version in (None, before.version)
        after = checked(body.retouches, here.photo.facts.upright)
        if newest and after != before.retouches:
            _set(session, here, body, after, now)
            here = where(session, photo_id, job_id)
    photo = here.photo
    if not newest:
        msg = (
            f"{photo.name} was retouched meanwhile, in another window or by somebody else. It is "
            "shown as it is now; do it again if it is still wanted."
        )
        raise ChangedMeanwhileError(msg, _view_of(workspace, here))
    ask(workspace, photo, missing(workspace, photo), here.name, again=True)
    return _view_of(workspace, here)


def everywhere(workspace: Workspace, photo_id: int, job_id: int, now: datetime) -> RetouchesView:
    """Copy a photo's retouches to the other jobs that hold it: a step of each, which can be undone there."""
    with transaction(workspace.sessions) as session:
        here = where(session, photo_id, job_id)
        after = here.photo.retouches.retouches
        for other in here.others:
            before = other.photo.retouches
            if before.retouches != after:
                pieces = placements.at_place(session, other.place)
                photos.set_retouches(
                    session,
                    photo_id,
                    Retouches(retouches=after, version=before.version + 1),
                    other.place,
                )
                placements.photo_changed(session, other.place)
                if pieces:
                    _keep_step(session, other, pieces[0], _step(before.retouches, after), now)
    return view(workspace, photo_id, job_id)


def _keep_step(
    session: Session, other: InJob, piece: Placed, step: RetouchStep, now: datetime
) -> None:
    """Keep in another job what was copied there, so that it can be undone on the piece or on its ledge."""
    what = f"retouches of {other.photo.name} copied from another job"
    kept = placements.keep(session, piece.id, piece.placement, what[:200], now, step)
    change = Change(
        placement_id=piece.id,
        step=piece.step,
        state=piece.state,
        after=kept.step,
        after_state=kept.state,
    )
    jobs.add_batch(session, other.job_id, what, [change], now)


def _set(
    session: Session,
    here: Where,
    body: RetouchesBody,
    after: tuple[Retouch, ...],
    now: datetime,
) -> None:
    step = put_in(session, here, after)
    if body.placement_id is None:
        return
    placed = _placed_on(session, body.placement_id, here.photo)
    if placed.job_id != here.job_id:
        msg = f"Placement {placed.id} is not one of job {here.job_id}."
        raise RequestError(msg)
    placements.keep(session, placed.id, placed.placement, _what(step), now, step)


def put_in(session: Session, here: Where, after: tuple[Retouch, ...]) -> RetouchStep:
    """Set all retouches of a photo in a job, and return what that changed, for a step of a piece."""
    before = here.photo.retouches
    kept = Retouches(retouches=after, version=before.version + 1)
    photos.set_retouches(session, here.photo.id, kept, here.place)
    if here.place is not None:
        placements.photo_changed(session, here.place)
    return _step(before.retouches, after)


def _placed_on(session: Session, placement_id: int, photo: Photo) -> Placed:
    placed = placements.find(session, placement_id)
    if placed is None or placed.photo.id != photo.id:
        msg = f"{photo.name} has no placement {placement_id}."
        raise RequestError(msg)
    return placed


def _step(before: tuple[Retouch, ...], after: tuple[Retouch, ...]) -> RetouchStep:
    """Return what was changed, and nothing that stayed."""
    return RetouchStep(
        before=tuple(retouch for retouch in before if retouch not in after),
        after=tuple(retouch for retouch in after if retouch not in before),
    )


_DONE = {"paint_over": "painted over", "copy_texture": "texture copied", "cut_out": "cut out"}


def _what(step: RetouchStep) -> str:
    """Name a step for the history."""
    was, became = {earlier.number: earlier for earlier in step.before}, step.after
    if not became:
        return "retouch removed"
    retouch = became[-1]
    if retouch.number not in was:
        return _DONE[retouch.kind]
    old = was[retouch.number]
    if old.shown != retouch.shown:
        return "retouch shown" if retouch.shown else "shown without a retouch"
    if (old.attempt, old.seed) != (retouch.attempt, retouch.seed):
        return f"try {retouch.attempt} taken"
    return "cut out anew" if retouch.kind == "cut_out" else "retouch changed"


def retouch_in(photo: Photo, number: int) -> Retouch:
    """Return a retouch by its number; one that is not here is refused."""
    retouches = photo.retouches.retouches
    retouch = next((retouch for retouch in retouches if retouch.number == number), None)
    if retouch is None and number == 0 and retouches:
        retouch = retouches[0]
    if retouch is None:
        msg = f"{photo.name} has no retouch {number}."
        raise NotFoundError(msg)
    return retouch
