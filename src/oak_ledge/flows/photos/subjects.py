"""What a photo is probably of, found on its preview as it comes in: heads, faces, else what stands out."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from oak_ledge.core.heads.face_points import NO_FACES, Faces
from oak_ledge.core.heads.head_zones import head_zones
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.keep_zones import NOTHING, Keeps, Zone
from oak_ledge.core.pixels.heads.find import find_heads, look_for_heads
from oak_ledge.core.pixels.subject.faces import Face
from oak_ledge.core.pixels.subject.subject import find_subject
from oak_ledge.flows.photos.previews import PREVIEW_EDGE, photo_preview
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import photos
from oak_ledge.store.database import transaction
from oak_ledge.store.photos import Photo


def faces_of(workspace: Workspace, photo: Photo) -> Faces:
    """Find the heads of a photo; none where they shall not be looked for."""
    if not workspace.finds:
        return NO_FACES
    picture = photo_preview(workspace, photo, PREVIEW_EDGE)
    return Faces(found=find_heads(picture, photo.facts.upright))


def found_in(workspace: Workspace, photo: Photo) -> tuple[Faces, Keeps]:
    """Find the heads of a photo and its subject: these, else its faces, else what stands out; nothing where none shall be looked for."""
    if not workspace.finds:
        return NO_FACES, NOTHING
    picture = photo_preview(workspace, photo, PREVIEW_EDGE)
    seen = look_for_heads(picture, photo.facts.upright)
    if seen.heads:
        zones = head_zones(seen.heads, photo.facts.upright)
        return Faces(found=seen.heads), Keeps(zones=zones)
    return NO_FACES, _subject(picture, photo.facts.upright, seen.faces)


def _subject(picture: Path, upright: Pixels, faces: Sequence[Face]) -> Keeps:
    """Return the faces of a picture as zones, else what stands out in it."""
    wide, high = upright

    def zone(left: float, top: float, width: float, height: float, **more: object) -> Zone:
        box = {
            "left": left * wide,
            "top": top * high,
            "width": width * wide,
            "height": height * high,
        }
        return Zone.model_validate(box | more)

    if faces:
        return Keeps(
            zones=tuple(
                zone(face.left, face.top, face.width, face.height,
                     eyes=(face.eyes[0] * wide, face.eyes[1] * high))
                for face in faces
            )
        )  # fmt: skip
    subject = find_subject(picture)
    if subject is None:
        return NOTHING
    return Keeps(
        zones=(
            zone(
                subject.left,
                subject.top,
                subject.width,
                subject.height,
                sure=round(subject.sure, 2),
            ),
        )
    )


def looked_at(workspace: Workspace, photo: Photo) -> Photo:
    """Look for heads and subject of a photo that came in before they were looked for."""
    if photo.found is not None and photo.faces is not None:
        return photo
    faces, keeps = found_in(workspace, photo)
    with transaction(workspace.sessions) as session:
        now = photos.find(session, photo.id)
        if now is None:
            return photo
        if now.faces is None:
            photos.set_faces(session, photo.id, faces)
        if now.found is None:
            photos.set_found(session, photo.id, keeps)
        return photos.find(session, photo.id) or photo
