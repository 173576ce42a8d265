"""A line to a receiver: opened when the first file goes, kept open, one for all of its files."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Protocol

from oak_ledge.core.receivers.way import FolderWay, SftpWay, Way, WebDavWay
from oak_ledge.receivers.errors import BrokenLineError
from oak_ledge.receivers.secrets import read_secret

# Bytes handed to a line at once.
CHUNK = 1 << 18
# Seconds without a byte after which a line is taken for broken, and to get an answer at all.
SILENCE, CONNECT = 30.0, 10.0


@dataclass(frozen=True)
class Outgoing:
    """A file on its way. `before` is said of one that may have arrived by an earlier try."""

    path: Path
    name: str
    bytes: int
    sha256: str
    mime: str
    before: bool = False


# Told the bytes of a file that are sent so far; whatever it raises ends the sending.
Sent = Callable[[int], None]


class Line(Protocol):
    """An open way to a receiver; several threads may put files at once."""

    def put(self, file: Outgoing, sent: Sent) -> str:
        """Put a file there and compare it; return the receipt, in words.

        Raises
        ------
        NotTakenError, BrokenLineError, NotReadyError
            If it did not get there.
        OSError
            If it can't be read here.
        """

    def close(self) -> None:
        """Let the line go."""


@dataclass
class Throttle:
    """Holds what is sent, by all threads together, to so many bytes a second; None: no limit."""

    per_second: int | None
    _free_at: float = 0.0
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def wait(self, count: int) -> None:
        """Wait until so many more bytes may go."""
        if self.per_second is None:
            return
        with self._lock:
            now = time.monotonic()
            begin = max(now, self._free_at)
            self._free_at = begin + count / self.per_second
        if begin > now:
            time.sleep(begin - now)


def chunks(file: Outgoing, throttle: Throttle, sent: Sent) -> Iterator[bytes]:
    """Read a file piece by piece, no faster than is asked."""
    count = 0
    with file.path.open("rb") as handle:
        while piece := handle.read(CHUNK):
            throttle.wait(len(piece))
            yield piece
            count += len(piece)
            sent(count)


@contextmanager
def open_line(way: Way, secret: str | None = None) -> Iterator[Line]:
    """Open a way; it is let go at the end. `secret` stands for the one the way names.

    Raises
    ------
    NotReadyError
        If its secret is not there.
    """
    line = _line(way, secret)
    try:
        yield line
    finally:
        line.close()


def _line(way: Way, secret: str | None) -> Line:
    if isinstance(way, FolderWay):
        from oak_ledge.receivers.folder import FolderLine

        return FolderLine(Path(way.path))
    secret = secret or read_secret(way.secret)
    throttle = Throttle(way.at_most_per_second)
    if isinstance(way, SftpWay):
        from oak_ledge.receivers.sftp import SftpLine

        return SftpLine(way, secret or "", throttle)
    if isinstance(way, WebDavWay):
        from oak_ledge.receivers.webdav import WebDavLine

        return WebDavLine(way, secret, throttle)
    from oak_ledge.receivers.http import HttpLine

    return HttpLine(way, secret, throttle)


def silent(host: str) -> BrokenLineError:
    """Return the error for a line on which nothing was heard for too long."""
    return BrokenLineError(f"nothing was heard of {host} for {SILENCE:g} s")
