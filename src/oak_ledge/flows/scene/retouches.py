"""What is painted over and copied on a photo: kept on it, so that all its pieces show it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from pathlib import Path
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.photos.fill_work import FillWork
from oak_ledge.core.photos.retouches import MOST, TRIES, Retouch, Retouches, RetouchStep, checked
from oak_ledge.core.photos.strokes import Polygons, Spot, Stroke, Strokes
from oak_ledge.core.placements.zones.on_surface import to_upright
from oak_ledge.core.values import Coordinate
from oak_ledge.flows.bench.view import placed_in
from oak_ledge.flows.photos.photos import find_photo, photo_in
from oak_ledge.flows.photos.scene_pictures import SPOT_EDGE, picture_of
from oak_ledge.flows.photos.scenes import ask, drop, is_made, maker_of, missing, refuse_failed
from oak_ledge.flows.photos.tries import TryView, watched
from oak_ledge.flows.workspace import AskedError, ChangedMeanwhileError, NotFoundError, Workspace
from oak_ledge.store import photos, placements
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.folders import is_fresh, replace_file
from oak_ledge.store.photos import Photo
from oak_ledge.store.placements import Placed


class RetouchesAsked(BaseModel):
    """All retouches of a photo as they shall be.

    `version` is that of the list it is decided on; `placement_id` the piece it is done on, whose history
    then has it as a step.
    """

    model_config = ConfigDict(extra="forbid")

    retouches: list[Retouch] = Field(max_length=MOST)
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


def view(workspace: Workspace, photo_id: int) -> RetouchesView:
    """Look at the retouches of a photo."""
    return _view_of(workspace, find_photo(workspace, photo_id))


def _view_of(workspace: Workspace, photo: Photo) -> RetouchesView:
    retouches = photo.retouches
    with reading(workspace.sessions) as session:
        pieces = len(placements.of_photo(session, photo.id))
    return RetouchesView(
        retouches=retouches.retouches,
        version=retouches.version,
        words=tuple(_words(n, one) for n, one in enumerate(retouches.retouches, 1)),
        made=tuple(
            is_made(workspace, photo, FillWork(retouches=retouches, one=one))
            for one in retouches.retouches
        ),
        pieces=pieces,
    )


def _words(place: int, one: Retouch) -> str:
    what = f"painted over, try {one.attempt}" if one.kind == "paint_over" else "texture copied"
    hidden = "" if one.shown else ", not shown"
    return f"{place}. {what}{hidden}"


def put(workspace: Workspace, photo_id: int, asked: RetouchesAsked, now: datetime) -> RetouchesView:
    """Set all retouches of a photo; what is new is made.

    Raises
    ------
    ChangedMeanwhileError
        If they are others by now than those it was decided on; nothing is kept.
    FillError
        If one can't be.
    """
    with transaction(workspace.sessions) as session:
        photo = photo_in(session, photo_id)
        before = photo.retouches
        newest = asked.version in (None, before.version)
        after = checked(asked.retouches, photo.facts.upright)
        if newest and after != before.retouches:
            _set(session, photo, asked, after, now)
            photo = photo_in(session, photo_id)
    if not newest:
        msg = (
            f"{photo.name} was retouched meanwhile, in another window or by somebody else. It is "
            "shown as it is now; do it again if it is still wanted."
        )
        raise ChangedMeanwhileError(msg, _view_of(workspace, photo))
    ask(workspace, photo, missing(workspace, photo), f"photo {photo_id}", again=True)
    return _view_of(workspace, photo)


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

    Raises
    ------
    AskedError
        If its corners are squared up: what is brushed lies on the photo.
    """
    with reading(workspace.sessions) as session:
        placed = placed_in(session, placement_id)
    if placed.placement.corners is not None:
        msg = "Retouching is done on the photo itself. Show the whole photo first: remove the squaring."
        raise AskedError(msg)
    one = _on_photo(placed, brushed)
    kept = placed.photo.retouches
    if brushed.number is None:
        after = (*kept.retouches, one)
    else:
        was = _one(placed.photo, brushed.number)
        more = {
            "strokes": (*was.strokes, *one.strokes),
            "polygons": (*was.polygons, *one.polygons),
            "take_from": (*was.take_from, *one.take_from),
        }
        wider = was.model_copy(update=more)
        after = tuple(wider if other.number == was.number else other for other in kept.retouches)
    asked = RetouchesAsked(retouches=list(after), version=kept.version, placement_id=placement_id)
    return put(workspace, placed.photo.id, asked, now)


