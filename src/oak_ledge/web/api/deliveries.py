"""Deliveries: planned, made, followed, handed out."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import aclosing
from typing import Literal

from fastapi import APIRouter, Depends
from fastapi.responses import FileResponse, Response, StreamingResponse
from fastapi.sse import EventSourceResponse

from oak_ledge.core.files.names import Sorting
from oak_ledge.core.pixels.paper.contact_sheet import Paper
from oak_ledge.flows.delivery import deliveries, orders, pictures
from oak_ledge.flows.delivery.deliveries import DeliveryView
from oak_ledge.flows.delivery.orders import Planned
from oak_ledge.flows.export import export as handing_out
from oak_ledge.flows.export.export import Put
from oak_ledge.flows.receivers import receivers
from oak_ledge.web.answers import WRONG_CALLS_OF_A_STREAM
from oak_ledge.web.api.answer import LETTERS, attached, of_kind
from oak_ledge.web.events import events_of
from oak_ledge.web.types import DeliveryBody, Edge, Here, Id, Now

router = APIRouter()


@router.get("/jobs/{job_id}/deliveries/plan")
def plan_delivery(job_id: Id, here: Here) -> list[Planned]:
    """What would be made of a job, and what is held or as it was when last made; nothing is."""
    return orders.plan(here, job_id, None)


@router.post("/jobs/{job_id}/deliveries", status_code=201)
def deliver(job_id: Id, body: DeliveryBody, here: Here, now: Now) -> DeliveryView:
    """Make the files of a job's pieces, or of those named."""
    if body.send_to is not None:
        receivers.view(here, body.send_to)  # one that is not here is refused first
    return orders.deliver(
        here,
        job_id,
        body.placement_ids,
        now,
        only_changed=body.only_changed,
        send_to=body.send_to,
    )


@router.get("/deliveries/{delivery_id}")
def delivery(delivery_id: Id, here: Here, now: Now) -> DeliveryView:
    """A delivery as it stands."""
    return deliveries.view(here, delivery_id, now)


def known(delivery_id: Id, here: Here) -> None:
    """Refuse a delivery that isn't there before anything is answered."""
    deliveries.view(here, delivery_id, with_pieces=False)


@router.get(
    "/deliveries/{delivery_id}/events",
    response_class=EventSourceResponse,
    dependencies=[Depends(known)],
    responses=WRONG_CALLS_OF_A_STREAM,
)
async def delivery_events(delivery_id: Id, here: Here) -> AsyncIterator[DeliveryView]:
    """The delivery as it goes on, as server-sent events: whole each time something changed."""
    async with aclosing(events_of(here, delivery_id)) as events:
        async for event in events:
            yield event


@router.post("/deliveries/{delivery_id}/pause")
def pause_delivery(delivery_id: Id, here: Here, now: Now) -> DeliveryView:
    """Begin no further file until it goes on."""
    return orders.pause(here, delivery_id, now)


@router.post("/deliveries/{delivery_id}/go-on")
def go_on_with_delivery(delivery_id: Id, here: Here, now: Now) -> DeliveryView:
    """Go on with a paused delivery."""
    return orders.go_on(here, delivery_id, now)


@router.post("/deliveries/{delivery_id}/stop")
def stop_delivery(delivery_id: Id, here: Here, now: Now) -> DeliveryView:
    """Leave what has not been begun; what is made stays made."""
    return orders.stop(here, delivery_id, now)


@router.post("/deliveries/{delivery_id}/files/{file_id}/again")
def make_again(delivery_id: Id, file_id: Id, here: Here, now: Now) -> DeliveryView:
    """Make one file once more, as its piece lies now."""
    return orders.again(here, delivery_id, file_id, now)


@router.get(
    "/deliveries/{delivery_id}/files/{name}",
    response_class=FileResponse,
    responses=of_kind("image/jpeg", "image/png", "image/tiff", "image/webp", "image/avif"),
)
def made_file(delivery_id: Id, name: str, here: Here) -> FileResponse:
    """A finished file, measured once more before it is handed out."""
    path = handing_out.single(here, delivery_id, name)
    return FileResponse(path, filename=name, content_disposition_type="attachment")


@router.get(
    "/deliveries/{delivery_id}/pictures/{file_id}",
    response_class=FileResponse,
    responses=of_kind("image/jpeg"),
    name="file_picture",
)
def file_picture(delivery_id: Id, file_id: Id, here: Here, edge: Edge = 256) -> FileResponse:
    """A file as it was made, or as it was asked for until it is."""
    path = pictures.file_picture(here, delivery_id, file_id, edge)
    return FileResponse(path, media_type="image/jpeg", headers={"Cache-Control": "no-cache"})


@router.get(
    "/deliveries/{delivery_id}/archive",
    response_class=StreamingResponse,
    responses=of_kind("application/zip"),
)
def archive(
    delivery_id: Id, here: Here, by: Sorting = "none", placement: Id | None = None
) -> StreamingResponse:
    """All files made, or those of one placement, with their proof sheet, as one archive written while it is read."""
    name = attached(
        f"{handing_out.called(deliveries.view(here, delivery_id, with_pieces=False))}.zip"
    )
    parts = handing_out.archive(here, delivery_id, by, placement)
    return StreamingResponse(parts, media_type="application/zip", headers=name)


@router.post("/deliveries/{delivery_id}/folder")
def put_into_folder(delivery_id: Id, here: Here, by: Sorting = "none") -> Put:
    """Put all files made into the folder the settings name; what lies there already stays."""
    return handing_out.put_into_folder(here, delivery_id, by)


@router.get(
    "/deliveries/{delivery_id}/proof-sheet",
    response_class=Response,
    responses=of_kind("text/csv", "application/json"),
)
def proof_sheet(delivery_id: Id, here: Here, kind: Literal["csv", "json"] = "csv") -> Response:
    """Asked against measured of every file."""
    delivery = deliveries.view(here, delivery_id)
    name = attached(f"{handing_out.called(delivery)}-proof.{kind}")
    if kind == "json":
        return Response(delivery.model_dump_json(), media_type="application/json", headers=name)
    return Response(handing_out.proof_sheet(delivery), media_type="text/csv", headers=name)


@router.get(
    "/deliveries/{delivery_id}/contact-sheet",
    response_class=Response,
    responses=of_kind("application/pdf"),
)
def contact_sheet(
    delivery_id: Id, here: Here, paper: Paper = "a4", heads: bool = False
) -> Response:
    """Small pictures of all files made, with their figures, as PDF; with `heads` crown, eyes and chin as lines."""
    name = attached(
        f"{handing_out.called(deliveries.view(here, delivery_id, with_pieces=False))}-contact-sheet.pdf"
    )
    sheet = handing_out.contact_sheet(here, delivery_id, paper, LETTERS, heads=heads)
    return Response(sheet, media_type="application/pdf", headers=name)
