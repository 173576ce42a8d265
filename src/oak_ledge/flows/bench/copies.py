"""Copying a placement's way of lying to others of its job: shown first, then done as one step each."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from pydantic import BaseModel

from oak_ledge.core.errors import CoreError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.like_another import laid_like
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.bench.view import load, placed_in
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.photos.previews import look_of
from oak_ledge.flows.pieces.figures import compute
from oak_ledge.flows.pieces.pieces import around_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs, placements
from oak_ledge.store.database import reading, transaction
from oak_ledge.store.placements import Placed


class Lie(BaseModel):
    """Where a crop lies on what it lies on, and how many notes want a look."""

    crop: tuple[float, float, float, float]
    angle: float
    extent: Pixels
    quarter: int
    mirror: bool
    to_look_at: int


class Copied(BaseModel):
    """One placement before and after; `reason` says why it can't be laid so."""

    placement_id: int
    photo_id: int
    photo_name: str
    look: str
    """tells the photo's pictures as it is retouched now"""
    size_name: str
    same_size: bool
    before: Lie
    after: Lie | None
    reason: str | None


def preview(workspace: Workspace, placement_id: int) -> list[Copied]:
    """Show how every other placement of the job would lie; nothing is changed."""
    source = load(workspace, placement_id)
    with reading(workspace.sessions) as session:
        others = jobs.placements(session, source.job_id)
    return [
        _copied(source, other, _like(source, other)) for other in others if other.id != placement_id
    ]


def copy(
    workspace: Workspace, placement_id: int, placement_ids: Sequence[int], now: datetime
) -> list[Copied]:
    """Lay placements of the same job like one; each is a step of its own that can be undone."""
    done = []
    with transaction(workspace.sessions) as session:
        source = placed_in(session, placement_id)
        others = {other.id: other for other in jobs.placements(session, source.job_id)}
        for other_id in placement_ids:
            if other_id not in others or other_id == placement_id:
                msg = f"Placement {other_id} is not another one of this job."
                raise RequestError(msg)
            outcome = _like(source, others[other_id])
            if isinstance(outcome, Placement) and outcome != others[other_id].placement:
                what = f"crop copied from {source.photo.name}"
                placements.keep(session, other_id, outcome, what, now)
            done.append(_copied(source, others[other_id], outcome))
    return done


def _like(source: Placed, other: Placed) -> Placement | str:
    try:
        laid = laid_like(other.size, other.photo.facts.upright, source.lying)
    except CoreError as exc:
        return str(exc)
    return changed(laid, mark=other.placement.mark)


def _copied(source: Placed, other: Placed, outcome: Placement | str) -> Copied:
    return Copied(
        placement_id=other.id,
        photo_id=other.photo.id,
        photo_name=other.photo.name,
        look=look_of(other.photo),
        size_name=size_name(other.size),
        same_size=other.job_size_id == source.job_size_id,
        before=_lie(other, other.placement),
        after=_lie(other, outcome) if isinstance(outcome, Placement) else None,
        reason=None if isinstance(outcome, Placement) else outcome,
    )


def _lie(placed: Placed, placement: Placement) -> Lie:
    facts = placed.photo.facts
    lying = lying_on(placed.size, facts.upright, placement)
    _, noted = compute(lying, facts, placed.size, around_of(placed))
    return Lie(
        crop=lying.crop.box,
        angle=placement.angle,
        extent=lying.extent,
        quarter=placement.quarter,
        mirror=placement.mirror,
        to_look_at=sum(note.level != "fine" for note in noted),
    )
