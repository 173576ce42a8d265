"""A thing cut out of its photo: begun from its subject or keep zones, brushed to and from, done to many."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.photos.retouches import Retouch, RetouchStep, checked
from oak_ledge.core.photos.strokes import Polygons, Stroke, Strokes
from oak_ledge.core.placements.zones.on_surface import to_upright
from oak_ledge.flows.bench.view import placed_in
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.jobs.jobs import find_job
from oak_ledge.flows.photos.photos import lies_around
from oak_ledge.flows.photos.scenes import ask, missing
from oak_ledge.flows.scene.retouches import RetouchesBody, RetouchesView, put, put_in, where
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs, placements
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.photos import Photo
from oak_ledge.store.placements import Placed
from oak_ledge.store.tables import Change


class CutOutBody(BaseModel):
    """What a hand brushed, where a placement's crop is meant: to the thing, or away from it.

    Nothing brushed cuts out what the photo's keep zones, or the subject found in it, lie around.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    strokes: Strokes = ()


class CutOuts(BaseModel):
    """What was cut out of a job's photos."""

    photos: int
    """newly"""
    there: int
    """were cut out before"""


def cut_out(
    workspace: Workspace, placement_id: int, body: CutOutBody, now: datetime
) -> RetouchesView:
    """Cut a thing out of a placement's photo, or brush more to or from it; a step of its history.

    Raises
    ------
    RequestError
        If its corners are squared up: what is brushed lies on the photo.
    """
    with reading(workspace.sessions) as session:
        placed = placed_in(session, placement_id)
    if placed.placement.corners is not None:
        msg = "A thing is cut out of the photo itself. Remove the squaring first, then square it up again."
        raise RequestError(msg)
    strokes = tuple(_on_photo(placed, stroke) for stroke in body.strokes)
    return _put(workspace, placed, strokes, now)


def cut_out_of_all(
    workspace: Workspace, job_id: int, placement_ids: Sequence[int], now: datetime
) -> CutOuts:
    """Cut a thing out of the photo of each of some placements, as one thing that can be undone.

    Raises
    ------
    RequestError
        If none is named, or one is not of the job.
    """
    with transaction(workspace.sessions) as session:
        find_job(session, job_id)
        every = {placed.id: placed for placed in jobs.placements(session, job_id)}
        unknown = [number for number in placement_ids if number not in every]
        if unknown or not placement_ids:
            msg = f"Choose placements of job {job_id}; {unknown or 'none'} is not one of them."
            raise RequestError(msg)
        first = {every[number].photo.id: every[number] for number in reversed(placement_ids)}
        changes = []
        for placed in first.values():
            step = cut_out_in(session, placed)
            if step is not None:
                kept = placements.keep(session, placed.id, placed.placement, "cut out", now, step)
                changes.append(
                    Change(
                        placement_id=placed.id,
                        step=placed.step,
                        state=placed.state,
                        after=kept.step,
                        after_state=kept.state,
                    )
                )
        if changes:
            jobs.add_batch(session, job_id, "cut out", changes, now)
    for change in changes:
        with reading(workspace.sessions) as session:
            photo = placed_in(session, change.placement_id).photo
        ask(
            workspace,
            photo,
            missing(workspace, photo),
            f"job {job_id} photo {photo.id}",
            again=True,
        )
    return CutOuts(photos=len(changes), there=len(first) - len(changes))


def cut_out_in(session: Session, placed: Placed) -> RetouchStep | None:
    """Cut a thing out of a placement's photo as part of another step; None where it is cut out already."""
    if placed.photo.retouches.cut is not None:
        return None
    here = where(session, placed.photo.id, placed.job_id)
    return put_in(session, here, checked(_with_cut(placed.photo, ()), placed.photo.facts.upright))


def _put(workspace: Workspace, placed: Placed, strokes: Strokes, now: datetime) -> RetouchesView:
    """Keep a photo's cut-out: a new one, or the one that is there with more strokes."""
    photo = placed.photo
    body = RetouchesBody(
        retouches=list(_with_cut(photo, strokes)),
        version=photo.retouches.version,
        placement_id=placed.id,
    )
    return put(workspace, photo.id, body, now, placed.job_id)


def _with_cut(photo: Photo, strokes: Strokes) -> tuple[Retouch, ...]:
    before = photo.retouches.retouches
    cut = next((retouch for retouch in reversed(before) if retouch.kind == "cut_out"), None)
    if cut is None:
        return (*before, Retouch(kind="cut_out", polygons=_lies_in(photo), strokes=strokes))
    more = cut.model_copy(update={"strokes": (*cut.strokes, *strokes), "shown": True})
    return tuple(more if retouch is cut else retouch for retouch in before)


def _lies_in(photo: Photo) -> Polygons:
    """Return the boxes the thing lies in: keep zones, or the subject that was found."""
    return tuple(zone.corners for zone in lies_around(photo).zones)


def _on_photo(placed: Placed, stroke: Stroke) -> Stroke:
    """Return a stroke in upright photo pixels, from where the crop is meant."""
    points = tuple(to_upright(placed.lying.surface, list(stroke.points)))
    return stroke.model_copy(update={"points": points})
