"""What a hand brushes on a piece: kept on its photo, or in the ground beyond it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.gestures.beyond_photo import Continue
from oak_ledge.core.photos.continued import BrushedOver
from oak_ledge.core.photos.retouches import Retouch
from oak_ledge.core.photos.strokes import Polygons, Spot, Stroke, Strokes
from oak_ledge.core.pixels.retouch.softness import grown, softness_on
from oak_ledge.core.placements.scene_geometry import ground_taken, is_beyond, is_on_photo
from oak_ledge.core.placements.zones.on_surface import to_upright
from oak_ledge.core.values import Coordinate
from oak_ledge.flows.bench.history import keep
from oak_ledge.flows.bench.view import placed_in
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.photos.previews import PREVIEW_EDGE, photo_preview
from oak_ledge.flows.photos.scenes import uncut
from oak_ledge.flows.scene.retouches import RetouchesBody, RetouchesView, put, retouch_in, view
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.database import reading
from oak_ledge.store.photos import Photo
from oak_ledge.store.placements import Placed


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

    A brush that was too tight is grown by what the edge beneath is soft. What is painted over in its
    continued ground, beyond the photo, is that piece's alone; what lies across the photo's edge is
    painted over in both, a step each.

    Raises
    ------
    RequestError
        If its corners are squared up: what is brushed lies on the photo.
    """
    with reading(workspace.sessions) as session:
        placed = placed_in(session, placement_id)
    if placed.placement.corners is not None:
        msg = "Retouching is done on the photo itself. Show the whole photo first: remove the squaring."
        raise RequestError(msg)
    retouch = _on_photo(placed, brushed)
    over = BrushedOver(
        strokes=retouch.strokes, polygons=retouch.polygons, take_from=retouch.take_from
    )
    in_ground = _in_ground(placed, brushed, over)
    if in_ground and not is_on_photo(over, placed.photo.facts.upright):
        return _brush_ground(workspace, placed, brushed, now, placed.step)
    kept, by = placed.photo.retouches, _softness(workspace, placed.photo, retouch)
    if by:
        wider = grown(retouch.strokes, retouch.polygons, by)
        retouch = retouch.model_copy(update={"strokes": wider})
    if brushed.number is None:
        after = (*kept.retouches, retouch)
    else:
        was = retouch_in(placed.photo, brushed.number)
        more = {
            "strokes": (*was.strokes, *retouch.strokes),
            "polygons": (*was.polygons, *retouch.polygons),
            "take_from": (*was.take_from, *retouch.take_from),
        }
        more_of = was.model_copy(update=more)
        after = tuple(more_of if other.number == was.number else other for other in kept.retouches)
    body = RetouchesBody(retouches=list(after), version=kept.version, placement_id=placement_id)
    answer = put(workspace, placed.photo.id, body, now, placed.job_id)
    if in_ground:
        _brush_ground(workspace, placed, brushed, now, None)
    return answer.model_copy(update={"grown": round(by, 1)})


def _softness(workspace: Workspace, photo: Photo, retouch: Retouch) -> float:
    """Return by how much what is painted over is to grow; texture is laid just where a hand lays it."""
    if retouch.kind != "paint_over":
        return 0.0
    picture = photo_preview(workspace, uncut(photo), PREVIEW_EDGE)
    return softness_on(picture, photo.facts.upright, retouch.strokes, retouch.polygons)


def _in_ground(placed: Placed, brushed: Brushed, over: BrushedOver) -> bool:
    """Return whether some of what is painted over lies beyond the photo, in a ground that was taken."""
    ground = ground_taken(placed.lying)
    if ground is None or brushed.kind != "paint_over" or brushed.number is not None:
        return False
    return is_beyond(over, ground.box, placed.photo.facts.upright)


def _brush_ground(
    workspace: Workspace, placed: Placed, brushed: Brushed, now: datetime, seen: int | None
) -> RetouchesView:
    ground = placed.placement.continued
    gesture = Continue(
        kind="continue",
        seed=ground.seed if ground else 1,
        attempt=ground.attempt if ground else 1,
        over=BrushedOver(
            strokes=brushed.strokes, polygons=brushed.polygons, take_from=brushed.take_from
        ),
    )
    keep(workspace, placed.id, gesture, now, seen)
    kept = view(workspace, placed.photo.id, placed.job_id)
    return kept.model_copy(update={"in_ground": True})


def _on_photo(placed: Placed, brushed: Brushed) -> Retouch:
    """Return what was brushed in the photo's own upright pixels; the photo may be turned or mirrored."""
    surface = placed.lying.surface

    def here(points: Sequence[Spot]) -> tuple[Spot, ...]:
        return to_upright(surface, list(points))

    def strokes(some: Sequence[Stroke]) -> tuple[Stroke, ...]:
        return tuple(stroke.model_copy(update={"points": here(stroke.points)}) for stroke in some)

    offset = brushed.offset
    if offset is not None:
        (x0, y0), (x1, y1) = here([(0.0, 0.0), offset])
        offset = (x1 - x0, y1 - y0)
    return Retouch(
        kind=brushed.kind,
        strokes=strokes(brushed.strokes),
        polygons=tuple(here(polygon) for polygon in brushed.polygons),
        offset=offset,
        soft=brushed.soft,
        take_from=strokes(brushed.take_from),
    )
