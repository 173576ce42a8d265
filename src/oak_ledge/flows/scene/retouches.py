"""What is painted over and copied on a photo in a job: kept there, so that all its pieces in that job show it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.gestures.beyond_photo import Continue
from oak_ledge.core.photos.continued import BrushedOver
from oak_ledge.core.photos.fill_work import FillWork
from oak_ledge.core.photos.retouches import (
    MOST_RETOUCHES,
    Retouch,
    Retouches,
    RetouchStep,
    checked,
)
from oak_ledge.core.photos.strokes import Polygons, Spot, Stroke, Strokes
from oak_ledge.core.pixels.retouch.softness import grown, softness_on
from oak_ledge.core.placements.scene_geometry import ground_taken, is_beyond
from oak_ledge.core.placements.zones.on_surface import to_upright
from oak_ledge.core.values import Coordinate
from oak_ledge.flows.bench.history import keep
from oak_ledge.flows.bench.view import placed_in
from oak_ledge.flows.errors import ChangedMeanwhileError, NotFoundError, RequestError
from oak_ledge.flows.photos.photos import photo_in
from oak_ledge.flows.photos.previews import PREVIEW_EDGE, photo_preview
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
    what = (
        f"painted over, try {retouch.attempt}" if retouch.kind == "paint_over" else "texture copied"
    )
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


class Brushed(BaseModel):
    """What was brushed on a placement, where its crop is meant: a new retouch, or more of one."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    kind: Literal["paint_over", "copy_texture"] = "paint_over"
    number: int | None = Field(default=None, description="of the retouch that this is more of")
    strokes: Strokes = ()
    polygons: Polygons = ()
    offset: tuple[Coordinate, Coordinate] | None = None
    soft: float = Field(default=0.5, ge=0, le=1)
    take_from: Strokes = ()


def brush(
    workspace: Workspace, placement_id: int, brushed: Brushed, now: datetime
) -> RetouchesView:
    """Paint over, or copy texture, where a hand brushed on a placement; a step of its history.

    A brush that was too tight is grown by what the edge beneath is soft. What is painted over in its
    continued ground, beyond the photo, is that piece's alone.

    Raises
    ------
    RequestError
        If its corners are squared up: what is brushed lies on the photo.
    """
    with reading(workspace.sessions) as session:
        placed = placed_in(session, placement_id)
    if placed.placement.corners is not None:
        msg = "Retouching is done on the photo itself. Show the whole photo first: remove the squaring."
        raise RequestError(msg)
    retouch = _on_photo(placed, brushed)
    if _in_ground(placed, brushed, retouch):
        return _brush_ground(workspace, placed, brushed, now)
    kept, by = placed.photo.retouches, _softness(workspace, placed.photo, retouch)
    if by:
        wider = grown(retouch.strokes, retouch.polygons, by)
        retouch = retouch.model_copy(update={"strokes": wider})
    if brushed.number is None:
        after = (*kept.retouches, retouch)
    else:
        was = retouch_in(placed.photo, brushed.number)
        more = {
            "strokes": (*was.strokes, *retouch.strokes),
            "polygons": (*was.polygons, *retouch.polygons),
            "take_from": (*was.take_from, *retouch.take_from),
        }
        more_of = was.model_copy(update=more)
        after = tuple(more_of if other.number == was.number else other for other in kept.retouches)
    body = RetouchesBody(retouches=list(after), version=kept.version, placement_id=placement_id)
    answer = put(workspace, placed.photo.id, body, now, placed.job_id)
    return answer.model_copy(update={"grown": round(by, 1)})


def _softness(workspace: Workspace, photo: Photo, retouch: Retouch) -> float:
    """Return by how much what is painted over is to grow; texture is laid just where a hand lays it."""
    if retouch.kind != "paint_over":
        return 0.0
    picture = photo_preview(workspace, photo, PREVIEW_EDGE)
    return softness_on(picture, photo.facts.upright, retouch.strokes, retouch.polygons)


def _in_ground(placed: Placed, brushed: Brushed, retouch: Retouch) -> bool:
    """Return whether all of what is painted over lies beyond the photo, in a ground that was taken."""
    ground = ground_taken(placed.lying)
    if ground is None or brushed.kind != "paint_over" or brushed.number is not None:
        return False
    over = BrushedOver(strokes=retouch.strokes, polygons=retouch.polygons)
    return is_beyond(over, ground.box, placed.photo.facts.upright)


def _brush_ground(
    workspace: Workspace, placed: Placed, brushed: Brushed, now: datetime
) -> RetouchesView:
    ground = placed.placement.continued
    gesture = Continue(
        kind="continue",
        seed=ground.seed if ground else 1,
        attempt=ground.attempt if ground else 1,
        over=BrushedOver(strokes=brushed.strokes, polygons=brushed.polygons),
    )
    keep(workspace, placed.id, gesture, now, placed.step)
    seen = view(workspace, placed.photo.id, placed.job_id)
    return seen.model_copy(update={"in_ground": True})


def _on_photo(placed: Placed, brushed: Brushed) -> Retouch:
    """Return what was brushed in the photo's own upright pixels; the photo may be turned or mirrored."""
    surface = placed.lying.surface

    def here(points: Sequence[Spot]) -> tuple[Spot, ...]:
        return to_upright(surface, list(points))

    def strokes(some: Sequence[Stroke]) -> tuple[Stroke, ...]:
        return tuple(stroke.model_copy(update={"points": here(stroke.points)}) for stroke in some)

    offset = brushed.offset
    if offset is not None:
        (x0, y0), (x1, y1) = here([(0.0, 0.0), offset])
        offset = (x1 - x0, y1 - y0)
    return Retouch(
        kind=brushed.kind,
        strokes=strokes(brushed.strokes),
        polygons=tuple(here(polygon) for polygon in brushed.polygons),
        offset=offset,
        soft=brushed.soft,
        take_from=strokes(brushed.take_from),
    )


def _set(
    session: Session,
    here: Where,
    body: RetouchesBody,
    after: tuple[Retouch, ...],
    now: datetime,
) -> None:
    before = here.photo.retouches
    kept = Retouches(retouches=after, version=before.version + 1)
    photos.set_retouches(session, here.photo.id, kept, here.place)
    if here.place is not None:
        placements.photo_changed(session, here.place)
    if body.placement_id is None:
        return
    placed = _placed_on(session, body.placement_id, here.photo)
    if placed.job_id != here.job_id:
        msg = f"Placement {placed.id} is not one of job {here.job_id}."
        raise RequestError(msg)
    step = _step(before.retouches, after)
    placements.keep(session, placed.id, placed.placement, _what(step), now, step)


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


def _what(step: RetouchStep) -> str:
    """Name a step for the history."""
    was, became = {earlier.number: earlier for earlier in step.before}, step.after
    if not became:
        return "retouch removed"
    retouch = became[-1]
    if retouch.number not in was:
        return "painted over" if retouch.kind == "paint_over" else "texture copied"
    old = was[retouch.number]
    if old.shown != retouch.shown:
        return "retouch shown" if retouch.shown else "shown without a retouch"
    if (old.attempt, old.seed) != (retouch.attempt, retouch.seed):
        return f"try {retouch.attempt} taken"
    return "retouch changed"


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
