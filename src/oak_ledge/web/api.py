"""The JSON interface under /api: each route takes parsed values, calls one flow, answers."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Literal

from fastapi import APIRouter, File, Query, UploadFile
from fastapi.responses import FileResponse, Response, StreamingResponse
from pydantic import BaseModel

from oak_ledge.core.detail import Advice
from oak_ledge.core.lines import KINDS, LineKind, lines
from oak_ledge.core.pixels.methods import Method
from oak_ledge.core.pixels.sheets import Paper
from oak_ledge.core.pixels.tones import Edge as Side
from oak_ledge.core.placements import Placement
from oak_ledge.core.zones import Keeps
from oak_ledge.flows import (
    batches,
    close,
    copying,
    deliveries,
    desks,
    finding,
    jobs,
    ledges,
    others,
    photos,
    placements,
    previews,
    quick,
    sizes,
    surviving,
    zones,
)
from oak_ledge.flows.batches import Done
from oak_ledge.flows.copying import Copied
from oak_ledge.flows.deliveries import DeliveryView, Planned
from oak_ledge.flows.desks import DeskAnswer, DeskView
from oak_ledge.flows.jobs import JobBrief, JobChange, JobView
from oak_ledge.flows.ledges import Overview
from oak_ledge.flows.others import OtherShape
from oak_ledge.flows.photos import Incoming, PhotoView, TakenIn
from oak_ledge.flows.placements import Live, PlacementView
from oak_ledge.flows.previews import Beyond, Tone
from oak_ledge.flows.quick import Quick, QuickAsked
from oak_ledge.flows.sizes import SavedSizeView, SizeAsked, SizeChange, SizeRead
from oak_ledge.flows.surviving import Survival
from oak_ledge.flows.zones import Marked
from oak_ledge.web.events import events_of
from oak_ledge.web.types import (
    BatchAsked,
    CopyAsked,
    DeliveryAsked,
    DeskAsked,
    DeskStands,
    FoundAsked,
    GestureAsked,
    Here,
    JobAsked,
    MembersAsked,
    Mend,
    Now,
    RawBody,
    StepAsked,
)


def _written(told: BaseModel, status: int = 200) -> Response:
    """Write an answer out: the framework's second look at it would cost a third of a frame, and
    seconds for a large job.
    """
    return Response(told.model_dump_json(), status, media_type="application/json")


LETTERS = Path(__file__).parent / "static" / "fonts" / "zilla-slab-latin-600-normal.woff2"
router = APIRouter(prefix="/api")
Edge = Annotated[int, Query(ge=16, le=4096, description="longer edge in pixels")]
Quarter = Annotated[int, Query(ge=0, le=3, description="quarter turns clockwise")]
KEEP = {"Cache-Control": "private, max-age=31536000, immutable"}  # originals never change


@router.post("/photos", status_code=201)
def take_in(files: Annotated[list[UploadFile], File()], here: Here, now: Now) -> TakenIn:
    incoming = (Incoming(file.filename or "photo", file.file) for file in files)
    return photos.take_in(here, incoming, now)


@router.get("/photos/{photo_id}")
def photo(photo_id: int, here: Here) -> PhotoView:
    return photos.photo_view(photos.find_photo(here, photo_id))


@router.get("/photos/{photo_id}/preview", response_class=FileResponse)
def photo_preview(
    photo_id: int, here: Here, edge: Edge = 1024, quarter: Quarter = 0, mirror: bool = False
) -> FileResponse:
    photo = photos.find_photo(here, photo_id)
    path = previews.held_preview(here, photo, edge, quarter=quarter, mirror=mirror)
    return FileResponse(path, media_type="image/jpeg", headers=KEEP)


@router.put("/photos/{photo_id}/keep-zones")
def keep_zones(photo_id: int, keeps: Keeps, here: Here, now: Now) -> PhotoView:
    """All that must stay whole of a photo, in its upright pixels."""
    return zones.set_keeps(here, photo_id, keeps, now)


@router.post("/placements/{placement_id}/keep-zones", status_code=201)
def mark_zone(placement_id: int, drawn: Marked, here: Here, now: Now) -> PlacementView:
    """Mark a zone or a line on the photo, drawn where this placement's crop is meant."""
    return zones.mark(here, placement_id, drawn, now)


@router.delete("/placements/{placement_id}/keep-zones")
def forget_zone(
    placement_id: int, here: Here, now: Now, number: Annotated[int | None, Query(ge=0)] = None
) -> PlacementView:
    """Forget one zone or line of the photo, or all."""
    return zones.forget(here, placement_id, number, now)


