"""Which workers on other machines are there: those that were heard of a moment ago."""

from __future__ import annotations

import threading
from dataclasses import dataclass, field
from datetime import datetime, timedelta

# So long a worker that is not heard of is taken for there.
SILENT = timedelta(seconds=15)


@dataclass
class Presence:
    """Workers by the name each gave itself; told by many threads at once."""

    _heard: dict[str, tuple[str, datetime]] = field(default_factory=dict)
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def heard(self, worker: str, machine: str, now: datetime) -> None:
        """Note that a worker said that it is there."""
        with self._lock:
            self._heard[worker] = machine, now

    def gone(self, worker: str) -> None:
        """Note that a worker said that it goes."""
        with self._lock:
            self._heard.pop(worker, None)

    def machines(self, now: datetime) -> dict[str, int]:
        """Return how many workers of each machine are there."""
        with self._lock:
            silent = [name for name, (_, last) in self._heard.items() if last < now - SILENT]
            for name in silent:
                del self._heard[name]
            there: dict[str, int] = {}
            for machine, _ in self._heard.values():
                there[machine] = there.get(machine, 0) + 1
        return there
