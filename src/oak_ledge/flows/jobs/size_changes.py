"""A job's size becomes another for all its placements, as one step that can be undone for all."""

from __future__ import annotations

from datetime import datetime
from typing import cast

from oak_ledge.core.errors import CoreError
from oak_ledge.core.placements.other_size import lain_on
from oak_ledge.core.placements.placement import Placement, changed, size_at
from oak_ledge.core.sizes.size import Size
from oak_ledge.flows.photos.photos import first_on
from oak_ledge.store import jobs, placements
from oak_ledge.store.database import Session
from oak_ledge.store.placements import Placed, State
from oak_ledge.store.tables import Change, SizeTaken


def take_size(
    session: Session,
    job_id: int,
    job_size_id: int,
    size: Size,
    what: str,
    now: datetime,
    *,
    saved_id: int | None,
) -> None:
    """Change a job's own copy of a size; every placement on it is laid on it, its work kept.

    A piece that has lain on the new size before lies as it did then. `saved_id` is the size of the
    library it is a copy of from now on; None where it is the job's own.
    """
    before = jobs.size_of(session, job_size_id)
    placements.remember_size(session, job_size_id, before.size)
    after = jobs.change_size(session, job_size_id, size, saved_id)
    changes = []
    for placed in jobs.on_size(session, job_size_id):
        lay = placements.last_on(session, placed, size) if placed.state != "new" else None
        lying = _lain(before.size, size, placed) if lay is None else changed(lay, size=None)
        state: State = "placed"
        if placed.state == "new" or (placed.state == "settled" and _unmoved(lying, placed)):
            state = placed.state
        kept = placements.take_size(session, placed.id, lying, what, state, now)
        changes.append(
            Change(
                placement_id=placed.id,
                step=placed.step,
                state=placed.state,
                after=kept.step,
                after_state=kept.state,
            )
        )
    taken = SizeTaken(
        job_size_id=job_size_id,
        before=before.size,
        saved_before=before.saved_id,
        after=after.size,
        saved_after=after.saved_id,
    )
    jobs.add_batch(session, job_id, what, changes, now, taken)


def _unmoved(lying: Placement, placed: Placed) -> bool:
    return changed(lying, size=None) == changed(placed.placement, size=None)


def _lain(before: Size, after: Size, placed: Placed) -> Placement:
    """Lay one placement on its job's new size; one that can't be stays on the old one."""
    photo = placed.photo
    try:
        if placed.state == "new":  # no hand has been at it
            return first_on(after, photo)
        return lain_on(before, after, photo.facts.upright, placed.placement)
    except CoreError:
        return changed(placed.placement, size=size_at(before, placed.placement))


def take_back(session: Session, batch: jobs.Batch, now: datetime) -> tuple[int, list[int]]:
    """Restore a job's former size; return how many placements are as they were, and which are not.

    What was worked on since stays as it lies, on the size it lies on as its own.
    """
    taken = batch.size
    assert taken is not None
    placements.remember_size(session, taken.job_size_id, taken.after)
    jobs.change_size(session, taken.job_size_id, taken.before, taken.saved_before)
    changes = {change.placement_id: change for change in batch.changes}
    undone, left = 0, []
    for placed in jobs.on_size(session, taken.job_size_id):
        change = changes.get(placed.id)
        if change is not None and (placed.step, placed.state) == (change.after, change.after_state):
            placements.go_to(session, placed.id, change.step, cast(State, change.state), now)
            undone += 1
        elif placed.state == "new":
            laid = first_on(taken.before, placed.photo)
            placements.lay_anew(session, placed.id, laid, "suggested", now)
        else:
            placements.stay_as_it_is(session, placed.id, taken.after)
            left.append(placed.id)
    return undone, left