@router.post("/photos/{photo_id}/keep-size", status_code=201)
def keep_photos_size(photo_id: int, here: Here) -> SavedSizeView:
    """Keep a size like this photo in the library."""
    return sizes.keep_like(here, photo_id)


@router.get("/sizes")
def every_size(here: Here) -> list[SavedSizeView]:
    return sizes.every(here)


@router.post("/sizes", status_code=201)
def add_size(asked: SizeAsked, here: Here) -> SavedSizeView:
    return sizes.add(here, asked)


@router.get("/sizes/file")
def export_sizes(here: Here, kind: Literal["json", "csv"] = "json") -> Response:
    media = {"json": "application/json", "csv": "text/csv; charset=utf-8"}[kind]
    name = {"Content-Disposition": f'attachment; filename="sizes.{kind}"'}
    return Response(sizes.export(here, kind), media_type=media, headers=name)


@router.post("/sizes/file")
def take_sizes_in(file: RawBody, here: Here, only_tell: bool = False) -> sizes.TakenIn:
    """Take a library in, sent as the body; with `only_tell` it is only looked at."""
    return sizes.take_in(here, file.decode("utf-8", "replace"), only_tell=only_tell)


@router.get("/sizes/{size_id}")
def size(size_id: int, here: Here) -> SavedSizeView:
    return sizes.view(here, size_id)


@router.put("/sizes/{size_id}")
def change_size(size_id: int, asked: SizeChange, here: Here) -> SavedSizeView:
    return sizes.change(here, size_id, asked)


@router.delete("/sizes/{size_id}")
def delete_size(size_id: int, here: Here, now: Now) -> SavedSizeView:
    return sizes.delete(here, size_id, now)


@router.post("/sizes/{size_id}/restore")
def restore_size(size_id: int, here: Here) -> SavedSizeView:
    return sizes.restore(here, size_id)


@router.post("/sizes/{size_id}/copy", status_code=201)
def copy_size(size_id: int, here: Here, twin: bool = False) -> SavedSizeView:
    return sizes.copy(here, size_id, twin=twin)


@router.post("/sizes/read")
def read_size(asked: SizeAsked) -> SizeRead:
    """Read a text as a size; nothing is kept."""
    return sizes.read(asked)


@router.post("/quick")
def tell_quick(asked: QuickAsked, here: Here) -> list[Quick]:
    """What each photo would become on one size: pixels and estimated bytes; nothing is kept."""
    return quick.tell(here, asked)


@router.post("/jobs", status_code=201, response_model=JobView)
def start_job(asked: JobAsked, here: Here, now: Now) -> Response:
    job_id = jobs.start(
        here, asked.name, asked.photo_ids, asked.size_ids, asked.size_texts, now, asked.file
    )
    return _written(jobs.view(here, job_id), 201)


@router.get("/jobs")
def every_job(here: Here, away: bool = False) -> list[JobView]:
    """The jobs in hand, the one last touched first; or those put away."""
    return jobs.every(here, away=away)


@router.get("/jobs/{job_id}", response_model=JobView)
def job(job_id: int, here: Here) -> Response:
    return _written(jobs.view(here, job_id))


@router.put("/jobs/{job_id}")
def change_job(job_id: int, asked: JobChange, here: Here, now: Now) -> JobBrief:
    """Change a job's name, notes, due date, order, or whether it is put away."""
    return jobs.change(here, job_id, asked, now)


@router.delete("/jobs/{job_id}")
def delete_job(job_id: int, here: Here, now: Now) -> JobBrief:
    """Delete a job; for thirty days it can be brought back."""
    return jobs.delete(here, job_id, now)


@router.post("/jobs/{job_id}/restore")
def restore_job(job_id: int, here: Here, now: Now) -> JobBrief:
    return jobs.restore(here, job_id, now)


@router.post("/jobs/{job_id}/copy", status_code=201)
def copy_job(job_id: int, here: Here, now: Now) -> JobView:
    """Start another job with the same photos and sizes, all laid anew."""
    return jobs.view(here, jobs.copy(here, job_id, now))


@router.post("/jobs/{job_id}/members", status_code=201)
def add_members(job_id: int, asked: MembersAsked, here: Here, now: Now) -> JobView:
    """Add photos and sizes; what was taken out comes back as it was left."""
    return jobs.add(here, job_id, asked.photo_ids, asked.size_ids, asked.size_texts, now)


