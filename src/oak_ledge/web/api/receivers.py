"""Receivers: kept, asked, rehearsed, sent to."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, File, Form, UploadFile
from fastapi.responses import FileResponse, Response
from pydantic import JsonValue, ValidationError

from oak_ledge.flows.delivery.deliveries import DeliveryView
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.receivers import check, receivers
from oak_ledge.flows.receivers.check import Checked
from oak_ledge.flows.receivers.host_key import ShownKey, shown_key
from oak_ledge.flows.receivers.receivers import (
    ReadReceiver,
    ReceiverBody,
    ReceiverDraft,
    ReceiverView,
)
from oak_ledge.flows.sending import sendings
from oak_ledge.flows.sending.sendings import ReceivedView, SendingsView
from oak_ledge.web.api.answer import attached, of_kind
from oak_ledge.web.types import (
    CheckBody,
    Here,
    HostKeyBody,
    Id,
    Now,
    ReceiverFileBody,
    ReceiverFixBody,
    ReceiverStands,
    SendBody,
    StopBody,
)
from oak_ledge.web.wrong_calls import words_of

router = APIRouter()


@router.get("/receivers")
def every_receiver(here: Here) -> list[ReceiverView]:
    """All receivers: what they take, and how files get there."""
    return receivers.every(here)


@router.post("/receivers", status_code=201)
def add_receiver(body: ReceiverBody, here: Here) -> ReceiverView:
    """A new receiver."""
    return receivers.add(here, body.receiver)


@router.post("/receivers/read")
def read_receiver(body: dict[str, JsonValue]) -> ReadReceiver:
    """A receiver that is being written, read back in words; what can't be read yet is an answer too."""
    try:
        draft = ReceiverDraft.model_validate(body)
    except ValidationError as exc:
        trouble = words_of(exc.errors())
        return ReadReceiver(sentence="", way_words="", facts=(), trouble=trouble)
    return receivers.read_back(draft)


@router.get("/receivers/file", response_class=Response, responses=of_kind("application/json"))
def receivers_file(here: Here) -> Response:
    """All receivers as JSON, as they are exchanged; no secret is in it."""
    name = attached("receivers.json")
    return Response(receivers.export(here), media_type="application/json", headers=name)


@router.post("/receivers/file")
def take_receivers_in(body: ReceiverFileBody, here: Here) -> list[ReceiverView]:
    """The receivers of a file, all of them or none."""
    return receivers.take_in(here, body.text, replace=body.replace)


@router.get("/receivers/{receiver_id}")
def receiver(receiver_id: Id, here: Here) -> ReceiverView:
    """A receiver."""
    return receivers.view(here, receiver_id)


@router.put("/receivers/{receiver_id}")
def change_receiver(receiver_id: Id, body: ReceiverBody, here: Here) -> ReceiverView:
    """A receiver otherwise; an older version than the one that is here is answered 409."""
    return receivers.change(here, receiver_id, body)


@router.delete("/receivers/{receiver_id}")
def delete_receiver(receiver_id: Id, here: Here, now: Now) -> ReceiverView:
    """A receiver deleted; it can be brought back."""
    return receivers.delete(here, receiver_id, now)


@router.post("/receivers/{receiver_id}/restore")
def restore_receiver(receiver_id: Id, here: Here) -> ReceiverView:
    """A deleted receiver brought back."""
    return receivers.bring_back(here, receiver_id)


@router.post("/receivers/{receiver_id}/check")
def check_receiver(receiver_id: Id, body: CheckBody, here: Here) -> Checked:
    """What a receiver would say of a delivery's files, or of a job's before they are made."""
    if body.job is not None:
        return check.check_plan(here, receiver_id, body.job, body.placements)
    return check.check_delivery(here, receiver_id, body.delivery or 0)


