"""More of the scene: what is painted over and copied on photos, and the grounds that continue them."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

from fastapi import APIRouter, Path as InPath, Query
from fastapi.responses import FileResponse, JSONResponse, Response

from oak_ledge.core.photos.retouches import TRIES
from oak_ledge.flows.photos.tries import TryView
from oak_ledge.flows.scene import brushing, cut_outs, grounds, retouch_tries as tries, retouches
from oak_ledge.flows.scene.brushing import Brushed
from oak_ledge.flows.scene.cut_outs import CutOutBody, CutOuts
from oak_ledge.flows.scene.retouches import RetouchesBody, RetouchesView
from oak_ledge.web.answers import Refusal
from oak_ledge.web.api.answer import of_kind
from oak_ledge.web.types import CutOutsBody, Edge, Here, Id, Now

router = APIRouter()

Try = Annotated[int, InPath(ge=1, le=TRIES, description="which try")]
Seed = Annotated[
    int | None, Query(ge=1, le=10_000, description="another gives four others; left out, as taken")
]
Number = Annotated[int, InPath(ge=0, le=10**9, description="the retouch's own number")]

NOT_YET = "It is being made; ask again in a moment."
PICTURE: dict[int | str, dict[str, Any]] = {
    **of_kind("image/jpeg"),
    202: {"model": Refusal, "description": "It is not made yet; asking has begun it."},
}


def _shown(path: Path | None) -> Response:
    if path is None:
        return JSONResponse({"detail": NOT_YET}, 202, headers={"Retry-After": "1"})
    return FileResponse(path, media_type="image/jpeg", headers={"Cache-Control": "no-store"})


@router.get("/photos/{photo_id}/retouches")
def photo_retouches(photo_id: Id, here: Here) -> RetouchesView:
    """Of a photo that is in one job, or none."""
    return retouches.view(here, photo_id)


@router.put("/photos/{photo_id}/retouches")
def put_retouches(photo_id: Id, body: RetouchesBody, here: Here, now: Now) -> RetouchesView:
    """All retouches of a photo that is in one job or none, or in the job of the piece that is named."""
    return retouches.put(here, photo_id, body, now)


@router.get("/photos/{photo_id}/retouches/{number}/tries")
def retouch_tries(
    photo_id: Id, number: Number, here: Here, now: Now, seed: Seed = None
) -> list[TryView]:
    """How far the fills of a painted-over place are, the best first; asking begins the work."""
    return tries.tries(here, photo_id, number, now, seed)


@router.delete("/photos/{photo_id}/retouches/{number}/tries", status_code=204)
def stop_retouch_tries(photo_id: Id, number: Number, here: Here) -> None:
    """Make no more of them; what is made stays."""
    tries.cancel(here, photo_id, number)


@router.get(
    "/photos/{photo_id}/retouches/{number}/tries/{attempt}",
    response_class=FileResponse,
    responses=PICTURE,
)
def retouch_try(
    photo_id: Id,
    number: Number,
    attempt: Try,
    here: Here,
    now: Now,
    edge: Edge = 640,
    seed: Seed = None,
) -> Response:
    """The place of a retouch as a try fills it."""
    return _shown(tries.picture(here, photo_id, number, attempt, now, seed))


@router.get("/jobs/{job_id}/photos/{photo_id}/retouches")
def job_retouches(job_id: Id, photo_id: Id, here: Here) -> RetouchesView:
    """What is painted over and copied on a photo in this job alone."""
    return retouches.view(here, photo_id, job_id)


@router.put("/jobs/{job_id}/photos/{photo_id}/retouches")
def put_job_retouches(
    job_id: Id, photo_id: Id, body: RetouchesBody, here: Here, now: Now
) -> RetouchesView:
    """All retouches of a photo in this job; one that names the piece it is done on is a step of its history."""
    return retouches.put(here, photo_id, body, now, job_id)


@router.post("/jobs/{job_id}/photos/{photo_id}/retouches/everywhere")
def retouches_everywhere(job_id: Id, photo_id: Id, here: Here, now: Now) -> RetouchesView:
    """Copies them to the other jobs that hold the photo, as a step of each that can be undone."""
    return retouches.everywhere(here, photo_id, job_id, now)


@router.get("/jobs/{job_id}/photos/{photo_id}/retouches/{number}/tries")
def job_retouch_tries(
    job_id: Id, photo_id: Id, number: Number, here: Here, now: Now, seed: Seed = None
) -> list[TryView]:
    """How far the fills of a painted-over place are, the best first; asking begins the work."""
    return tries.tries(here, photo_id, number, now, seed, job_id)


@router.delete("/jobs/{job_id}/photos/{photo_id}/retouches/{number}/tries", status_code=204)
def stop_job_retouch_tries(job_id: Id, photo_id: Id, number: Number, here: Here) -> None:
    """Make no more of them; what is made stays."""
    tries.cancel(here, photo_id, number, job_id)


@router.get(
    "/jobs/{job_id}/photos/{photo_id}/retouches/{number}/tries/{attempt}",
    response_class=FileResponse,
    responses=PICTURE,
)
def job_retouch_try(
    job_id: Id,
    photo_id: Id,
    number: Number,
    attempt: Try,
    here: Here,
    now: Now,
    edge: Edge = 640,
    seed: Seed = None,
) -> Response:
    """The place of a retouch as a try fills it."""
    return _shown(tries.picture(here, photo_id, number, attempt, now, seed, job_id))


@router.post("/placements/{placement_id}/retouches", status_code=201)
def brush(placement_id: Id, body: Brushed, here: Here, now: Now) -> RetouchesView:
    """Paint over, or copy texture, where a hand brushed on this piece's photo."""
    return brushing.brush(here, placement_id, body, now)