@router.delete("/jobs/{job_id}/members/{of}/{place}")
def take_out(
    job_id: int, of: Literal["photo", "size"], place: int, here: Here, now: Now
) -> JobView:
    """Take a photo or a size out of a job, by its place in it; added again it comes back."""
    return jobs.take_out(here, job_id, of, place, now)


@router.post("/jobs/{job_id}/batch")
def batch(job_id: int, asked: BatchAsked, here: Here, now: Now) -> Done:
    """Do one thing to many placements, as one step that can be undone."""
    return batches.do(
        here, job_id, asked.placement_ids, asked.doing, now, only_tell=asked.only_tell
    )


@router.post("/jobs/{job_id}/batch/undo")
def undo_batch(job_id: int, here: Here, now: Now) -> Done:
    """Undo what was last done to many at once; what was worked on since stays."""
    return batches.undo(here, job_id, now)


@router.get("/jobs/{job_id}/overview")
def overview(job_id: int, here: Here) -> Overview:
    """How far all pieces of a job are, and which notes want a look."""
    return ledges.overview(here, job_id)


@router.get("/jobs/{job_id}/shown")
def shown(job_id: int, here: Here, show: ledges.Show = "all") -> list[int]:
    """The placements a ledge shows: all, those to look at, or those with a note."""
    return ledges.ids_shown(here, job_id, show)


@router.get("/jobs/{job_id}/survival")
def survival(job_id: int, here: Here) -> list[Survival]:
    """What of every photo lies inside all its pieces, and which sizes can't keep its zones."""
    return surviving.survivals(here, job_id)


@router.get("/jobs/{job_id}/framing-card", response_class=Response)
def framing_card(
    job_id: int, here: Here, camera: str = "3:2", kind: Literal["png", "pdf"] = "pdf"
) -> Response:
    """The sizes' outlines inside a camera's picture, to take along."""
    media = {"png": "image/png", "pdf": "application/pdf"}[kind]
    name = {"Content-Disposition": f'attachment; filename="framing-card.{kind}"'}
    card = surviving.framing_card(here, job_id, camera, kind, LETTERS)
    return Response(card, media_type=media, headers=name)


@router.post("/photos/found")
def decide_found(asked: FoundAsked, here: Here, now: Now) -> list[PhotoView]:
    """Take the subjects found in photos as keep zones, or refuse them."""
    decide = finding.take if asked.take else finding.refuse
    return decide(here, asked.photo_ids, now)


@router.get("/placements/{placement_id}")
def placement(placement_id: int, here: Here, weigh: bool = False) -> PlacementView:
    """One placement; to `weigh` its photo first, for the file's estimated bytes, takes a moment."""
    return placements.view(here, placement_id, weigh=weigh)


@router.put("/placements/{placement_id}")
def put_placement(placement_id: int, asked: Placement, here: Here, now: Now) -> PlacementView:
    return placements.put(here, placement_id, asked, now)


@router.post("/placements/{placement_id}/gesture", response_model=PlacementView | Live)
def gesture(placement_id: int, asked: GestureAsked, here: Here, now: Now) -> Response:
    told = (
        placements.keep(here, placement_id, asked.gesture, now)
        if asked.keep
        else placements.tell(here, placement_id, asked.gesture)
    )
    return _written(told)


@router.post("/placements/{placement_id}/undo")
def undo(placement_id: int, here: Here, now: Now) -> PlacementView:
    return placements.walk(here, placement_id, -1, now)


@router.post("/placements/{placement_id}/redo")
def redo(placement_id: int, here: Here, now: Now) -> PlacementView:
    return placements.walk(here, placement_id, 1, now)


@router.post("/placements/{placement_id}/step")
def go_to_step(placement_id: int, asked: StepAsked, here: Here, now: Now) -> PlacementView:
    """Go to any step of the history, by its number; those after it can still be redone."""
    return placements.go_to(here, placement_id, asked.step, now)


@router.post("/placements/{placement_id}/mend")
def mend(placement_id: int, asked: Mend, here: Here, now: Now) -> PlacementView:
    return placements.mend(here, placement_id, asked.code, now)


@router.post("/placements/{placement_id}/keep-size", status_code=201)
def keep_size(placement_id: int, here: Here) -> SavedSizeView:
    return sizes.keep_of(here, placement_id)


@router.post("/placements/{placement_id}/settle")
def settle(placement_id: int, here: Here, now: Now) -> PlacementView:
    return placements.settle(here, placement_id, now)