@router.post("/receivers/check-file")
def check_one_file(
    receiver_id: Annotated[Id, Form()], file: Annotated[UploadFile, File()], here: Here
) -> Checked:
    """What a receiver would say of a file that is handed along; it is not kept."""
    with tempfile.NamedTemporaryFile() as part:
        count = 0
        while piece := file.file.read(1 << 20):
            count += len(piece)
            if count > here.limits.upload_bytes:
                msg = "This file is larger than what is taken here."
                raise RequestError(msg)
            part.write(piece)
        part.flush()
        return check.check_file(here, receiver_id, Path(part.name), file.filename or "the file")


@router.post("/receivers/{receiver_id}/fix")
def fix(receiver_id: Id, body: ReceiverFixBody, here: Here, now: Now) -> DeliveryView:
    """A file fixed for a receiver, as one step of its piece that can be undone, and made again."""
    return check.fix(here, receiver_id, body.delivery, body.file_id, now)


@router.get("/receivers/{receiver_id}/host-key")
def host_key(receiver_id: Id, here: Here) -> ShownKey:
    """The key a receiver's host shows now, and whether it is the one that is known."""
    return shown_key(here, receiver_id)


@router.put("/receivers/{receiver_id}/host-key")
def know_host(receiver_id: Id, body: HostKeyBody, here: Here) -> ReceiverView:
    """The key of a receiver's host, confirmed by a person."""
    return receivers.know_host(here, receiver_id, body.host_key, body.version)


@router.put("/receivers/{receiver_id}/rehearsal")
def rehearse(receiver_id: Id, body: ReceiverStands, here: Here) -> ReceiverView:
    """Whether files go to a receiver's stand-in, and the fault it has."""
    return receivers.rehearse(here, receiver_id, rehearsing=body.rehearsing, fault=body.fault)


@router.get("/receivers/{receiver_id}/sendings")
def received(receiver_id: Id, here: Here, now: Now) -> ReceivedView:
    """How a receiver stands: its latest files, what is left to send, what it shows."""
    return sendings.of_receiver(here, receiver_id, now)


@router.post("/receivers/{receiver_id}/pause")
def pause(receiver_id: Id, here: Here, now: Now) -> ReceivedView:
    """No further file begun for a receiver."""
    sendings.pause(here, receiver_id, paused=True)
    return sendings.of_receiver(here, receiver_id, now)


@router.post("/receivers/{receiver_id}/go-on")
def go_on(receiver_id: Id, here: Here, now: Now) -> ReceivedView:
    """A paused receiver sent to again."""
    sendings.pause(here, receiver_id, paused=False)
    return sendings.of_receiver(here, receiver_id, now)


@router.post("/receivers/{receiver_id}/stop")
def stop(receiver_id: Id, body: StopBody, here: Here, now: Now) -> ReceivedView:
    """What is not sent yet, of a delivery or all, left; what arrived stays."""
    sendings.stop(here, receiver_id, now, body.delivery)
    return sendings.of_receiver(here, receiver_id, now)


@router.get(
    "/receivers/{receiver_id}/shown",
    response_class=FileResponse,
    responses=of_kind("image/jpeg", "image/png"),
)
def shown(receiver_id: Id, here: Here) -> FileResponse:
    """The last picture a receiver accepted, as it arrived."""
    path = sendings.shown_file(here, receiver_id)
    if path is None:
        msg = "Nothing arrived there yet."
        raise NotFoundError(msg)
    return FileResponse(path, headers={"Cache-Control": "no-cache"})


@router.post("/deliveries/{delivery_id}/send")
def send(delivery_id: Id, body: SendBody, here: Here, now: Now) -> SendingsView:
    """A delivery's files handed over to a receiver; what it accepted before is not sent again."""
    return sendings.send(here, body.receiver_id, delivery_id, now, again=body.again)


@router.get("/deliveries/{delivery_id}/sendings")
def sendings_of(delivery_id: Id, here: Here, now: Now) -> SendingsView:
    """What came of a delivery's files at its receivers."""
    return sendings.of_delivery(here, delivery_id, now)
