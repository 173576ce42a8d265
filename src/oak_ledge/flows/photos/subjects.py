"""What a photo is probably of, found on its preview as it comes in: faces, else what stands out."""

from __future__ import annotations

from oak_ledge.core.photos.keep_zones import NOTHING, Keeps, Zone
from oak_ledge.core.pixels.subject.faces import find_faces
from oak_ledge.core.pixels.subject.subject import find_subject
from oak_ledge.flows.photos.previews import PREVIEW_EDGE, photo_preview
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import photos
from oak_ledge.store.database import transaction
from oak_ledge.store.photos import Photo


def subject_of(workspace: Workspace, photo: Photo) -> Keeps:
    """Find the subject of a photo; nothing where none stands out, or none shall be looked for."""
    if not workspace.finds:
        return NOTHING
    picture = photo_preview(workspace, photo, PREVIEW_EDGE)
    wide, high = photo.facts.upright

    def zone(left: float, top: float, width: float, height: float, **more: object) -> Zone:
        box = {
            "left": left * wide,
            "top": top * high,
            "width": width * wide,
            "height": height * high,
        }
        return Zone.model_validate(box | more)

    if faces := find_faces(picture):
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
    """Look for the subject of a photo that came in before subjects were looked for."""
    if photo.found is not None:
        return photo
    keeps = subject_of(workspace, photo)
    with transaction(workspace.sessions) as session:
        now = photos.find(session, photo.id)
        if now is None or now.found is not None:
            return now or photo
        photos.set_found(session, photo.id, keeps)
        return photos.find(session, photo.id) or photo
