"""The queue between machines: a list in Redis, through the queue package; JSON, never code."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any
from uuid import uuid4

from huey import RedisHuey
from huey.registry import Message as Task
from huey.serializer import Serializer
from redis import ConnectionPool
from redis.exceptions import RedisError
from typing_extensions import override

# As the package calls it.
_TASK = f"{__name__}.make"
# Bytes of a message: a photo's retouches may have many strokes.
MOST_MESSAGE_BYTES = 64_000_000


def fits(text: str, seal: str) -> bool:
    """Return whether workers take a message so large."""
    return len(json.dumps((text, seal))) <= MOST_MESSAGE_BYTES


class _Sealed(Serializer):  # type: ignore[misc]  # the package has no types
    """A task is its two texts and nothing else: what stands in a shared Redis can't name another."""

    @override
    def _serialize(self, data: Task) -> bytes:
        return json.dumps(data.args).encode()

    @override
    def _deserialize(self, data: bytes) -> Task:
        try:
            text, seal = json.loads(data) if len(data) <= MOST_MESSAGE_BYTES else ("", "")
        except (ValueError, TypeError, RecursionError):
            text, seal = "", ""
        if not isinstance(text, str) or not isinstance(seal, str):
            text, seal = "", ""
        return Task(id=uuid4().hex, name=_TASK, args=(text, seal), kwargs={})


class Post:
    """Sends messages, and takes them.

    Their name in Redis follows from the key, as several servers may share one.
    """

    def __init__(
        self, url: str, key: bytes, take: Callable[[str, str], object] = lambda text, seal: None
    ) -> None:
        # What is cut off must be noticed: without a limit a read waits for ever.
        pool = ConnectionPool.from_url(url, socket_timeout=10, socket_connect_timeout=5)
        self.huey: Any = RedisHuey(
            f"oak-ledge-{key.hex()[:12]}",
            connection_pool=pool,
            results=False,
            serializer=_Sealed(),
            read_timeout=1,
        )

        def make(text: str, seal: str) -> None:
            take(text, seal)

        self._task = self.huey.task(name="make")(make)

    def send(self, text: str, seal: str) -> bool:
        """Send a message; False where Redis is away."""
        try:
            self._task(text, seal)
        except (RedisError, OSError):
            return False
        return True

    def work(self) -> None:
        """Take message after message until the process is told to end."""
        self.huey.create_consumer(workers=1, periodic=False, max_delay=1, backoff=1.2).run()
