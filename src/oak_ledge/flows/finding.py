"""Subjects found in photos: laid around from the start, until a person takes or refuses them."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from oak_ledge.core.zones import NOTHING
from oak_ledge.flows.photos import PhotoView, find_photo, photo_view
from oak_ledge.flows.subjects import subject_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.flows.zones import set_keeps
from oak_ledge.store import photos
from oak_ledge.store.database import transaction
from oak_ledge.store.photos import Photo


def looked_at(workspace: Workspace, photo: Photo) -> Photo:
    """Look for the subject of a photo that came in before subjects were looked for."""
    if photo.found is not None:
        return photo
    found = subject_of(workspace, photo)
    with transaction(workspace.sessions) as session:
        photos.set_found(session, photo.id, found)
        again = photos.find(session, photo.id)
    return again or photo


def take(workspace: Workspace, photo_ids: Sequence[int], now: datetime) -> list[PhotoView]:
    """Take what was found as keep zones, beside those that were drawn."""
    return [_decide(workspace, photo_id, now, take=True) for photo_id in photo_ids]


def refuse(workspace: Workspace, photo_ids: Sequence[int], now: datetime) -> list[PhotoView]:
    """Refuse what was found; it is not looked for again."""
    return [_decide(workspace, photo_id, now, take=False) for photo_id in photo_ids]


def _decide(workspace: Workspace, photo_id: int, now: datetime, *, take: bool) -> PhotoView:
    photo = find_photo(workspace, photo_id)
    zones = (photo.found or NOTHING).zones
    with transaction(workspace.sessions) as session:
        photos.set_found(session, photo_id, NOTHING)
    keeps = photo.keeps
    if take and zones:
        keeps = keeps.model_copy(update={"zones": (*keeps.zones, *zones)})
    if zones:
        return set_keeps(workspace, photo_id, keeps, now)
    return photo_view(find_photo(workspace, photo_id))
