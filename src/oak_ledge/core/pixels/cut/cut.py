"""Placement → exactly W × H pixels: phase-exact, filtered, one pass over the photo's rows.

Separable filter taps are applied as dense blocks along the band of the resampling matrix, in
float32, strip by strip: memory holds a few strips of the photo and the finished output.
"""

from __future__ import annotations

import os
from collections import deque
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Any

import numpy as np
import numpy.typing as npt
import pyvips

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.methods import Method, Taps, choose, taps
from oak_ledge.core.pixels.open.border import reading_pixels
from oak_ledge.core.pixels.open.decoding import dtype_of, fetch_into, fetches
from oak_ledge.core.pixels.open.orientation import upright
from oak_ledge.core.pixels.open.photo import OpenPhoto, wait_for
from oak_ledge.core.placements.crop import Crop

Blocks = list[tuple[int, int, npt.NDArray[np.float32]]]


Array = npt.NDArray[np.uint8] | npt.NDArray[np.uint16]


_STRIP_VALUES = 2_000_000  # values of the photo in one strip


_DOWN, _ACROSS = 6, 32  # outputs to a block of taps, as BLAS is quickest with


_PANEL = 512  # columns at a time on the way down


_MOVED = 128  # rows at a time


def load_shrink(crop: Crop, asked: Pixels) -> int:
    """Say by how much a JPEG may be shrunk on load: the cut keeps a factor of 2 to itself.

    >>> load_shrink(Crop(0, 0, 6000, 4000), (600, 400))
    4
    """
    step = min(crop.width / asked[0], crop.height / asked[1])
    return next((p for p in (8, 4, 2) if step / p >= 2), 1)


def cut(
    photo: OpenPhoto, crop: Crop, asked: Pixels, edges: Pixels, method: Method | None = None
) -> Array:
    """Cut a crop out of a photo and resample it to exactly `asked` pixels.

    Parameters
    ----------
    photo : opened for one pass; it is used up
    crop : rectangle in photo pixels, inside the photo or up to an output pixel beyond it,
        where the photo's last pixel counts as repeated
    asked : output (W, H)
    edges : the photo's (width, height), turned and unshrunk
    method : the kernel, or None to choose by scale

    Returns
    -------
    (H, W, C) array of the photo's own depth; alpha not premultiplied

    Raises
    ------
    PhotoError
        If the photo is damaged.
    """
    stored_crop, stored_asked = as_stored(crop, asked, edges, photo.orientation)
    with reading_pixels():
        return upright(_cut_stored(photo, stored_crop, stored_asked, method), photo.orientation)


def as_stored(crop: Crop, asked: Pixels, edges: Pixels, orientation: int) -> tuple[Crop, Pixels]:
    """Undo the orientation tag: where an upright crop lies in the stored picture."""
    left, top = crop.left, crop.top
    if orientation in (2, 3, 6, 7):
        left = edges[0] - crop.right
    if orientation in (3, 4, 7, 8):
        top = edges[1] - crop.bottom
    if orientation >= 5:
        return Crop(top, left, crop.height, crop.width), (asked[1], asked[0])
    return Crop(left, top, crop.width, crop.height), asked


def _cut_stored(photo: OpenPhoto, crop: Crop, asked: Pixels, method: Method | None) -> Array:
    """Decode strip after strip here while the strips before are resampled on all cores."""
    image, p = photo.image, photo.shrink
    crop = Crop(crop.left / p, crop.top / p, crop.width / p, crop.height / p)
    W, H = asked
    down = taps(image.height, crop.top, crop.height, H, method or choose(crop.height / H), _DOWN)
    first, last, across = _span(
        taps(image.width, crop.left, crop.width, W, method or choose(crop.width / W), _ACROSS)
    )
    out = np.empty((H, W, image.bands), dtype_of(image))
    rows = Rows(photo, first, last - first)
    strips = _strips(down, (last - first) * image.bands)
    cores = photo.cores or min(len(strips), os.cpu_count() or 1)
    at_work: deque[Future[None]] = deque()
    with ThreadPoolExecutor(cores) as pool:
        for strip in strips:
            if len(at_work) > cores:  # so many strips are kept at once, and no more
                at_work.popleft().result()
            low = min(start for _, start, _ in strip)
            high = max(start + block.shape[1] for _, start, block in strip)
            photo_rows = rows.fetch(low, high)
            at_work.append(
                pool.submit(_resample, photo_rows, low, strip, across, out, alpha=photo.alpha)
            )
        for work in at_work:
            work.result()
    prove_whole(photo)
    return out


