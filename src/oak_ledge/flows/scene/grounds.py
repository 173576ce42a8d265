"""The tries of a continued ground: asked for, watched, looked at; a gesture takes one."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from pathlib import Path

from pydantic import BaseModel

from oak_ledge.core.photos.continued import Continued
from oak_ledge.core.photos.fill_work import FillWork
from oak_ledge.core.photos.retouches import TRIES
from oak_ledge.core.pixels.subject.dropper import average_of_edge, plain_edges
from oak_ledge.core.placements.placement import changed, own_size
from oak_ledge.core.placements.scene_geometry import (
    BOLD,
    box_needed,
    ground_for,
    is_unmade,
    never_copied,
    upright_of,
)
from oak_ledge.core.sizes.ground import CONTINUED
from oak_ledge.core.sizes.size import size_from
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.errors import NotFoundError
from oak_ledge.flows.photos.previews import PREVIEW_EDGE, photo_preview
from oak_ledge.flows.photos.scene_pictures import ground_preview
from oak_ledge.flows.photos.scenes import drop, refuse_failed
from oak_ledge.flows.photos.tries import TryView, watched
from oak_ledge.flows.pieces.pictures import piece_preview
from oak_ledge.flows.pieces.pieces import figures_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.placements import Placed


def tries(
    workspace: Workspace, placement_id: int, now: datetime, seed: int | None = None
) -> list[TryView]:
    """Return how far the grounds of a placement are, the best first; asking begins the work.

    Nothing where its crop stays within the photo. Another `seed` gives four others.

    Raises
    ------
    FillError
        If so large a ground can't be made.
    """
    placed = load(workspace, placement_id)
    works = [_work(placed, ground) for ground in _grounds(placed, seed)]
    if not works:
        return []
    was = placed.placement.continued
    return watched(
        workspace,
        placed.photo,
        works,
        _asker(placed),
        now,
        taken=was.attempt if was is not None and was == works[was.attempt - 1].ground else None,
        bold=figures_of(placed)[0].uncovered > BOLD,
    )


def cancel(workspace: Workspace, placement_id: int) -> None:
    """Want the grounds no more that are not made yet."""
    placed = load(workspace, placement_id)
    drop(workspace, _asker(placed))


def picture(
    workspace: Workspace, placement_id: int, attempt: int, edge: int, seed: int | None = None
) -> Path | None:
    """Draw a placement's piece with one of the tries; None where that is not made yet."""
    placed = load(workspace, placement_id)
    grounds = _grounds(placed, seed)
    if not grounds:
        msg = "This piece stays within its photo: there is no ground to look at."
        raise NotFoundError(msg)
    ground = grounds[attempt - 1]
    if ground_preview(workspace, placed.photo, ground, asks=False) is None:
        refuse_failed(workspace, placed.photo, _work(placed, ground))
        return None
    seen = _on_ground(placed, CONTINUED, ground)
    return piece_preview(workspace, seen, edge, asks=False)


class Plain(BaseModel):
    """The best ground that is not made up: what fills, and that in words."""

    fill: str
    words: str


def plain(workspace: Workspace, placement_id: int) -> Plain:
    """Choose the best plain ground: the photo's own plain tone, where it has one, else a blur of it."""
    return _plain_of(workspace, load(workspace, placement_id))


def _plain_of(workspace: Workspace, placed: Placed) -> Plain:
    path = photo_preview(workspace, placed.photo, PREVIEW_EDGE)
    fill = average_of_edge(path, "top") if plain_edges(path) else "blur"
    return Plain(fill=fill, words="the photo, blurred" if fill == "blur" else "its own plain tone")


def plain_picture(workspace: Workspace, placement_id: int, edge: int) -> Path:
    """Draw a placement's piece with the best plain ground."""
    placed = load(workspace, placement_id)
    fill = _plain_of(workspace, placed).fill
    return piece_preview(workspace, _on_ground(placed, fill), edge)


def _on_ground(placed: Placed, fill: str, ground: Continued | None = None) -> Placed:
    size = size_from(dict(placed.lying.size) | {"ground": fill, "differ": "extend"})
    own = own_size(placed.size, size)
    return replace(placed, placement=changed(placed.placement, size=own, continued=ground))


def _grounds(placed: Placed, seed: int | None) -> list[Continued]:
    """Return the tries for a placement as it lies now; none where it needs no ground."""
    lying, was = placed.lying, placed.placement.continued
    if box_needed(lying.surface, lying.crop, upright_of(lying.surface)) is None:
        return []
    if seed is None:
        seed = was.seed if was is not None else 1
    if was is not None and not is_unmade(lying) and seed == was.seed:
        first = was  # so that what is taken stays one of them, also where zones were marked since
    else:
        zones = never_copied(placed.photo.keeps, placed.photo.found)
        first = ground_for(lying, zones, seed=seed, attempt=1)
    others = [first.model_copy(update={"attempt": n, "over": ()}) for n in range(1, TRIES + 1)]
    return [first if other.attempt == first.attempt else other for other in others]


def _work(placed: Placed, ground: Continued) -> FillWork:
    return FillWork(retouches=placed.photo.retouches, ground=ground)


def _asker(placed: Placed) -> str:
    return f"placement {placed.id}"
