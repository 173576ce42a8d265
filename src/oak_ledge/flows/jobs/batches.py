"""One thing done to many placements at once: shown before → after, undone as one step."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import datetime
from functools import partial
from typing import Annotated, Literal, cast

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.errors import CoreError, SizeError
from oak_ledge.core.gestures.apply import Gesture, apply
from oak_ledge.core.gestures.beyond_photo import Continue, Ground
from oak_ledge.core.gestures.print.mark import LayMark
from oak_ledge.core.gestures.start import KeepWhole, StartAgain
from oak_ledge.core.gestures.turn import Turn
from oak_ledge.core.marks.mark import NamedMark, PieceMark
from oak_ledge.core.placements.like_another import laid_like
from oak_ledge.core.placements.placement import Placement, changed, own_size, size_at
from oak_ledge.core.sizes.ground import CONTINUED, Fill
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.jobs.heads import head_of, with_head_of
from oak_ledge.flows.jobs.jobs import find_job
from oak_ledge.flows.jobs.size_changes import take_back, take_size
from oak_ledge.flows.library.entry import chosen
from oak_ledge.flows.photos.photos import context_of, first_on
from oak_ledge.flows.pieces.piece_file import FileChoice, written_as
from oak_ledge.flows.pieces.pieces import counts_of, figures_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs, placements
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.placements import Placed, State
from oak_ledge.store.tables import Change


class _Doing(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Over(_Doing):
    """Turn the shape between wide and tall."""

    do: Literal["turn"]


class Settle(_Doing):
    """Approve them; what a note stops stays open."""

    do: Literal["settle"]


class Reset(_Doing):
    """Go back to the suggestion."""

    do: Literal["start_again"]


class KeepZones(_Doing):
    """Move the crops around what must stay whole."""

    do: Literal["keep_whole"]


class OnGround(_Doing):
    """Extend the crops beyond their photos on a ground, or trim them again."""

    do: Literal["ground"]
    beyond: bool = True
    fill: Fill | None = None


class OnFile(_Doing):
    """Settle how their files are written; no crop moves."""

    do: Literal["file"]
    file: FileChoice


class OtherSize(_Doing):
    """Lay the photos on another size: each one's own from then on, or the job's where all on it are chosen."""

    do: Literal["size"]
    size_id: int | None = None
    text: str | None = Field(default=None, max_length=200)


class OnMark(_Doing):
    """Lay a mark over them, or with none leave it to their sizes; or only hide or show the one they have."""

    do: Literal["mark"]
    mark: NamedMark | None = None
    hidden: bool | None = None


class Like(_Doing):
    """Lay them as another placement of the job lies."""

    do: Literal["like"]
    placement_id: int


class Heads(_Doing):
    """Lay them so that their heads are as large as another placement's, their eyes on the same line."""

    do: Literal["heads"]
    placement_id: int


Doing = Annotated[
    Over | Settle | Reset | KeepZones | OnGround | OnFile | OtherSize | OnMark | Like | Heads,
    Field(discriminator="do"),
]


class LeftAsItIs(BaseModel):
    """A placement a batch did not change, and why."""

    placement_id: int
    reason: str


class Done(BaseModel):
    """What a batch did, or would do."""

    what: str
    changed: int
    before: dict[str, int]
    """how far all the job's pieces were"""
    after: dict[str, int]
    refused: list[LeftAsItIs]


