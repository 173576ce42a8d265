"""The queue that wakes the workers beside the server: SQLite beside the data.

A task says no more than "make what is next": what that is stands in the database, where it is claimed.
A task too many finds nothing to do, and one that was lost is asked for again after a restart.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Any

from huey import Huey, SqliteHuey
from huey.registry import Message
from huey.serializer import Serializer
from typing_extensions import override

from oak_ledge.store.database import FILE_ERRORS
from oak_ledge.store.errors import StoreError

NAME = "oak-ledge"


class _Plain(Serializer):  # type: ignore[misc]  # the package has no types
    """Messages as JSON: what stands in a file is never run as code."""

    @override
    def _serialize(self, data: Any) -> bytes:
        return json.dumps(data).encode()

    @override
    def _deserialize(self, data: bytes) -> Message:
        return Message(*json.loads(data))


class Queue:
    """Asks for work; `make_next` is what a worker of it does for each task."""

    def __init__(self, data: Path, make_next: Callable[[], object]) -> None:
        self.huey: Huey = SqliteHuey(
            NAME, filename=str(data / "queue.db"), results=False, serializer=_Plain()
        )

        def make() -> None:
            make_next()

        self._task = self.huey.task(name="make")(make)

    def ask(self, times: int) -> None:
        """Ask for so many pieces of work; a queue that is away is asked again by `ask_again`."""
        with suppress(*FILE_ERRORS):
            for _ in range(times):
                self._task()

    def work(self) -> None:
        """Take on work until the process is told to end; one piece at a time."""
        self.huey.create_consumer(workers=1, periodic=False, max_delay=0.5).run()


def open_queue(data: Path, make_next: Callable[[], object] = bool) -> Queue:
    """Open the queue of a data folder; who only asks needs no `make_next`.

    Raises
    ------
    StoreError
        If its file is damaged.
    """
    try:
        return Queue(data, make_next)
    except FILE_ERRORS as exc:
        msg = (
            f"{data / 'queue.db'} is damaged or can't be written ({exc}). It only holds requests for "
            "work, which are asked again: delete it, then start Oak Ledge again."
        )
        raise StoreError(msg) from exc
