"""What a photo is probably of, found on its preview as it comes in."""

from __future__ import annotations

from oak_ledge.core.pixels.subjects import find_subject
from oak_ledge.core.zones import NOTHING, Keeps, Zone
from oak_ledge.flows.previews import PREVIEW_EDGE, photo_preview
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.photos import Photo


def subject_of(workspace: Workspace, photo: Photo) -> Keeps:
    """Find the subject of a photo; nothing where none stands out."""
    box = find_subject(photo_preview(workspace, photo, PREVIEW_EDGE))
    if box is None:
        return NOTHING
    wide, high = photo.facts.held
    left, top, width, height = box
    zone = Zone(left=left * wide, top=top * high, width=width * wide, height=height * high)
    return Keeps(zones=(zone,))
