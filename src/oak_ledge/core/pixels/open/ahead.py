"""A photo's first rows, read while whoever wants them gets ready: works out taps, loads what it needs."""

from __future__ import annotations

import threading
from collections import deque
from contextlib import suppress
from typing import TYPE_CHECKING, Any

import numpy as np
import pyvips

from oak_ledge.core.pixels.open.decoding import fetches

if TYPE_CHECKING:
    import numpy.typing as npt

# Values: many, as a thread waits for Python's lock after each.
_AT_ONCE = 1_000_000


# Values that wait, so that memory stays flat.
_MOST = 32_000_000


class Ahead:
    """Rows of an image that streams, read from the top in a thread of its own.

    That begins at once, and goes on until the first are asked for, or so many wait.
    """

    def __init__(self, image: Any) -> None:
        self._parts: deque[tuple[int, int, Any]] = deque()
        self._enough = threading.Event()
        self._thread = threading.Thread(target=self._read, args=(image,))
        self._thread.start()

    def fill(self, rows: npt.NDArray[Any], left: int, top: int) -> int:
        """Fill (H, W, C) from a place of the image on, and say how many rows were there.

        It is no higher than where the last ended; rows above it are let go.
        """
        self._enough.set()
        self._thread.join()
        done = 0
        while self._parts and done < len(rows):
            first, count, part = self._parts[0]
            skipped = top + done - first
            if skipped >= count:
                self._parts.popleft()
                continue
            pixels = np.frombuffer(part, rows.dtype).reshape(count, -1, rows.shape[2])
            some = pixels[skipped : skipped + len(rows) - done, left : left + rows.shape[1]]
            rows[done : done + len(some)] = some
            done += len(some)
        return done

    def _read(self, image: Any) -> None:
        row = image.width * image.bands
        with suppress(Exception):  # whoever asks for those rows meets it as well
            region = pyvips.Region.new(image)
            for start, count in fetches(0, min(image.height, _MOST // row), row, _AT_ONCE):
                if self._enough.is_set():
                    return
                self._parts.append((start, count, region.fetch(0, start, image.width, count)))
