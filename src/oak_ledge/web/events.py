"""Server-sent events (WHATWG HTML, 9.2): a delivery told again each time something of it changed."""

from __future__ import annotations

import time
from collections.abc import Iterator
from datetime import UTC, datetime

from oak_ledge.flows import deliveries
from oak_ledge.flows.workspace import Workspace

EVERY = 0.3  # seconds between two looks
QUIET = 15.0  # after so many a comment is sent, so that nothing between takes the line for dead


def events_of(workspace: Workspace, delivery_id: int) -> Iterator[str]:
    """Tell a delivery until it is done or stopped; a reader that is gone ends it."""
    told, silent = "", 0.0
    while True:
        found = deliveries.view(workspace, delivery_id, datetime.now(UTC))  # noqa: TID251 - web's clock
        now = found.model_dump_json()
        if now != told:
            told, silent = now, 0.0
            yield f"data: {now}\n\n"
        elif silent >= QUIET:
            silent = 0.0
            yield ": still here\n\n"
        if found.state in ("done", "stopped"):
            return
        time.sleep(EVERY)
        silent += EVERY
