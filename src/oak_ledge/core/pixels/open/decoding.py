"""A photo decoded into memory from top to bottom, while pieces are cut from the rows that are there."""

from __future__ import annotations

import threading
from typing import TYPE_CHECKING, Any

import numpy as np
import pyvips

if TYPE_CHECKING:
    import numpy.typing as npt

# Values at once: few enough to stay near the processor.
_FETCHED = 130_000


class Decoding:
    """The pixels, (H, W, C), of an image that streams; rows that are not there yet are waited for.

    Decoding begins when rows are first needed: of a photo that nothing is cut from after all, nothing is.
    """

    def __init__(self, image: Any) -> None:
        extent = (image.height, image.width, image.bands)
        self.pixels: npt.NDArray[Any] = np.empty(extent, dtype_of(image))
        self._there = 0
        self._wrong: Exception | None = None
        self._more = threading.Condition()
        self._thread = threading.Thread(target=self._decode, args=(image,))

    def begin(self) -> None:
        """Begin, unless that was done."""
        with self._more:
            if self._thread.ident is None:
                self._thread.start()

    def wait(self, rows: int) -> None:
        """Wait until so many rows are there.

        Raises
        ------
        pyvips.Error
            If the photo is damaged before that.
        """
        self.begin()
        with self._more:
            self._more.wait_for(lambda: self._there >= rows or self._wrong is not None)
            if self._wrong is not None:
                raise self._wrong

    def _decode(self, image: Any) -> None:
        try:
            region = pyvips.Region.new(image)
            for start, count in fetches(0, image.height, image.width * image.bands):
                fetch_into(self.pixels[start : start + count], region, 0, start)
                self._tell(start + count)
        except Exception as exc:  # noqa: BLE001 - whatever it is, those who wait for rows are told
            self._tell(self._there, exc)

    def _tell(self, there: int, wrong: Exception | None = None) -> None:
        with self._more:
            self._there, self._wrong = there, wrong
            self._more.notify_all()


def dtype_of(image: Any) -> type[np.uint8 | np.uint16]:
    """Return the kind of values in which an image's pixels are held."""
    return np.uint16 if image.format == "ushort" else np.uint8


def image_like(image: Any, data: bytes, width: int, height: int) -> Any:
    """Return pixels taken from an image as one of their own, without what else its file says."""
    alone = pyvips.Image.new_from_memory(data, width, height, image.bands, image.format)
    return alone.copy(interpretation=image.interpretation)


def fetches(
    first: int, end: int, row_values: int, at_once: int | None = None
) -> list[tuple[int, int]]:
    """Return where to begin and how many rows to fetch, so many values at once, from one row to before another."""
    step = max(1, (at_once or _FETCHED) // row_values)
    return [(start, min(step, end - start)) for start in range(first, end, step)]


def fetch_into(rows: npt.NDArray[Any], region: Any, left: int, top: int) -> None:
    """Fetch (H, W, C) pixels from a place of an image."""
    high, wide, _ = rows.shape
    rows[:] = np.frombuffer(region.fetch(left, top, wide, high), rows.dtype).reshape(rows.shape)
