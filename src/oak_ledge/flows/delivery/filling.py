"""Workers make grounds and retouches: each is claimed for a lease, one at a time, ahead of files."""

from __future__ import annotations

import gc
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from oak_ledge.core.photos.fill_work import FillWork
from oak_ledge.flows.delivery.drawing import or_why
from oak_ledge.flows.photos.scene_pictures import prime
from oak_ledge.flows.photos.scenes import maker_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import photos
from oak_ledge.store.database import reading, transaction
from oak_ledge.store.photos import Photo
from oak_ledge.store.work import fills

if TYPE_CHECKING:
    from oak_ledge.core.pixels.scene_maker import Maker

# A worker that has not been heard of for longer than this is taken for dead.
LEASE = timedelta(seconds=60)


@dataclass
class AtWork:
    """What a worker fills just now; who watches it may end the process over it."""

    fill_id: int | None = None


def fill_next(
    workspace: Workspace,
    worker: str,
    clock: Callable[[], datetime],
    at_work: AtWork | None = None,
) -> bool:
    """Make the next ground or retouch that waits; False where none does."""
    at_work = at_work or AtWork()
    now = clock()
    with transaction(workspace.sessions) as session:
        most = workspace.limits.making_pixels
        fill = fills.claim(session, worker, most, now, now + LEASE)
        if fill is None:
            return False
        photo = photos.find(session, fill.photo_id)
    at_work.fill_id = fill.id
    why = _made_or_why(workspace, photo, fill.work)
    at_work.fill_id = None  # from here on it is not broken off any more
    gc.collect()  # a photo's pixels go before the next is begun
    with transaction(workspace.sessions) as session:
        if why is None:
            fills.set_made(session, fill.id, worker)
        else:
            fills.failed(session, fill.id, worker, why)
    return True


def is_wanted_no_more(workspace: Workspace, worker: str, at_work: AtWork) -> bool:
    """Return whether what a worker fills was cancelled, or is another's by now."""
    fill_id = at_work.fill_id
    if fill_id is None:
        return False
    with reading(workspace.sessions) as session:
        still = fills.is_still(session, fill_id, worker)
    return not still and at_work.fill_id == fill_id


def fill(maker: Maker, work: FillWork) -> None:
    """Make a ground or a retouch; it is kept by the maker.

    Raises
    ------
    CoreError
        If it can't be made.
    """
    if work.one is not None:
        maker.patch(work.one)
    elif work.ground is not None:
        if work.full:
            maker.ground(work.ground)
        else:
            maker.solved(work.ground)


def filled_or_why(do: Callable[[], None]) -> str | None:
    """Do something for a ground or a retouch; give why it can't be done, where it can't."""
    less, other = (
        "take the crop nearer to the photo",
        "Try another one, or change what is asked for",
    )
    return or_why(do, less, other)


def _made_or_why(workspace: Workspace, photo: Photo | None, work: FillWork) -> str | None:
    """Make one; give why it can't be made, as one sentence, where it can't."""
    if photo is None:
        return "Its photo was taken away meanwhile."

    def make() -> None:
        maker = maker_of(workspace, photo, work.retouches, make=True)
        fill(maker, work)
        prime(workspace, photo, maker, work)

    return filled_or_why(make)