@router.get("/placements/{placement_id}/preview", response_class=FileResponse)
def piece_preview(
    placement_id: int, here: Here, edge: Edge = 900, marks: bool = False
) -> FileResponse:
    """The piece as it will look; with `marks`, what its profile cannot hold is striped."""
    path = previews.piece_preview(here, placements.load(here, placement_id), edge, marks=marks)
    return FileResponse(path, media_type="image/jpeg", headers={"Cache-Control": "no-store"})


@router.get("/placements/{placement_id}/beyond")
def beyond_profile(placement_id: int, here: Here) -> Beyond:
    """What of the piece its file's profile cannot hold."""
    return previews.beyond_profile(here, placements.load(here, placement_id))


Share = Annotated[float, Query(ge=0, le=1)]


@router.get("/placements/{placement_id}/tone")
def tone(
    placement_id: int, here: Here, x: float = 0.5, y: float = 0.5, edge: Side | None = None
) -> Tone:
    """The photo's colour about a point, by shares of what its crop lies on, or along an edge."""
    placed = placements.load(here, placement_id)
    if edge is not None:
        return previews.tone_of_edge(here, placed, edge)
    return previews.tone_at(here, placed, x, y)


@router.get("/placements/{placement_id}/copies")
def copies(placement_id: int, here: Here) -> list[Copied]:
    """How the job's other placements would lie if they lay like this one; nothing is changed."""
    return copying.preview(here, placement_id)


@router.post("/placements/{placement_id}/copies")
def copy_lying(placement_id: int, asked: CopyAsked, here: Here, now: Now) -> list[Copied]:
    """Lay the chosen placements like this one, one undoable step each."""
    return copying.copy(here, placement_id, asked.placement_ids, now)


@router.get("/placements/{placement_id}/shapes")
def other_shapes(placement_id: int, here: Here) -> list[OtherShape]:
    """The job's other sizes and common ratios, laid over this photo."""
    return others.shapes(here, placement_id)


class LinesDrawn(BaseModel):
    """Composition lines as SVG paths in the unit square, and how many ways of them differ."""

    name: str
    ways: int
    paths: list[str]


@router.get("/lines/{kind}")
def composition_lines(
    kind: LineKind, ratio: Annotated[float, Query(gt=0.001, lt=1000)], way: int = 0
) -> LinesDrawn:
    """Composition lines for a crop of a ratio, width ÷ height."""
    found = KINDS[kind]
    return LinesDrawn(name=found.name, ways=found.ways, paths=lines(kind, ratio, way))


SpotEdge = Annotated[int, Query(ge=32, le=600, description="output pixels")]


@router.get("/placements/{placement_id}/methods")
def methods(
    placement_id: int, here: Here, x: Share = 0.5, y: Share = 0.5, edge: SpotEdge = 220
) -> close.Spot:
    """The resampling methods on a spot of the piece, and how they differ there, in words."""
    return close.spot(here, placement_id, x, y, edge)


@router.get("/placements/{placement_id}/methods/{method}", response_class=Response)
def method_picture(
    placement_id: int, method: Method, here: Here, x: Share = 0.5, y: Share = 0.5,
    edge: SpotEdge = 220,
) -> Response:  # fmt: skip
    picture = close.spot_picture(here, placement_id, x, y, edge, method)
    return Response(picture, media_type="image/jpeg", headers={"Cache-Control": "no-store"})


@router.get("/placements/{placement_id}/advice")
def advice(placement_id: int, here: Here) -> Advice:
    """How much resolution is enough for this crop on this size, and why."""
    return close.advice(here, placement_id)


@router.get("/placements/{placement_id}/plane", response_class=FileResponse)
def plane_preview(placement_id: int, here: Here, edge: Edge = 2048) -> FileResponse:
    """The whole plane that a placement's four corners define, squared up."""
    path = previews.plane_preview(here, placements.load(here, placement_id), edge)
    return FileResponse(path, media_type="image/jpeg", headers={"Cache-Control": "no-store"})


@router.get("/jobs/{job_id}/deliveries/plan")
def plan_delivery(job_id: int, here: Here) -> list[Planned]:
    """What would be made of a job, and what is held or as it was when last made; nothing is."""
    return deliveries.plan(here, job_id, None)


@router.post("/jobs/{job_id}/deliveries", status_code=201)
def deliver(job_id: int, asked: DeliveryAsked, here: Here, now: Now) -> DeliveryView:
    return deliveries.deliver(
        here, job_id, asked.placement_ids, now, only_changed=asked.only_changed
    )


