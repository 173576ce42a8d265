"""The stand-in receivers."""

from __future__ import annotations

from fastapi import APIRouter

from oak_ledge.flows import (
    desks,
)
from oak_ledge.flows.desks import DeskAnswer, DeskView
from oak_ledge.web.types import (
    DeskAsked,
    DeskStands,
    Here,
    Now,
)

router = APIRouter()


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
