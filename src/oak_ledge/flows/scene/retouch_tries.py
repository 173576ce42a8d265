"""The tries of a retouch: looked at, taken, cancelled, seen."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from oak_ledge.core.photos.fill_work import FillWork
from oak_ledge.core.photos.retouches import (
    TRIES,
    Retouch,
)
from oak_ledge.core.pixels.cut_out.cut_out import UNSURE
from oak_ledge.flows.photos.scene_pictures import SPOT_EDGE, picture_of
from oak_ledge.flows.photos.scenes import drop, is_made, look_at, maker_of, refuse_failed
from oak_ledge.flows.photos.tries import TryView, watched
from oak_ledge.flows.scene.retouches import Where, find_retouches, retouch_in
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.folders import is_fresh, replace_file
from oak_ledge.store.photos import Photo


def _works(photo: Photo, retouch: Retouch, seed: int | None) -> list[FillWork]:
    if retouch.kind == "copy_texture":
        return []
    how = {"seed": retouch.seed if seed is None else seed, "shown": True}
    return [
        FillWork(retouches=photo.retouches, one=retouch.model_copy(update=how | {"attempt": n}))
        for n in range(1, TRIES + 1)
    ]


def tries(
    workspace: Workspace,
    photo_id: int,
    number: int,
    now: datetime,
    seed: int | None = None,
    job_id: int | None = None,
) -> list[TryView]:
    """Return how far the tries of a retouch are, the best first; asking begins the work."""
    here = find_retouches(workspace, photo_id, job_id)
    retouch = retouch_in(here.photo, number)
    works = _works(here.photo, retouch, seed)
    if not works:
        return []
    taken = retouch.attempt if seed in (None, retouch.seed) else None
    asker = _asker(here, retouch)
    views = watched(workspace, here.photo, works, asker, now, taken=taken, bold=False)
    if retouch.kind != "cut_out":
        return views
    return [
        view.model_copy(
            update={"bold": _wants_a_look(workspace, here.photo, works[view.attempt - 1])}
        )
        for view in views
    ]


def _wants_a_look(workspace: Workspace, photo: Photo, work: FillWork) -> bool:
    """Return whether colours tell too little of a cut-out's edge: hair, glass, a ground like the thing."""
    look = look_at(workspace, photo, work)
    return look is not None and look.soft > UNSURE


def cancel(workspace: Workspace, photo_id: int, number: int, job_id: int | None = None) -> None:
    """Want the tries of a retouch no more that are not made yet."""
    here = find_retouches(workspace, photo_id, job_id)
    drop(workspace, _asker(here, retouch_in(here.photo, number)))


def _asker(here: Where, retouch: Retouch) -> str:
    return f"{here.name} retouch {retouch.number}"


def picture(
    workspace: Workspace,
    photo_id: int,
    number: int,
    attempt: int,
    now: datetime,
    seed: int | None = None,
    job_id: int | None = None,
) -> Path | None:
    """Draw the place of a retouch with one of its tries; None where that is not made yet."""
    here = find_retouches(workspace, photo_id, job_id)
    photo, retouch = here.photo, retouch_in(here.photo, number)
    works = _works(photo, retouch, seed)
    if not works:
        works = [FillWork(retouches=photo.retouches, one=retouch)] * TRIES
    work = works[attempt - 1]
    if not is_made(workspace, photo, work):
        refuse_failed(workspace, photo, work)
        watched(workspace, photo, works, _asker(here, retouch), now, taken=None, bold=False)
        return None
    path = picture_of(workspace, photo, work)
    if not is_fresh(path):
        assert work.one is not None
        maker = maker_of(workspace, photo, make=False)
        replace_file(path, maker.spot(work.one, SPOT_EDGE))
    return path