def _on_photo(placed: Placed, brushed: Brushed) -> Retouch:
    """Give what was brushed in the photo's own upright pixels; the photo may be turned or mirrored."""
    surface = placed.lying.surface

    def here(points: Sequence[Spot]) -> tuple[Spot, ...]:
        return to_upright(surface, list(points))

    def strokes(some: Sequence[Stroke]) -> tuple[Stroke, ...]:
        return tuple(one.model_copy(update={"points": here(one.points)}) for one in some)

    offset = brushed.offset
    if offset is not None:
        (x0, y0), (x1, y1) = here([(0.0, 0.0), offset])
        offset = (x1 - x0, y1 - y0)
    return Retouch(
        kind=brushed.kind,
        strokes=strokes(brushed.strokes),
        polygons=tuple(here(one) for one in brushed.polygons),
        offset=offset,
        soft=brushed.soft,
        take_from=strokes(brushed.take_from),
    )


def _set(
    session: Session,
    photo: Photo,
    asked: RetouchesAsked,
    after: tuple[Retouch, ...],
    now: datetime,
) -> None:
    before = photo.retouches
    photos.set_retouches(session, photo.id, Retouches(retouches=after, version=before.version + 1))
    placements.photo_changed(session, photo.id)
    if asked.placement_id is None:
        return
    placed = placements.find(session, asked.placement_id)
    if placed is None or placed.photo.id != photo.id:
        msg = f"{photo.name} has no placement {asked.placement_id}."
        raise AskedError(msg)
    step = _step(before.retouches, after)
    what = _what(step)
    placements.keep(session, placed.id, placed.placement, what, now, step)


def _step(before: tuple[Retouch, ...], after: tuple[Retouch, ...]) -> RetouchStep:
    """Give what was changed, and nothing that stayed."""
    return RetouchStep(
        before=tuple(one for one in before if one not in after),
        after=tuple(one for one in after if one not in before),
    )


def _what(step: RetouchStep) -> str:
    """Name a step for the history."""
    was, became = {one.number: one for one in step.before}, step.after
    if not became:
        return "retouch removed"
    one = became[-1]
    if one.number not in was:
        return "painted over" if one.kind == "paint_over" else "texture copied"
    old = was[one.number]
    if old.shown != one.shown:
        return "retouch shown" if one.shown else "shown without a retouch"
    if (old.attempt, old.seed) != (one.attempt, one.seed):
        return f"try {one.attempt} taken"
    return "retouch changed"


def _one(photo: Photo, number: int) -> Retouch:
    retouches = photo.retouches.retouches
    found = next((one for one in retouches if one.number == number), None)
    if found is None and number == 0 and retouches:
        found = retouches[0]
    if found is None:
        msg = f"{photo.name} has no retouch {number}."
        raise NotFoundError(msg)
    return found


def _works(photo: Photo, one: Retouch, seed: int | None) -> list[FillWork]:
    if one.kind != "paint_over":
        return []
    how = {"seed": one.seed if seed is None else seed, "shown": True}
    return [
        FillWork(retouches=photo.retouches, one=one.model_copy(update=how | {"attempt": n}))
        for n in range(1, TRIES + 1)
    ]


def tries(
    workspace: Workspace, photo_id: int, number: int, now: datetime, seed: int | None = None
) -> list[TryView]:
    """Say how far the tries of a retouch are, the best first; asking begins the work."""
    photo = find_photo(workspace, photo_id)
    one = _one(photo, number)
    works = _works(photo, one, seed)
    if not works:
        return []
    taken = one.attempt if seed in (None, one.seed) else None
    asker = _asker(photo, one)
    return watched(workspace, photo, works, asker, now, taken=taken, bold=False)


def cancel(workspace: Workspace, photo_id: int, number: int) -> None:
    """Want the tries of a retouch no more that are not made yet."""
    photo = find_photo(workspace, photo_id)
    drop(workspace, _asker(photo, _one(photo, number)), photo)


def _asker(photo: Photo, one: Retouch) -> str:
    return f"photo {photo.id} retouch {one.number}"


def picture(
    workspace: Workspace,
    photo_id: int,
    number: int,
    attempt: int,
    now: datetime,
    seed: int | None = None,
) -> Path | None:
    """Draw the place of a retouch with one of its tries; None where that is not made yet."""
    photo = find_photo(workspace, photo_id)
    one = _one(photo, number)
    works = _works(photo, one, seed)
    if not works:
        works = [FillWork(retouches=photo.retouches, one=one)] * TRIES
    work = works[attempt - 1]
    if not is_made(workspace, photo, work):
        refuse_failed(workspace, photo, work)
        watched(workspace, photo, works, _asker(photo, one), now, taken=None, bold=False)
        return None
    path = picture_of(workspace, photo, work)
    if not is_fresh(path):
        assert work.one is not None
        maker = maker_of(workspace, photo, make=False)
        replace_file(path, maker.spot(work.one, SPOT_EDGE))
    return path