@router.get("/deliveries/{delivery_id}")
def delivery(delivery_id: int, here: Here, now: Now) -> DeliveryView:
    return deliveries.view(here, delivery_id, now)


@router.get("/deliveries/{delivery_id}/events", response_class=StreamingResponse)
def delivery_events(delivery_id: int, here: Here) -> StreamingResponse:
    """The delivery as it goes on, as server-sent events: whole each time something changed."""
    deliveries.view(here, delivery_id)
    return StreamingResponse(events_of(here, delivery_id), media_type="text/event-stream")


@router.post("/deliveries/{delivery_id}/pause")
def pause_delivery(delivery_id: int, here: Here, now: Now) -> DeliveryView:
    """Begin no further file until it goes on."""
    return deliveries.pause(here, delivery_id, now)


@router.post("/deliveries/{delivery_id}/go-on")
def go_on_with_delivery(delivery_id: int, here: Here, now: Now) -> DeliveryView:
    return deliveries.go_on(here, delivery_id, now)


@router.post("/deliveries/{delivery_id}/stop")
def stop_delivery(delivery_id: int, here: Here, now: Now) -> DeliveryView:
    """Leave what has not been begun; what is made stays made."""
    return deliveries.stop(here, delivery_id, now)


@router.post("/deliveries/{delivery_id}/files/{file_id}/again")
def make_again(delivery_id: int, file_id: int, here: Here, now: Now) -> DeliveryView:
    """Make one file once more, as its piece lies now."""
    return deliveries.again(here, delivery_id, file_id, now)


@router.get("/deliveries/{delivery_id}/files/{name}", response_class=FileResponse)
def made_file(delivery_id: int, name: str, here: Here) -> FileResponse:
    path = deliveries.file_path(here, delivery_id, name)
    return FileResponse(path, filename=name, content_disposition_type="attachment")


@router.get("/deliveries/{delivery_id}/archive", response_class=StreamingResponse)
def archive(delivery_id: int, here: Here) -> StreamingResponse:
    """All files made, with their proof sheet, as one archive written while it is read."""
    name = {"Content-Disposition": f'attachment; filename="delivery-{delivery_id}.zip"'}
    parts = deliveries.archive(here, delivery_id)
    return StreamingResponse(parts, media_type="application/zip", headers=name)


@router.get("/deliveries/{delivery_id}/proof-sheet", response_class=Response)
def proof_sheet(delivery_id: int, here: Here, kind: Literal["csv", "json"] = "csv") -> Response:
    """Asked against measured of every file."""
    found = deliveries.view(here, delivery_id)
    name = {"Content-Disposition": f'attachment; filename="proof-{delivery_id}.{kind}"'}
    if kind == "json":
        return Response(found.model_dump_json(), media_type="application/json", headers=name)
    return Response(deliveries.proof_sheet(found), media_type="text/csv", headers=name)


@router.get("/deliveries/{delivery_id}/contact-sheet", response_class=Response)
def contact_sheet(delivery_id: int, here: Here, paper: Paper = "a4") -> Response:
    """Small pictures of all files made, with their figures, as PDF."""
    name = {"Content-Disposition": f'attachment; filename="contact-sheet-{delivery_id}.pdf"'}
    sheet = deliveries.contact_sheet(here, delivery_id, paper, LETTERS)
    return Response(sheet, media_type="application/pdf", headers=name)


@router.get("/desks")
def every_desk(here: Here) -> list[DeskView]:
    """The stand-in receivers: what they want, and how they stand."""
    return desks.every(here)


@router.put("/desks/{name}")
def stand_desk(name: str, asked: DeskStands, here: Here) -> DeskView:
    """Switch a fault on or off at a desk, or reset one that hangs."""
    return desks.stand(here, name, asked.fault, reset=asked.reset)


@router.post("/desks/{name}/rehearse")
def rehearse(name: str, asked: DeskAsked, here: Here) -> DeskAnswer:
    """What a desk would answer to a delivery's files; nothing is sent."""
    return desks.rehearse(here, name, asked.delivery_id)


@router.post("/desks/{name}/send")
def send(name: str, asked: DeskAsked, here: Here, now: Now) -> DeskAnswer:
    """Hand a delivery's files to a desk; what it accepted already is not sent twice."""
    return desks.send(here, name, asked.delivery_id, now, unchecked=asked.unchecked)
