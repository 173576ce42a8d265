"""Eyes, chin and crown of a photo: set or dragged by hand, chosen among several, confirmed.

They are the photo's, in every job; each change is a step of the placement it was made on, and can be undone there.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.errors import FaceError
from oak_ledge.core.heads.face_points import (
    NO_FACES,
    FacePoints,
    Faces,
    FaceStep,
    face_at,
    on_photo,
)
from oak_ledge.core.notes.heads import surely_found
from oak_ledge.core.pixels.heads.find import measure_head
from oak_ledge.core.placements.placement import Placement, changed, crop_of
from oak_ledge.core.placements.zones.head import laid_by_head
from oak_ledge.core.placements.zones.on_surface import to_upright
from oak_ledge.core.planes.points import Point
from oak_ledge.core.values import Coordinate
from oak_ledge.flows.bench.history import as_seen, done_if_newest
from oak_ledge.flows.bench.view import live, load
from oak_ledge.flows.bench.view_models import Live, PlacementView
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.jobs.jobs import find_job
from oak_ledge.flows.photos.photos import lay_new_ones
from oak_ledge.flows.photos.previews import PREVIEW_EDGE, photo_preview
from oak_ledge.flows.photos.subjects import faces_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs, photos, placements
from oak_ledge.store.database import Session, transaction
from oak_ledge.store.photos import Photo
from oak_ledge.store.placements import Placed

_Point = tuple[Coordinate, Coordinate]


class _Change(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class SetFace(_Change):
    """Set all four points: the left and the right eye as they are seen, chin, crown, where the placement's crop is meant."""

    do: Literal["set"]
    points: tuple[_Point, _Point, _Point, _Point]


class PickFace(_Change):
    """Choose one of several faces that were found, by its number from 0."""

    do: Literal["pick"]
    face: int = Field(ge=0, le=1000)


class ConfirmFace(_Change):
    """Say that the points that were found are right."""

    do: Literal["right"]


class FindFace(_Change):
    """Take away what was set, and look for heads anew."""

    do: Literal["find"]


FaceChange = Annotated[SetFace | PickFace | ConfirmFace | FindFace, Field(discriminator="do")]


def change_face(
    workspace: Workspace,
    placement_id: int,
    change: FaceChange,
    now: datetime,
    seen: int | None = None,
) -> PlacementView:
    """Change the points of a placement's photo; on a size with a head the crop follows them.

    Raises
    ------
    FaceError
        If the points are no face.
    RequestError
        If there is no face to choose or to confirm.
    """
    faces = _changed_faces(workspace, load(workspace, placement_id), change)

    def do(session: Session, placed: Placed) -> None:
        before = placed.photo.faces or NO_FACES
        photos.set_faces(session, placed.photo.id, faces)
        placement = _laid(placed, faces)
        what = "points confirmed" if isinstance(change, ConfirmFace) else "head measured"
        step = FaceStep(before=before, after=faces)
        placements.keep(session, placed.id, placement, what, now, faced=step)
        lay_new_ones(session, placed.photo.id, now)

    return done_if_newest(workspace, placement_id, seen, do)


def tell_face(
    workspace: Workspace, placement_id: int, change: SetFace, seen: int | None = None
) -> Live:
    """Answer points while a hand drags them; nothing is kept, and their pixels are not measured.

    Raises
    ------
    FaceError
        If they are no face.
    """
    placed = as_seen(workspace, placement_id, seen)
    faces = Faces(set=_hand_set(placed, change.points))
    photo = replace(placed.photo, faces=faces)
    return live(workspace, replace(placed, photo=photo), _laid(placed, faces))


def _laid(placed: Placed, faces: Faces) -> Placement:
    """Return how a placement lies by its photo's new points; confirmed ones move nothing."""
    was = (placed.photo.faces or NO_FACES).meant
    face, lying = faces.meant, placed.lying
    if lying.size.head is None or face is None or (was is not None and was.points == face.points):
        return placed.placement
    crop = crop_of(laid_by_head(lying, face).placement)
    return changed(placed.placement, **crop, before_levelling=None)


def _changed_faces(workspace: Workspace, placed: Placed, change: FaceChange) -> Faces:
    faces = placed.photo.faces or NO_FACES
    if isinstance(change, SetFace):
        return faces.model_copy(update={"set": _set(workspace, placed, change.points)})
    if isinstance(change, PickFace):
        if change.face >= len(faces.found):
            msg = f"{len(faces.found)} faces were found in {placed.photo.name}; there is no face {change.face}."
            raise RequestError(msg)
        return Faces(found=faces.found, picked=change.face)
    if isinstance(change, ConfirmFace):
        return _confirmed(placed.photo)
    return faces_of(workspace, placed.photo)


def _set(workspace: Workspace, placed: Placed, points: Sequence[Point]) -> FacePoints:
    """Return the face whose points were set on a placement, with what its pixels say."""
    picture = photo_preview(workspace, placed.photo, PREVIEW_EDGE)
    return measure_head(picture, placed.photo.facts.upright, _hand_set(placed, points))


def _hand_set(placed: Placed, points: Sequence[Point]) -> FacePoints:
    """Return the face whose points were set on a placement, in the photo's own pixels."""
    surface = placed.lying.surface
    upright = to_upright(surface, list(points))
    if len(upright) != len(points):
        msg = "those points lie where the squared-up photo does not reach. Remove squaring first"
        raise FaceError(msg)
    left, right, chin, crown = upright
    face = face_at((right, left, chin, crown) if surface.mirror else (left, right, chin, crown))
    return on_photo(face, placed.photo.facts.upright)


def _confirmed(photo: Photo) -> Faces:
    faces = photo.faces or NO_FACES
    if faces.meant is None:
        msg = f"No face of {photo.name} is chosen yet. Click the one that is meant, or set its points."
        raise RequestError(msg)
    return faces.model_copy(update={"set": faces.meant.model_copy(update={"found": None})})


class Confirmed(BaseModel):
    """How many photos' points were confirmed, and how many still want a look of their own."""

    confirmed: int
    left: int


def confirm_all(workspace: Workspace, job_id: int, now: datetime) -> Confirmed:
    """Confirm the points found in every photo of a job; those that are not sure, or of several faces, are left."""
    with transaction(workspace.sessions) as session:
        find_job(session, job_id)
        asking = [
            member.photo
            for member in jobs.members(session, job_id)
            if member.photo.faces is not None and member.photo.faces.asks
        ]
        sure = [photo for photo in asking if surely_found(photo.faces)]
        for photo in sure:
            photos.set_faces(session, photo.id, _confirmed(photo))
        jobs.change(session, job_id, now)
    return Confirmed(confirmed=len(sure), left=len(asking) - len(sure))
