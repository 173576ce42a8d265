"""What of a photo must stay whole: said once, known to all its placements."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.keeping import suggest_around
from oak_ledge.core.placements import held_at
from oak_ledge.core.zones import MOST, Keeps, Mark, Zone, as_upright, within
from oak_ledge.flows.photos import PhotoView, find_photo, photo_view
from oak_ledge.flows.placements import PlacementView, lies_around, load, view
from oak_ledge.flows.workspace import AskedError, Workspace
from oak_ledge.store import photos, placements
from oak_ledge.store.database import Session, transaction


class Marked(BaseModel):
    """A zone or a line drawn on a placement, from one point to another, where its crop is meant."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    kind: Literal["zone", "mark"]
    x0: float
    y0: float
    x1: float
    y1: float


def set_keeps(workspace: Workspace, photo_id: int, keeps: Keeps, now: datetime) -> PhotoView:
    """Say all that must stay whole of a photo, in its own pixels."""
    photo = find_photo(workspace, photo_id)
    with transaction(workspace.sessions) as session:
        _set(session, photo_id, within(keeps, photo.facts.held), now)
    return photo_view(find_photo(workspace, photo_id))


def mark(workspace: Workspace, placement_id: int, drawn: Marked, now: datetime) -> PlacementView:
    """Mark a zone or a line on a photo, drawn on one of its placements."""
    placed = load(workspace, placement_id)
    upright, keeps = placed.photo.facts.held, placed.photo.keeps
    held = held_at(placed.size, upright, placed.placement)
    points = [(drawn.x0, drawn.y0), (drawn.x1, drawn.y1)]
    if drawn.kind == "zone":
        points = [(x, y) for x in (drawn.x0, drawn.x1) for y in (drawn.y0, drawn.y1)]
    found = as_upright(points, upright, placed.placement, held)
    if drawn.kind == "zone":
        xs, ys = zip(*found, strict=True)
        wide, high = max(xs) - min(xs), max(ys) - min(ys)
        if min(wide, high) < 1:
            msg = "That zone has no extent. Drag from one corner of it to the other."
            raise AskedError(msg)
        zone = Zone(left=min(xs), top=min(ys), width=wide, height=high)
        more = keeps.model_copy(update={"zones": (*keeps.zones, zone)})
    else:
        (x0, y0), (x1, y1) = found
        more = keeps.model_copy(update={"marks": (*keeps.marks, Mark(x0=x0, y0=y0, x1=x1, y1=y1))})
    if max(len(more.zones), len(more.marks)) > MOST:
        msg = f"A photo can have {MOST} zones and as many lines. Forget some first."
        raise AskedError(msg)
    with transaction(workspace.sessions) as session:
        _set(session, placed.photo.id, within(more, upright), now)
    return view(workspace, placement_id)


def forget(
    workspace: Workspace, placement_id: int, number: int | None, now: datetime
) -> PlacementView:
    """Forget one of a photo's zones and lines, counted zones first, or all of them."""
    placed = load(workspace, placement_id)
    keeps = Keeps()
    if number is not None:
        zones, marks = list(placed.photo.keeps.zones), list(placed.photo.keeps.marks)
        if not 0 <= number < len(zones) + len(marks):
            msg = f"This photo has no zone or line {number}."
            raise AskedError(msg)
        if number < len(zones):
            del zones[number]
        else:
            del marks[number - len(zones)]
        keeps = Keeps(zones=tuple(zones), marks=tuple(marks))
    with transaction(workspace.sessions) as session:
        _set(session, placed.photo.id, keeps, now)
    return view(workspace, placement_id)


def _set(session: Session, photo_id: int, keeps: Keeps, now: datetime) -> None:
    """Keep zones with a photo; placements no hand has touched yet lie around them at once."""
    photos.set_keeps(session, photo_id, keeps)
    for placed in placements.of_photo(session, photo_id):
        if placed.state == "new" and placed.step == 0:
            laid = suggest_around(placed.size, placed.photo.facts.held, lies_around(placed.photo))
            placements.begin_again(session, placed.id, laid, "suggested", now)
