"""The rows of a photo, handed out from top to bottom."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
import pyvips

from oak_ledge.core.pixels.open.decoding import dtype_of, fetch_into, fetches
from oak_ledge.core.pixels.open.photo import OpenPhoto, wait_for

if TYPE_CHECKING:
    import numpy.typing as npt

# Rows at a time.
_MOVED = 128


class Rows:
    """Hands out the photo's rows from top to bottom, keeping those still needed.

    Rows are the caller's until they are given back. With `room` for more of them than are asked for at once,
    what is kept need not be moved each time some are added; it is moved where it lies then, so rows are
    handed out until the next are asked for, and not given back.
    """

    def __init__(self, photo: OpenPhoto, left: int, width: int, room: int = 0) -> None:
        image, self._decoding = photo.image, photo.decoding
        self._region, self._ahead = pyvips.Region.new(image), photo.ahead
        self._left, self._width, self._bands = left, width, image.bands
        self._stays = room > 0
        self._free: list[npt.NDArray[Any]] = []
        self._room = np.empty((room, width, image.bands), dtype_of(image))
        self._first = self._end = 0

    def fetch(self, low: int, high: int) -> npt.NDArray[Any]:
        """Return rows low…high; neither may go back behind what it was before."""
        if self._decoding is not None:
            self._decoding.wait(high)
            return self._decoding.pixels[low:high, self._left : self._left + self._width]
        if not self._stays or high - self._first > len(self._room):
            self._make_room(low, high)
        for start, count in fetches(self._end, high, self._width * self._bands):
            rows = self._room[start - self._first :][:count]
            done = 0 if self._ahead is None else self._ahead.fill(rows, self._left, start)
            if done < count:
                fetch_into(rows[done:], self._region, self._left, start + done)
        self._end = max(self._end, high)
        return self._room[low - self._first : high - self._first]

    def give_back(self, rows: npt.NDArray[Any]) -> None:
        """Take rows back, so that later ones can lie where they did: what is new the system clears first."""
        if self._decoding is None and rows.base is not None:
            self._free.append(rows.base)

    def _make_room(self, low: int, high: int) -> None:
        """Move the rows that are still needed to the top; what is not needed is given back."""
        gone, count = max(0, low - self._first), max(0, self._end - low)
        old = self._room
        if not self._stays:
            self._room = self._free.pop() if self._free else old[:0]
            if len(self._room) < high - low:
                self._room = np.empty((high - low, *old.shape[1:]), old.dtype)
        for at in range(0, count, _MOVED):  # bit by bit: moved at once, all would be held twice
            some = old[gone + at : gone + min(count, at + _MOVED)]
            self._room[at : at + len(some)] = some
        self._first, self._end = low, low + count


def prove_whole(photo: OpenPhoto) -> None:
    """Read on to the last row, so that a file cut short below the crop is still found."""
    if photo.decoding is not None:
        wait_for(photo)
        return
    image = photo.image
    try:
        pyvips.Region.new(image).fetch(0, image.height - 1, 1, 1)
    except pyvips.Error as exc:
        # A stream that has passed its last row can't go back to it: then all of it was read.
        if "out of order" not in exc.detail:
            raise
