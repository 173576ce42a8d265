"""Photos: taken in, looked at, marked."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Query, UploadFile
from fastapi.responses import FileResponse, Response

from oak_ledge.core.photos.keep_zones import Keeps
from oak_ledge.flows.bench import face, keep_zones as zones
from oak_ledge.flows.bench.face import Confirmed, SetFace
from oak_ledge.flows.bench.view_models import Live, PlacementView
from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SavedSizeView
from oak_ledge.flows.photos import photos, previews, web_address
from oak_ledge.flows.photos.photos import Incoming, PhotoView, TakenIn
from oak_ledge.web.api.answer import of_kind, shown, written
from oak_ledge.web.types import Edge, FaceBody, FoundBody, Here, Id, Now, WebAddressBody

router = APIRouter()

Quarter = Annotated[int, Query(ge=0, le=3, description="quarter turns clockwise")]

Look = Annotated[
    str | None,
    Query(max_length=40, description="as the photo's facts tell it; original: without retouches"),
]

KEEP = {"Cache-Control": "private, max-age=31536000, immutable"}
ANEW = {"Cache-Control": "no-cache"}


@router.post("/photos", status_code=201)
def take_in(files: Annotated[list[UploadFile], File()], here: Here, now: Now) -> TakenIn:
    """Take photos in; each that is refused is told with its reason."""
    incoming = (Incoming(file.filename or "photo", file.file) for file in files)
    return photos.take_in(here, incoming, now)


@router.post("/photos/from", status_code=201, responses={200: {"model": PhotoView}})
def take_from(body: WebAddressBody, here: Here, now: Now, response: Response) -> PhotoView:
    """Take in a photo from a web address; 200 where it is here already."""
    taken, is_new = web_address.take_from(here, body.url, now)
    response.status_code = 201 if is_new else 200
    return taken


@router.get("/photos")
def some_photos(id: Annotated[list[Id], Query(max_length=500)], here: Here) -> list[PhotoView]:
    """Those of some photos that are here, in the order they are asked for."""
    return photos.some(here, id)


@router.get("/photos/{photo_id}")
def photo(photo_id: Id, here: Here) -> PhotoView:
    """A photo's facts."""
    return photos.photo_view(previews.as_looks(here, photos.find_photo(here, photo_id)))


@router.get(
    "/photos/{photo_id}/preview",
    response_class=FileResponse,
    responses=of_kind("image/jpeg", "image/png"),
)
def photo_preview(
    photo_id: Id,
    here: Here,
    edge: Edge = 1024,
    quarter: Quarter = 0,
    mirror: bool = False,
    look: Look = None,
) -> FileResponse:
    """An upright picture of a photo as it is retouched; under its newest `look` it never changes."""
    photo = previews.as_looks(here, photos.find_photo(here, photo_id), look)
    path = previews.turned_preview(here, photo, edge, quarter, mirror=mirror)
    newest = previews.look_of(photo)
    stays = look == newest and path.name.startswith(f"{photo.hash}{newest}-")
    return shown(path, KEEP if stays else ANEW)


@router.put("/photos/{photo_id}/keep-zones")
def keep_zones(photo_id: Id, keeps: Keeps, here: Here, now: Now) -> PhotoView:
    """All that must stay whole of a photo, in its upright pixels."""
    return zones.set_keeps(here, photo_id, keeps, now)


@router.post("/placements/{placement_id}/face", response_model=PlacementView | Live)
def change_face(placement_id: Id, body: FaceBody, here: Here, now: Now) -> Response:
    """Set, choose or confirm the eyes, chin and crown of a placement's photo; the crop follows them."""
    if not body.keep and isinstance(body.change, SetFace):
        return written(face.tell_face(here, placement_id, body.change, body.step))
    return written(face.change_face(here, placement_id, body.change, now, body.step))


@router.post("/jobs/{job_id}/faces/right")
def confirm_faces(job_id: Id, here: Here, now: Now) -> Confirmed:
    """Confirm the points that were surely found in every photo of a job."""
    return face.confirm_all(here, job_id, now)


@router.post("/photos/{photo_id}/keep-size", status_code=201)
def keep_photos_size(photo_id: Id, here: Here) -> SavedSizeView:
    """Keep a size like this photo in the library."""
    return sizes.keep_like(here, photo_id)


@router.post("/photos/found")
def decide_found(body: FoundBody, here: Here, now: Now) -> list[PhotoView]:
    """Take the subjects found in photos as keep zones, or refuse them."""
    return [zones.decide_found(here, id_, now, take=body.take) for id_ in body.photo_ids]
