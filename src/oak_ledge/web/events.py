"""A delivery told again each time something of it changed."""

from __future__ import annotations

from collections.abc import AsyncGenerator
from datetime import UTC, datetime

import anyio
from anyio.to_thread import run_sync

from oak_ledge.flows.delivery import deliveries
from oak_ledge.flows.delivery.deliveries import DeliveryView
from oak_ledge.flows.errors import NotFoundError
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.errors import StoreError

# Seconds between two looks.
EVERY = 0.3


async def events_of(workspace: Workspace, delivery_id: int) -> AsyncGenerator[DeliveryView]:
    """Stream a delivery until it is done or stopped; a reader that leaves ends it.

    Between two looks it holds no thread of the server.
    """
    last = None
    while True:
        moment = datetime.now(UTC)  # noqa: TID251 - web's clock
        try:
            delivery = await run_sync(deliveries.view, workspace, delivery_id, moment)
        except (NotFoundError, StoreError):
            return  # the page asks again, and is told why
        if delivery != last:
            last = delivery
            yield delivery
        if delivery.state in ("done", "stopped"):
            return
        await anyio.sleep(EVERY)