def do(
    workspace: Workspace,
    job_id: int,
    placement_ids: Sequence[int],
    doing: Doing,
    now: datetime,
    *,
    only_tell: bool = False,
) -> Done:
    """Do one thing to chosen placements of a job; with `only_tell` nothing is changed.

    A placement that can't be done so is left as it is, with its reason.
    """
    opened = reading if only_tell else transaction
    with opened(workspace.sessions) as session:
        every = {placed.id: placed for placed in _of_job(session, job_id)}
        unknown = [id_ for id_ in placement_ids if id_ not in every]
        if unknown or not placement_ids:
            msg = f"Choose placements of job {job_id}; {unknown or 'none'} is not one of them."
            raise RequestError(msg)
        how, what = _way(session, doing, every)
        refused, changed = [], {}
        for placed in (every[chosen] for chosen in dict.fromkeys(placement_ids)):
            try:
                after = _after(placed, how(placed))
            except CoreError as exc:
                refused.append(LeftAsItIs(placement_id=placed.id, reason=str(exc)))
                continue
            if after != placed:
                changed[placed.id] = after
        done = len(changed)
        whole = None if refused or only_tell else _whole_size(doing, every, placement_ids)
        if whole is not None and isinstance(doing, OtherSize):
            size = chosen(session, doing.text, doing.size_id)
            take_size(session, job_id, whole, size, what, now, saved_id=doing.size_id)
            changed = {placed.id: placed for placed in _of_job(session, job_id)}
        elif changed and not only_tell:
            changes = [_kept(session, every[of], after, what, now) for of, after in changed.items()]
            jobs.add_batch(session, job_id, what, changes, now)
    return Done(
        what=what,
        changed=done,
        before=counts_of(list(every.values())),
        after=counts_of([changed.get(piece.id, piece) for piece in every.values()]),
        refused=refused,
    )


def _whole_size(doing: Doing, every: dict[int, Placed], ids: Sequence[int]) -> int | None:
    """Return the job's size all of whose pieces are put on another: the size itself then becomes that."""
    of = {every[id_].job_size_id for id_ in ids}
    if not isinstance(doing, OtherSize) or len(of) != 1:
        return None
    (size,) = of
    pieces = {placed.id for placed in every.values() if placed.job_size_id == size}
    return size if pieces == set(ids) else None


def last(workspace: Workspace, job_id: int) -> str | None:
    """Name what was last done to many at once, if it can be undone."""
    with reading(workspace.sessions) as session:
        batch = jobs.newest_batch(session, job_id)
    return None if batch is None else f"{batch.what}: {len(batch.changes)}"


def undo(workspace: Workspace, job_id: int, now: datetime) -> Done:
    """Undo what was last done to many at once; what was worked on since stays as it is."""
    with transaction(workspace.sessions) as session:
        batch = jobs.newest_batch(session, job_id)
        if batch is None:
            msg = f"Nothing was done to many pieces of job {job_id} at once that could be undone."
            raise RequestError(msg)
        before = counts_of(_of_job(session, job_id))
        undone, left = (_take_back if batch.size is None else take_back)(session, batch, now)
        jobs.set_batch_undone(session, batch.id)
        after = counts_of(_of_job(session, job_id))
    reason = "It was worked on since, and stays as it is."
    return Done(
        what=f"undone: {batch.what}",
        changed=undone,
        before=before,
        after=after,
        refused=[LeftAsItIs(placement_id=entry, reason=reason) for entry in left],
    )


def _take_back(session: Session, batch: jobs.Batch, now: datetime) -> tuple[int, list[int]]:
    """Undo a batch; return how many placements stand as before, and which were worked on since."""
    undone, left = 0, []
    for change in batch.changes:
        placed = placements.find(session, change.placement_id)
        if placed is None:
            continue
        there = (placed.step, placed.state) == (change.after, change.after_state)
        if there and placements.go_to(
            session, placed.id, change.step, cast(State, change.state), now
        ):
            undone += 1
        else:
            left.append(placed.id)
    return undone, left


How = Callable[[Placed], Placement | State]


