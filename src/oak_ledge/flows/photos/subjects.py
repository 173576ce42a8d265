"""What a photo is probably of, found on its preview as it comes in."""

from __future__ import annotations

from oak_ledge.core.photos.keep_zones import NOTHING, Keeps, Zone
from oak_ledge.core.pixels.look.subject import find_subject
from oak_ledge.flows.photos.previews import PREVIEW_EDGE, photo_preview
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import photos
from oak_ledge.store.database import transaction
from oak_ledge.store.photos import Photo


def subject_of(workspace: Workspace, photo: Photo) -> Keeps:
    """Find the subject of a photo; nothing where none stands out."""
    box = find_subject(photo_preview(workspace, photo, PREVIEW_EDGE))
    if box is None:
        return NOTHING
    wide, high = photo.facts.upright
    left, top, width, height = box
    zone = Zone(left=left * wide, top=top * high, width=width * wide, height=height * high)
    return Keeps(zones=(zone,))


def looked_at(workspace: Workspace, photo: Photo) -> Photo:
    """Look for the subject of a photo that came in before subjects were looked for."""
    if photo.found is not None:
        return photo
    found = subject_of(workspace, photo)
    with transaction(workspace.sessions) as session:
        now = photos.find(session, photo.id)
        if now is None or now.found is not None:
            return now or photo
        photos.set_found(session, photo.id, found)
        return photos.find(session, photo.id) or photo
