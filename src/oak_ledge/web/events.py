"""Server-sent events (WHATWG HTML, 9.2): a delivery told again each time something of it changed."""

from __future__ import annotations

from collections.abc import AsyncIterator
from datetime import UTC, datetime

import anyio
from anyio.to_thread import run_sync

from oak_ledge.flows.delivery import deliveries
from oak_ledge.flows.workspace import NotFoundError, Workspace
from oak_ledge.store.errors import StoreError

EVERY = 0.3  # seconds between two looks
QUIET = 15.0  # after so many a comment is sent, so that nothing between takes the line for dead


async def events_of(workspace: Workspace, delivery_id: int) -> AsyncIterator[str]:
    """Tell a delivery until it is done or stopped; a reader that is gone ends it.

    Between two looks it holds no thread of the server.
    """
    sent, silent = "", 0.0
    while True:
        moment = datetime.now(UTC)  # noqa: TID251 - web's clock
        try:
            found = await run_sync(deliveries.view, workspace, delivery_id, moment)
        except (NotFoundError, StoreError):
            return  # the page asks again, and is told why
        now = found.model_dump_json()
        if now != sent:
            sent, silent = now, 0.0
            yield f"data: {now}\n\n"
        elif silent >= QUIET:
            silent = 0.0
            yield ": still here\n\n"
        if found.state in ("done", "stopped"):
            return
        await anyio.sleep(EVERY)
        silent += EVERY
