"""Subjects found in photos: laid around from the start, until a person takes or refuses them."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from oak_ledge.core.pixels.subjects import find_subject
from oak_ledge.core.zones import NOTHING, Keeps, Zone
from oak_ledge.flows.photos import PhotoView, find_photo, photo_view
from oak_ledge.flows.previews import PREVIEW_EDGE, photo_preview
from oak_ledge.flows.workspace import Workspace
from oak_ledge.flows.zones import set_keeps
from oak_ledge.store import photos
from oak_ledge.store.database import transaction
from oak_ledge.store.photos import Photo


def looked_at(workspace: Workspace, photo: Photo) -> Photo:
    """Look for a photo's subject, once; give the photo with what was found."""
    if photo.found is not None:
        return photo
    found = subject_of(workspace, photo)
    with transaction(workspace.sessions) as session:
        photos.set_found(session, photo.id, found)
        again = photos.find(session, photo.id)
    return again or photo


def subject_of(workspace: Workspace, photo: Photo) -> Keeps:
    """Find the subject of a photo on its preview; nothing where none stands out."""
    box = find_subject(photo_preview(workspace, photo, PREVIEW_EDGE))
    if box is None:
        return NOTHING
    wide, high = photo.facts.held
    left, top, width, height = box
    zone = Zone(left=left * wide, top=top * high, width=width * wide, height=height * high)
    return Keeps(zones=(zone,))


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