@router.post("/placements/{placement_id}/cut-out", status_code=201)
def cut_out(placement_id: Id, body: CutOutBody, here: Here, now: Now) -> RetouchesView:
    """Cut a thing out of this piece's photo, or brush more to or from it."""
    return cut_outs.cut_out(here, placement_id, body, now)


@router.post("/jobs/{job_id}/cut-outs", status_code=201)
def cut_out_of_all(job_id: Id, body: CutOutsBody, here: Here, now: Now) -> CutOuts:
    """Cut a thing out of the photo of each of some pieces; those that are cut out stay as they are."""
    return cut_outs.cut_out_of_all(here, job_id, body.placement_ids, now)


@router.get("/placements/{placement_id}/plain-ground")
def plain_ground(placement_id: Id, here: Here) -> grounds.Plain:
    """The best ground for a piece that is not made up."""
    return grounds.plain(here, placement_id)


@router.get(
    "/placements/{placement_id}/plain-ground/picture",
    response_class=FileResponse,
    responses=of_kind("image/jpeg"),
)
def plain_ground_picture(placement_id: Id, here: Here, edge: Edge = 640) -> Response:
    """The piece on its plain ground, to compare tries with."""
    return _shown(grounds.plain_picture(here, placement_id, edge))


@router.get("/placements/{placement_id}/grounds")
def placement_grounds(placement_id: Id, here: Here, now: Now, seed: Seed = None) -> list[TryView]:
    """How far the grounds that continue a piece are, the best first; asking begins the work."""
    return grounds.tries(here, placement_id, now, seed)


@router.delete("/placements/{placement_id}/grounds", status_code=204)
def stop_grounds(placement_id: Id, here: Here) -> None:
    """Make no more of them; what is made stays."""
    grounds.cancel(here, placement_id)


@router.get(
    "/placements/{placement_id}/grounds/{attempt}",
    response_class=FileResponse,
    responses=PICTURE,
)
def placement_ground(
    placement_id: Id, attempt: Try, here: Here, edge: Edge = 640, seed: Seed = None
) -> Response:
    """The piece with one of its grounds."""
    return _shown(grounds.picture(here, placement_id, attempt, edge, seed))
