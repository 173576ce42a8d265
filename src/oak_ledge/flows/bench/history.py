"""What a hand does on the bench: told while it is done, kept as a step, undone, redone, approved."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from typing import Literal

from oak_ledge.core.gestures.apply import Gesture, apply
from oak_ledge.core.gestures.typed import put_right
from oak_ledge.core.notes.note import stops
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.placements.scene_geometry import ground_taken
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.bench.view import live, load, placed_in, view, view_of
from oak_ledge.flows.bench.view_models import Live, PlacementView
from oak_ledge.flows.errors import ChangedMeanwhileError, NotFoundError, RequestError
from oak_ledge.flows.photos.photos import context_of, lay_new_ones
from oak_ledge.flows.photos.scenes import ask, missing
from oak_ledge.flows.pieces import pictures
from oak_ledge.flows.pieces.pieces import figures_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import placements
from oak_ledge.store.database import Session, transaction
from oak_ledge.store.placements import Placed


def tell(
    workspace: Workspace, placement_id: int, gesture: Gesture, seen: int | None = None
) -> Live:
    """Answer a gesture while it is being made; nothing is kept."""
    placed = as_seen(workspace, placement_id, seen)
    return live(workspace, placed, _applied(placed, gesture))


def picture(
    workspace: Workspace, placement_id: int, gesture: Gesture, edge: int, seen: int | None = None
) -> bytes:
    """Return the piece as a JPEG while a gesture is being made; nothing is kept."""
    placed = as_seen(workspace, placement_id, seen)
    passing = replace(placed, placement=_applied(placed, gesture))
    return pictures.passing_preview(workspace, passing, edge)


def as_seen(workspace: Workspace, placement_id: int, seen: int | None) -> Placed:
    """Find a placement that stands at the step that was `seen`, where one is named.

    Raises
    ------
    ChangedMeanwhileError
        If it stands at another.
    """
    placed = load(workspace, placement_id)
    if seen not in (None, placed.step):
        raise ChangedMeanwhileError(_changed_words(placed), view(workspace, placement_id))
    return placed


def _applied(placed: Placed, gesture: Gesture) -> Placement:
    upright, context = placed.photo.facts.upright, context_of(placed.photo)
    return apply(placed.size, upright, placed.placement, gesture, context)


def done_if_newest(
    workspace: Workspace,
    placement_id: int,
    seen: int | None,
    do: Callable[[Session, Placed], object],
) -> PlacementView:
    """Change a placement, if it still stands at the step that was `seen`, where one is named.

    Raises
    ------
    ChangedMeanwhileError
        If it stands at another; nothing is changed.
    """
    with transaction(workspace.sessions) as session:
        placed = placed_in(session, placement_id)
        newest = seen in (None, placed.step)
        if newest:
            do(session, placed)
            placed = placements.as_it_is_now(session, placement_id)
        steps = placements.steps_of(session, placement_id)
    answer = view_of(workspace, placed, steps)
    if not newest:
        raise ChangedMeanwhileError(_changed_words(placed), answer)
    return answer


def _changed_words(placed: Placed) -> str:
    return (
        f"{placed.photo.name} on {size_name(placed.size)} was changed meanwhile, in another "
        "window or by somebody else. It is shown as it is now; do it again if it is still wanted."
    )


def keep(
    workspace: Workspace,
    placement_id: int,
    gesture: Gesture,
    now: datetime,
    seen: int | None = None,
) -> PlacementView:
    """Keep a gesture as one step of the history; one that changes nothing is no step."""

    def do(session: Session, placed: Placed) -> None:
        placement = _applied(placed, gesture)
        if placement != placed.placement:
            placements.keep(session, placed.id, placement, gesture.name, now)

    answer = done_if_newest(workspace, placement_id, seen, do)
    if gesture.takes_ground:
        _ask_for_ground(workspace, placement_id)
    return answer


def _ask_for_ground(workspace: Workspace, placement_id: int) -> None:
    """Ask for the ground that was taken, ahead of the file that needs it."""
    placed = load(workspace, placement_id)
    works = missing(workspace, placed.photo, ground_taken(placed.lying))
    ask(workspace, placed.photo, works, f"photo {placed.photo.id}", again=True)


def put(
    workspace: Workspace,
    placement_id: int,
    placement: Placement,
    now: datetime,
    seen: int | None = None,
) -> PlacementView:
    """Set a placement by its figures; it is put right like any other."""

    def do(session: Session, placed: Placed) -> None:
        right = put_right(placed.size, placed.photo.facts.upright, placement)
        if right != placed.placement:
            placements.keep(session, placed.id, right, "typed", now)

    return done_if_newest(workspace, placement_id, seen, do)


def walk(
    workspace: Workspace,
    placement_id: int,
    by: Literal[-1, 1],
    now: datetime,
    seen: int | None = None,
) -> PlacementView:
    """Undo or redo one step; at either end nothing changes."""

    def do(session: Session, placed: Placed) -> None:
        _lay_others(session, placed, placements.walk(session, placed.id, by, now), now)

    return done_if_newest(workspace, placement_id, seen, do)


def _lay_others(session: Session, was: Placed, moved: Placed, now: datetime) -> None:
    """Lay the photo's other pieces by its points, where a step back or forth changed these."""
    if was.photo.faces != moved.photo.faces:
        lay_new_ones(session, moved.photo.id, now)


def go_to(
    workspace: Workspace, placement_id: int, step: int, now: datetime, seen: int | None = None
) -> PlacementView:
    """Go to any step of the history; those after it can still be redone."""

    def do(session: Session, placed: Placed) -> None:
        moved = placements.go_to(session, placed.id, step, "placed", now)
        if moved is None:
            msg = f"Placement {placement_id} has no step {step}."
            raise NotFoundError(msg)
        _lay_others(session, placed, moved, now)

    return done_if_newest(workspace, placement_id, seen, do)


def settle(
    workspace: Workspace, placement_id: int, now: datetime, seen: int | None = None
) -> PlacementView:
    """Approve a placement; one that is made stays made.

    Raises
    ------
    RequestError
        If a note stops it.
    """

    def do(session: Session, placed: Placed) -> None:
        stop = next(stops(figures_of(placed)[1]), None)
        if stop is not None:
            msg = f"It can't be approved as it is. {stop.text}"
            raise RequestError(msg)
        if placed.state != "made":
            placements.set_state(session, placed.id, "settled", now)

    return done_if_newest(workspace, placement_id, seen, do)
