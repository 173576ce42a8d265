"""What arrives at a stand-in: measured, judged by its rules, put in its place whole, or refused."""

from __future__ import annotations

import threading
from dataclasses import dataclass, field
from pathlib import Path
from typing import Literal

from oak_ledge.core.errors import CoreError
from oak_ledge.core.pixels.prove.measure import measure
from oak_ledge.core.pixels.subject.dropper import one_colour_around
from oak_ledge.core.receivers.answer import Parcel, asked_of_receiver
from oak_ledge.core.receivers.takes import Takes

Fault = Literal["slow", "refuse", "break-off"]
# Seconds that a slow stand-in takes for each file.
SLOW = 1.2
CLOSED = "nothing is taken today"
# A file while it arrives; it is no one's yet.
ARRIVING = ".part"


@dataclass
class Inbox:
    """A stand-in's folder, its rules, and the fault that is switched on."""

    folder: Path
    takes: Takes
    fault: Fault | None = None
    _begun: int = 0
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def begins(self) -> bool:
        """Note that a file begins to arrive; whether the line shall drop in the middle of it."""
        with self._lock:
            self._begun += 1
            return self.fault == "break-off" and self._begun % 2 == 0

    def judge(self, arrived: Path, name: str) -> tuple[str, ...]:
        """Return why a file that arrived is not taken; nothing where it is."""
        if self.fault == "refuse":
            return (CLOSED,)
        try:
            measured = measure(arrived)
        except (CoreError, OSError):
            return ("it is no picture that can be read",)
        number = self._place_of(name)
        plain = None
        if number == 1 and self.takes.first_on_plain_ground:
            plain = one_colour_around(arrived)
        return asked_of_receiver(self.takes, Parcel(measured, number, plain)).words

    def take(self, arrived: Path, name: str) -> int:
        """Put a file in its place, over one of the same name; return its number among all."""
        number = self._place_of(name)
        arrived.replace(self.folder / name)
        return number

    def _place_of(self, name: str) -> int:
        """Return which file it is among those that are here, in the order they came."""
        there = sorted(
            (path for path in self.folder.iterdir() if path.is_file() and is_shown(path.name)),
            key=lambda path: (path.stat().st_mtime_ns, path.name),
        )
        names = [path.name for path in there]
        return names.index(name) + 1 if name in names else len(names) + 1


def is_shown(name: str) -> bool:
    """Return whether a name is that of a file that arrived whole."""
    return not name.startswith(".") and not name.endswith(ARRIVING)
