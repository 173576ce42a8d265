"""Pictures of photos for the screen, and what is measured on them: drawn once and kept in a cache."""

from __future__ import annotations

import hashlib
from functools import lru_cache
from pathlib import Path

from pydantic import BaseModel

from oak_ledge.core.pixels.open.layers import Scene
from oak_ledge.core.pixels.show.preview import draw_preview, draw_turned
from oak_ledge.core.pixels.subject.dropper import Edge, average_at, average_of_edge
from oak_ledge.core.pixels.weight.estimate import Weights, weigh
from oak_ledge.core.planes.surface import Squared
from oak_ledge.flows.photos.scenes import bare, scene_if_made
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import photos
from oak_ledge.store.database import reading
from oak_ledge.store.folders import is_fresh, replace_file
from oak_ledge.store.photos import Photo, present
from oak_ledge.store.placements import Placed

PREVIEW_EDGE = 2048


def look_of(photo: Photo) -> str:
    """Return what tells a retouched photo's pictures from those without; empty where nothing is retouched."""
    shown = photo.retouches.shown
    if not shown:
        return ""
    of = str([retouch.model_dump_json(exclude={"number"}) for retouch in shown])
    return f"-{hashlib.sha256(of.encode()).hexdigest()[:16]}"


def as_looks(workspace: Workspace, photo: Photo, look: str | None = None) -> Photo:
    """Return a photo as it is retouched where it looks so: in a job, in none, or the bare `original`.

    Without a look it is meant as it is in the one job that holds it, or in none.
    """
    if look == "original":
        return bare(photo)
    if look == look_of(photo):
        return photo
    with reading(workspace.sessions) as session:
        held = [job.photo for job in photos.jobs_with(session, photo.id)]
    if look is None:
        return held[0] if len(held) == 1 else photo
    return next((entry for entry in held if look_of(entry) == look), photo)


def keep_preview(workspace: Workspace, photo: Photo, picture: bytes) -> None:
    """Keep the first picture of a photo that comes in, as it was drawn when it was read."""
    folder = workspace.previews / photo.hash[:2]
    replace_file(folder / f"{photo.hash}-{PREVIEW_EDGE}.jpg", picture)


def photo_preview(workspace: Workspace, photo: Photo, edge: int) -> Path:
    """Return an upright sRGB picture of a photo, its longer edge at most `edge` pixels.

    With its retouches, or until they are made without them; a PNG where a thing is cut out of it.
    """
    stem = workspace.previews / photo.hash[:2] / f"{photo.hash}{look_of(photo)}"
    ending = ".jpg" if photo.retouches.cut is None else ".png"
    path = stem.with_name(f"{stem.name}-{edge}{ending}")
    if is_fresh(path):
        return path
    largest = stem.with_name(f"{stem.name}-{PREVIEW_EDGE}{ending}")
    picture: Path | Scene
    if edge < PREVIEW_EDGE and largest.exists():
        picture = largest
    elif not photo.retouches.shown:
        picture = present(workspace.originals, photo)
    else:
        scene = scene_if_made(workspace, photo)
        if scene is None:
            return photo_preview(workspace, bare(photo), edge)
        picture = scene
    replace_file(path, draw_preview(picture, edge, clear=photo.retouches.cut is not None))
    return path


def turned_preview(
    workspace: Workspace, photo: Photo, edge: int, quarter: int, *, mirror: bool
) -> Path:
    """Return a photo's picture turned by quarters clockwise, then mirrored."""
    plain = photo_preview(workspace, photo, edge)
    if not quarter and not mirror:
        return plain
    path = plain.with_name(f"{plain.stem}-{quarter}{'m' if mirror else ''}{plain.suffix}")
    if not is_fresh(path):
        replace_file(path, draw_turned(plain, quarter, mirror=mirror))
    return path


class Tone(BaseModel):
    """A colour of a photo, as a ground takes it."""

    fill: str


def tone_at(workspace: Workspace, placed: Placed, x: float, y: float) -> Tone:
    """Return the average colour around a point.

    `x` and `y` are shares of the photo as it is turned, or of the plane where one is squared up.
    """
    surface = placed.lying.surface
    if isinstance(surface, Squared):
        (across, along), (wide, high) = surface.extent, surface.photo
        ((x, y),) = surface.to_photo([(x * across, y * along)])
        x, y = x / wide, y / high
    within = (min(1.0, max(0.0, x)), min(1.0, max(0.0, y)))
    return Tone(fill=average_at(_turned_picture(workspace, placed), *within))


def tone_of_edge(workspace: Workspace, placed: Placed, edge: Edge) -> Tone:
    """Return the average colour along one edge of a photo, as it is turned."""
    return Tone(fill=average_of_edge(_turned_picture(workspace, placed), edge))


def _turned_picture(workspace: Workspace, placed: Placed) -> Path:
    quarter, mirror = placed.placement.quarter, placed.placement.mirror
    return turned_preview(workspace, placed.photo, PREVIEW_EDGE, quarter, mirror=mirror)


def weights_of(workspace: Workspace, photo: Photo, *, measure: bool = False) -> Weights | None:
    """Return what a photo's files weigh per pixel; measured once, when first asked to `measure`."""
    path = (
        workspace.previews / photo.hash[:2] / f"{photo.hash}-weights-3.json"
    )  # what is measured is another since 2
    if not is_fresh(path):
        if not measure:
            return None
        weights = weigh(present(workspace.originals, photo))
        replace_file(path, weights.model_dump_json().encode())
    return _weights_in(path)


@lru_cache(maxsize=64)  # a drag asks for the same at every frame
def _weights_in(path: Path) -> Weights:
    return Weights.model_validate_json(path.read_bytes())
