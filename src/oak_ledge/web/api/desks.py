"""The stand-in receivers."""

from __future__ import annotations

from fastapi import APIRouter

from oak_ledge.flows.delivery.deliveries import DeliveryView
from oak_ledge.flows.receivers import receivers
from oak_ledge.flows.receivers.receivers import DeskAnswer, DeskView
from oak_ledge.web.types import DeskBody, DeskFixBody, DeskStands, Here, Now, RehearseBody

router = APIRouter()


@router.get("/desks")
def every_desk(here: Here) -> list[DeskView]:
    """The stand-in receivers: what they want, and how they stand."""
    return receivers.every(here)


@router.put("/desks/{name}")
def stand_desk(name: str, body: DeskStands, here: Here) -> DeskView:
    """Switch a fault on or off at a desk, or reset one that hangs."""
    return receivers.stand(here, name, body.fault, reset=body.reset)


@router.post("/desks/{name}/rehearse")
def rehearse(name: str, body: RehearseBody, here: Here) -> DeskAnswer:
    """What a desk would answer to a delivery's files, or to a job's before they are made."""
    if body.job_id is not None:
        return receivers.rehearse_plan(here, name, body.job_id, body.placement_ids)
    return receivers.rehearse(here, name, body.delivery_id or 0)


@router.post("/desks/{name}/fix")
def fix(name: str, body: DeskFixBody, here: Here, now: Now) -> DeliveryView:
    """Fix a file for a desk, as one step of its piece that can be undone, and make it again."""
    return receivers.fix(here, name, body.delivery_id, body.file_id, now)


@router.post("/desks/{name}/send")
def send(name: str, body: DeskBody, here: Here, now: Now) -> DeskAnswer:
    """Hand a delivery's files to a desk; what it accepted already is not sent twice."""
    return receivers.send(here, name, body.delivery_id, now, unchecked=body.unchecked)
