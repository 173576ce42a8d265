"""What a photo is probably of, found on its preview as it comes in: heads, faces, else what stands out."""

from __future__ import annotations

from oak_ledge.core.heads.face_points import NO_FACES, Faces
from oak_ledge.core.heads.head_zones import head_zones
from oak_ledge.core.photos.keep_zones import NOTHING, Keeps, Zone
from oak_ledge.core.pixels.heads.find import find_heads
from oak_ledge.core.pixels.subject.faces import find_faces
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


def subject_of(workspace: Workspace, photo: Photo, faces: Faces) -> Keeps:
    """Find the subject of a photo, its heads first; nothing where none stands out, or none shall be looked for."""
    if not workspace.finds:
        return NOTHING
    wide, high = photo.facts.upright
    if faces.found:
        return Keeps(zones=head_zones(faces.found, photo.facts.upright))
    picture = photo_preview(workspace, photo, PREVIEW_EDGE)

    def zone(left: float, top: float, width: float, height: float, **more: object) -> Zone:
        box = {
            "left": left * wide,
            "top": top * high,
            "width": width * wide,
            "height": height * high,
        }
        return Zone.model_validate(box | more)

    if seen := find_faces(picture):
        return Keeps(
            zones=tuple(
                zone(face.left, face.top, face.width, face.height,
                     eyes=(face.eyes[0] * wide, face.eyes[1] * high))
                for face in seen
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
    faces = faces_of(workspace, photo) if photo.faces is None else photo.faces
    keeps = subject_of(workspace, photo, faces) if photo.found is None else photo.found
    with transaction(workspace.sessions) as session:
        now = photos.find(session, photo.id)
        if now is None:
            return photo
        if now.faces is None:
            photos.set_faces(session, photo.id, faces)
        if now.found is None:
            photos.set_found(session, photo.id, keeps)
        return photos.find(session, photo.id) or photo
