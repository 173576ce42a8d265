"""Standing orders: folders whose photos become files by themselves."""

from __future__ import annotations

from fastapi import APIRouter

from oak_ledge.flows.receivers import receivers
from oak_ledge.flows.watch import standing_orders
from oak_ledge.flows.watch.standing_orders import StandingOrderView
from oak_ledge.web.types import Here, Id, Now, StandingOrderBody, StandingOrderTurned

router = APIRouter()


@router.get("/standing-orders")
def every_order(here: Here) -> list[StandingOrderView]:
    """All of them, with what came of the photos that arrived last."""
    return standing_orders.every(here)


@router.post("/standing-orders", status_code=201)
def give_order(body: StandingOrderBody, here: Here, now: Now) -> StandingOrderView:
    """Watch a folder, and make files of the photos that arrive in it."""
    if body.receiver_id is not None:
        receivers.view(here, body.receiver_id)  # one that is not here is refused first
    return standing_orders.give(here, body.folder, body.size_texts, body.out, now, body.receiver_id)


@router.put("/standing-orders/{order_id}")
def turn_order(order_id: Id, body: StandingOrderTurned, here: Here) -> StandingOrderView:
    """Follow it, or pause it."""
    return standing_orders.set_on(here, order_id, on=body.on)


@router.delete("/standing-orders/{order_id}", status_code=204)
def end_order(order_id: Id, here: Here) -> None:
    """End it; photos and files stay."""
    standing_orders.end(here, order_id)