def _resample(
    photo_rows: npt.NDArray[Any],
    low: int,
    strip: Blocks,
    across: Taps,
    out: npt.NDArray[Any],
    *,
    alpha: bool = False,
) -> None:
    """Resample one strip: photo rows from row `low` on → their rows of `out`."""
    whole = not np.issubdtype(out.dtype, np.floating)
    top = np.iinfo(out.dtype).max if whole else 1
    planes = _down(photo_rows, low, strip, top if alpha else None)
    bands, high, wide = planes.shape
    lines = planes.reshape(-1, wide)
    wider = np.empty((len(lines), across.outputs), np.float32)
    for j, start, block in across.blocks:
        np.matmul(
            lines[:, start : start + block.shape[1]], block.T, out=wider[:, j : j + len(block)]
        )
    found = wider.reshape(bands, high, -1)
    if alpha:
        found[:-1] *= top / np.maximum(found[-1:], 1e-3)
    if whole:
        found += 0.5  # halves up, as the cast cuts off
        np.clip(found, 0, top, out=found)
        found = found.astype(out.dtype)
    j0 = strip[0][0]
    for band, plane in enumerate(found):  # plane by plane: twice as fast as one transposed copy
        out[j0 : j0 + high, :, band] = plane


def _down(
    photo_rows: npt.NDArray[Any], low: int, strip: Blocks, opaque: int | None
) -> npt.NDArray[np.float32]:
    """Resample (rows, photo columns, C) along its rows to planes (C, outputs, photo columns).

    Panel by panel of columns, each small enough to stay in the processor's own memory from the
    cast to the transposed copy: twice as fast as all columns at once. Colours are weighed by
    their alpha where `opaque` says its greatest value.
    """
    _, wide, bands = photo_rows.shape
    j0 = strip[0][0]
    high = sum(len(block) for _, _, block in strip)
    planes = np.empty((bands, high, wide), np.float32)
    tall = np.empty((high, min(_PANEL, wide) * bands), np.float32)
    for left in range(0, wide, _PANEL):
        panel = photo_rows[:, left : left + _PANEL].astype(np.float32)
        if opaque is not None:
            panel[..., :-1] *= panel[..., -1:] / opaque
        flat = panel.reshape(len(panel), -1)
        part = tall[:, : flat.shape[1]]
        for j, start, block in strip:
            np.matmul(
                block,
                flat[start - low : start - low + block.shape[1]],
                out=part[j - j0 : j - j0 + len(block)],
            )
        planes[:, :, left : left + _PANEL] = part.reshape(high, -1, bands).transpose(2, 0, 1)
    return planes


def resample(pixels: npt.NDArray[Any], asked: Pixels, method: Method) -> npt.NDArray[Any]:
    """Resample a whole (H, W, C) array in memory; floats stay floats, whole numbers whole."""
    high, wide, bands = pixels.shape
    down = taps(high, 0, high, asked[1], method, _DOWN)
    across = taps(wide, 0, wide, asked[0], method, _ACROSS)
    out = np.empty((asked[1], asked[0], bands), pixels.dtype)

    def some(strip: Blocks) -> None:
        low = min(start for _, start, _ in strip)
        end = max(start + block.shape[1] for _, start, block in strip)
        _resample(pixels[low:end], low, strip, across, out)

    with ThreadPoolExecutor(os.cpu_count() or 1) as pool:
        for done in [pool.submit(some, strip) for strip in _strips(down, wide * bands)]:
            done.result()
    return out


def _span(across: Taps) -> tuple[int, int, Taps]:
    """Give the photo columns that taps reach, and the taps counted from the first of them."""
    first = min(start for _, start, _ in across.blocks)
    last = max(start + block.shape[1] for _, start, block in across.blocks)
    blocks = tuple((j, start - first, block) for j, start, block in across.blocks)
    return first, last, Taps(across.outputs, blocks)


def _strips(down: Taps, row_values: int) -> list[Blocks]:
    """Gather blocks of output rows so that the photo rows they need fit a strip."""
    strips: list[Blocks] = []
    for block in down.blocks:
        rows = block[1] + block[2].shape[1] - (strips[-1][0][1] if strips else 0)
        if not strips or rows * row_values > _STRIP_VALUES:
            strips.append([])
        strips[-1].append(block)
    return strips


class Rows:
    """Hands out the photo's rows from top to bottom, keeping those still needed.

    With `room` for more of them than are asked for at once, what is kept need not be moved each time
    some are added; it is moved where it lies then, so rows are handed out until the next are asked for.
    """

    def __init__(self, photo: OpenPhoto, left: int, width: int, room: int = 0) -> None:
        image, self._decoding = photo.image, photo.decoding
        self._region = pyvips.Region.new(image)
        self._left, self._width, self._bands = left, width, image.bands
        self._stays = room > 0
        self._room = np.empty((room, width, image.bands), dtype_of(image))
        self._first = self._end = 0

    def fetch(self, low: int, high: int) -> Array:
        """Give rows low…high; neither may go back behind what it was before."""
        if self._decoding is not None:
            self._decoding.wait(high)
            return self._decoding.pixels[low:high, self._left : self._left + self._width]
        if high - self._first > len(self._room):
            self._make_room(low, high)
        for start, count in fetches(self._end, high, self._width * self._bands):
            at = start - self._first
            fetch_into(self._room[at : at + count], self._region, self._left, start)
        self._end = max(self._end, high)
        return self._room[low - self._first : high - self._first]

    def _make_room(self, low: int, high: int) -> None:
        """Move the rows that are still needed to the top; what is not needed is given back."""
        gone, count = max(0, low - self._first), max(0, self._end - low)
        old = self._room
        if not self._stays:
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
