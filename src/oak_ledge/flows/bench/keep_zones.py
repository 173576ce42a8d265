"""What of a photo must stay whole: said once, known to all its placements."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.photos.keep_zones import MOST_ZONES, NOTHING, Keeps, UncutLine, Zone, within
from oak_ledge.core.placements.zones.on_surface import to_upright
from oak_ledge.core.values import FAR, Coordinate
from oak_ledge.flows.bench.view import placed_in, view
from oak_ledge.flows.bench.view_models import PlacementView
from oak_ledge.flows.errors import ChangedMeanwhileError, RequestError
from oak_ledge.flows.photos.photos import PhotoView, find_photo, lay_new_ones, photo_in, photo_view
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import photos
from oak_ledge.store.database import Session, transaction
from oak_ledge.store.placements import Placed


class Marked(BaseModel):
    """A zone or a line drawn on a placement, from one point to another, where its crop is meant."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    kind: Literal["zone", "mark"]
    x0: Coordinate
    y0: Coordinate
    x1: Coordinate
    y1: Coordinate


def set_keeps(workspace: Workspace, photo_id: int, keeps: Keeps, now: datetime) -> PhotoView:
    """Return all that must stay whole of a photo, in its own pixels."""
    with transaction(workspace.sessions) as session:
        photo = photo_in(session, photo_id)
        _set(session, photo_id, within(keeps, photo.facts.upright), now)
    return photo_view(find_photo(workspace, photo_id))


def mark(workspace: Workspace, placement_id: int, drawn: Marked, now: datetime) -> PlacementView:
    """Mark a zone or a line on a photo, drawn on one of its placements."""
    with transaction(workspace.sessions) as session:
        placed = placed_in(session, placement_id)
        upright = placed.photo.facts.upright
        more = added(placed.photo.keeps, _drawn(placed, drawn))
        _set(session, placed.photo.id, within(more, upright), now)
    return view(workspace, placement_id)


def _drawn(placed: Placed, drawn: Marked) -> Keeps:
    """Return what was drawn on a placement, in the photo's own pixels."""
    points = [(drawn.x0, drawn.y0), (drawn.x1, drawn.y1)]
    if drawn.kind == "zone":
        points = [(x, y) for x in (drawn.x0, drawn.x1) for y in (drawn.y0, drawn.y1)]
    shape = to_upright(placed.lying.surface, points)
    if not all(2 * abs(edge) <= FAR for point in shape for edge in point):
        msg = "That lies too far from the photo. Draw it on the photo."
        raise RequestError(msg)
    if drawn.kind == "mark":
        (x0, y0), (x1, y1) = shape
        return Keeps(marks=(UncutLine(x0=x0, y0=y0, x1=x1, y1=y1),))
    xs, ys = zip(*shape, strict=True)
    wide, high = max(xs) - min(xs), max(ys) - min(ys)
    if min(wide, high) < 1:
        msg = "That zone has no extent. Drag from one corner of it to the other."
        raise RequestError(msg)
    return Keeps(zones=(Zone(left=min(xs), top=min(ys), width=wide, height=high),))


def added(keeps: Keeps, more: Keeps) -> Keeps:
    """Put zones and lines to those a photo has.

    Raises
    ------
    RequestError
        If it has as many as it can.
    """
    zones, marks = (*keeps.zones, *more.zones), (*keeps.marks, *more.marks)
    if max(len(zones), len(marks)) > MOST_ZONES:
        msg = f"A photo can have {MOST_ZONES} zones and as many lines. Forget some first."
        raise RequestError(msg)
    return Keeps(zones=zones, marks=marks)


def forget(
    workspace: Workspace,
    placement_id: int,
    number: int | None,
    now: datetime,
    seen: int | None = None,
) -> PlacementView:
    """Forget one of a photo's zones and lines, counted zones first, or all of them.

    Raises
    ------
    ChangedMeanwhileError
        If there are not as many any more as were `seen`, where that is said: a number may mean
        another one by now.
    """
    with transaction(workspace.sessions) as session:
        placed = placed_in(session, placement_id)
        zones, marks = list(placed.photo.keeps.zones), list(placed.photo.keeps.marks)
        there = len(zones) + len(marks)
        if seen in (None, there):
            if number is not None and not 0 <= number < there:
                msg = f"This photo has no zone or line {number}."
                raise RequestError(msg)
            if number is None:
                zones, marks = [], []
            elif number < len(zones):
                del zones[number]
            else:
                del marks[number - len(zones)]
            keeps = Keeps(zones=tuple(zones), marks=tuple(marks))
            _set(session, placed.photo.id, keeps, now)
    answer = view(workspace, placement_id)
    if seen not in (None, there):
        msg = "The zones of this photo were changed meanwhile. They are shown as they are now."
        raise ChangedMeanwhileError(msg, answer)
    return answer


def _set(session: Session, photo_id: int, keeps: Keeps, now: datetime) -> None:
    """Keep zones with a photo; placements no hand has been at yet lie around them at once."""
    photos.set_keeps(session, photo_id, keeps)
    lay_new_ones(session, photo_id, now)


def decide_found(workspace: Workspace, photo_id: int, now: datetime, *, take: bool) -> PhotoView:
    """Take what was found in a photo as keep zones, or refuse it; it is not looked for again.

    Raises
    ------
    RequestError
        If the photo has as many zones as it can; what was found still waits then.
    """
    with transaction(workspace.sessions) as session:
        photo = photo_in(session, photo_id)
        subject = photo.found or NOTHING
        decided = [zone.model_copy(update={"sure": None}) for zone in subject.zones]  # by a person
        taken = subject.model_copy(update={"zones": tuple(decided)})
        keeps = added(photo.keeps, taken) if take else photo.keeps
        photos.set_found(session, photo_id, NOTHING)
        if subject.zones:
            _set(session, photo_id, keeps, now)
    return photo_view(find_photo(workspace, photo_id))
