"""Standing orders: folders whose photos become files by themselves."""

from __future__ import annotations

from fastapi import APIRouter

from oak_ledge.flows.watch import orders
from oak_ledge.flows.watch.orders import StandingOrderView
from oak_ledge.web.types import Here, Id, Now, StandingOrderAsked, StandingOrderTurned

router = APIRouter()


@router.get("/standing-orders")
def every_order(here: Here) -> list[StandingOrderView]:
    """All of them, with what came of the photos that arrived last."""
    return orders.every(here)


@router.post("/standing-orders", status_code=201)
def give_order(asked: StandingOrderAsked, here: Here, now: Now) -> StandingOrderView:
    return orders.give(here, asked.folder, asked.size_texts, asked.out, now)


@router.put("/standing-orders/{order_id}")
def turn_order(order_id: Id, asked: StandingOrderTurned, here: Here) -> StandingOrderView:
    """Follow it, or pause it."""
    return orders.set_on(here, order_id, on=asked.on)


@router.delete("/standing-orders/{order_id}", status_code=204)
def end_order(order_id: Id, here: Here) -> None:
    """End it; photos and files stay."""
    orders.end(here, order_id)