def _way(session: Session, doing: Doing, every: dict[int, Placed]) -> tuple[How, str]:
    """Return what shall be done to each, and its name in the history."""
    if isinstance(doing, Settle):
        return _settled, "approved"
    if isinstance(doing, OtherSize):
        size = chosen(session, doing.text, doing.size_id)
        return lambda placed: _on_size(placed, size), f"put on {size_name(size)}"
    if isinstance(doing, OnFile):
        return lambda placed: _written(placed, doing.file), "file changed"
    if isinstance(doing, OnMark):
        return partial(_marked, doing), _mark_words(doing)
    if isinstance(doing, Like | Heads):
        model = every.get(doing.placement_id)
        if model is None:
            msg = f"Placement {doing.placement_id} is not one of this job."
            raise RequestError(msg)
        if isinstance(doing, Heads):
            head_of(model)  # or there is nothing to be as large as
            return lambda placed: with_head_of(placed, model), f"heads as on {model.photo.name}"
        return lambda placed: _like(placed, model), f"crop copied from {model.photo.name}"
    gesture = _gesture(doing)
    return lambda placed: _moved(placed, gesture), gesture.name


def _gesture(doing: Over | Reset | KeepZones | OnGround) -> Gesture:
    if isinstance(doing, Over):
        return Turn(kind="turn")
    if isinstance(doing, Reset):
        return StartAgain(kind="start_again")
    if isinstance(doing, KeepZones):
        return KeepWhole(kind="keep_whole")
    if doing.beyond and doing.fill == CONTINUED:
        return Continue(kind="continue")
    return Ground(kind="ground", beyond=doing.beyond, fill=doing.fill)


def _mark_words(doing: OnMark) -> str:
    if doing.hidden is None:
        return "mark as their size" if doing.mark is None else f"marked with {doing.mark.name}"
    return "mark hidden" if doing.hidden else "mark shown"


def _marked(doing: OnMark, placed: Placed) -> Placement:
    """Lay a mark over a piece, or hide or show its own.

    Raises
    ------
    SizeError
        If it has none to hide or show.
    """
    mark = None if doing.mark is None else PieceMark(**dict(doing.mark))
    if doing.hidden is not None:
        there = placed.placement.mark or size_at(placed.size, placed.placement).mark
        if there is None:
            msg = "it has no mark"
            raise SizeError(msg)
        mark = PieceMark(**(dict(there) | {"hidden": doing.hidden}))
    return _moved(placed, LayMark(kind="mark", mark=mark))


def _moved(placed: Placed, gesture: Gesture) -> Placement:
    upright, context = placed.photo.facts.upright, context_of(placed.photo)
    return apply(placed.size, upright, placed.placement, gesture, context)


def _settled(placed: Placed) -> State:
    noted = figures_of(placed)[1]
    stopped = bool(noted) and noted[0].level == "stop"
    return placed.state if stopped or placed.state == "made" else "settled"


def _on_size(placed: Placed, size: Size) -> Placement:
    own = None if size == placed.size else size
    laid = first_on(size, placed.photo)
    return changed(laid, size=own, mark=placed.placement.mark)


def _written(placed: Placed, choice: FileChoice) -> Placement:
    own = written_as(placed, size_at(placed.size, placed.placement), choice)
    return changed(placed.placement, size=own_size(placed.size, own))


def _like(placed: Placed, model: Placed) -> Placement:
    if placed.id == model.id:
        return placed.placement
    laid = laid_like(placed.size, placed.photo.facts.upright, model.lying)
    return changed(laid, mark=placed.placement.mark)


def _after(was: Placed, becomes: Placement | State) -> Placed:
    """Return a placement as it would be; the same where nothing changes."""
    if not isinstance(becomes, Placement):
        return replace(was, state=becomes)
    return was if becomes == was.placement else replace(was, placement=becomes, state="placed")


def _kept(session: Session, placed: Placed, after: Placed, what: str, now: datetime) -> Change:
    """Keep what was done to one placement: a step of its own, or a state."""
    if after.placement != placed.placement:
        kept = placements.keep(session, placed.id, after.placement, what, now)
    else:
        kept = placements.set_state(session, placed.id, after.state, now)
    return Change(
        placement_id=placed.id,
        step=placed.step,
        state=placed.state,
        after=kept.step,
        after_state=kept.state,
    )


def _of_job(session: Session, job_id: int) -> list[Placed]:
    find_job(session, job_id)
    return jobs.placements(session, job_id)
