"""Strips of a photo's rows, resampled on all cores.

Separable filter taps are applied as dense blocks along the band of the resampling matrix, in float32.
"""

from __future__ import annotations

import os
from collections import deque
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from math import prod
from threading import Semaphore
from types import TracebackType
from typing import TYPE_CHECKING, Any, NamedTuple, Self

import numpy as np

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.methods import Block, Blocks, Method, Taps, reached, taps

if TYPE_CHECKING:
    import numpy.typing as npt

# Blocks of taps that are applied together, and from which photo pixel to before which they reach.
Gathered = tuple[int, int, Blocks]


# Values of the photo in one strip.
_STRIP_VALUES = 2_000_000


# Outputs to a block of taps, as BLAS is quickest with.
RUN_ACROSS = 32


# Values between the two ways that stay in the processor's own memory.
_NEAR = 250_000


# At a time on the way down.
_COLUMNS = 512


# Strips that wait while all helpers are at work.
_AHEAD = 2


def run_down(step: float) -> int:
    """Return the same on the way down, where few photo pixels make an output, or many."""
    return 8 if step <= 2 else 6


class Strip(NamedTuple):
    """Photo rows, (rows, W, C), from row `low` on, and the taps of the outputs made of them."""

    rows: npt.NDArray[Any]
    low: int
    taps: Blocks

    @property
    def top(self) -> int:
        """The first row that is made of it."""
        return self.taps[0][0]

    @property
    def high(self) -> int:
        """How many rows are made of it."""
        return sum(len(block) for _, _, block in self.taps)


class Strips:
    """Resamples strips into `out`: on helping threads, and in the caller's own while these have enough to do.

    Memory for the steps between is kept from strip to strip: whatever is new the system clears first,
    which would be a fifth of all the time a process takes for its first piece.
    """

    def __init__(
        self,
        across: Taps,
        out: npt.NDArray[Any],
        *,
        spare: Semaphore | None = None,
        alpha: bool = False,
        give_back: Callable[[npt.NDArray[Any]], None] = lambda rows: None,
    ) -> None:
        """Begin.

        Parameters
        ----------
        across : taps along the rows
        out : (H, W, C), filled strip by strip
        spare : cores that nothing is drawn on, where pieces share them; None for all
        alpha : whether the last band is one, and the others are to be weighed by it
        give_back : takes the rows of a strip that is done
        """
        self._out, self._alpha, self._give_back = out, alpha, give_back
        self._across = across
        helpers = max(1, (os.cpu_count() or 1) - 1)
        self._spare = spare or Semaphore(helpers + _AHEAD)
        self._pool = ThreadPoolExecutor(helpers)
        self._given: deque[tuple[Future[None], Strip]] = deque()
        self._scratch = [_Scratch() for _ in range(helpers + 1)]

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        raised: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        with self._pool:
            while self._given and raised is None:
                work, strip = self._given.pop()
                if work.cancel():  # nobody has begun it
                    self._spare.release()
                    self._resample(strip)
                else:
                    work.result()

    def take(self, strip: Strip) -> None:
        """Resample a strip, or have it resampled meanwhile."""
        while self._given and self._given[0][0].done():
            self._given.popleft()[0].result()
        if self._spare.acquire(blocking=False):
            self._given.append((self._pool.submit(self._help, strip), strip))
        else:
            self._resample(strip)

    def _help(self, strip: Strip) -> None:
        try:
            self._resample(strip)
        finally:
            self._spare.release()

    def _resample(self, strip: Strip) -> None:
        scratch = self._scratch.pop()
        try:
            resample_strip(strip, self._across, self._out, scratch, alpha=self._alpha)
        finally:
            self._scratch.append(scratch)
        self._give_back(strip.rows)


class _Scratch:
    """Memory that is used again."""

    def __init__(self) -> None:
        self._held: dict[str, npt.NDArray[Any]] = {}

    def room(self, what: str, shape: tuple[int, ...], kind: Any = "float32") -> npt.NDArray[Any]:
        """Return room under a name; what was there is gone."""
        count = prod(shape)
        if what not in self._held or len(self._held[what]) < count:
            self._held[what] = np.empty(count, kind)
        return self._held[what][:count].reshape(shape)


def resample_strip(
    strip: Strip, across: Taps, out: npt.NDArray[Any], scratch: _Scratch, *, alpha: bool
) -> None:
    """Resample one strip: its rows → their rows of `out`.

    Where many outputs are made of few rows, some columns at a time, so that what lies between the two ways
    stays in the processor's own memory.
    """
    whole = not np.issubdtype(out.dtype, np.floating)
    top = np.iinfo(out.dtype).max if whole else 1
    most = max(_COLUMNS, _NEAR // (strip.high * out.shape[2]))
    for left, end, blocks in _gathered(across, most):
        planes = _down(strip, left, end, top if alpha else None, scratch)
        bands, high, wide = planes.shape
        lines = planes.reshape(-1, wide)
        first, many = blocks[0][0], sum(len(block) for _, _, block in blocks)
        wider = scratch.room("across", (len(lines), many))
        for j, start, block in blocks:
            at = start - left
            np.matmul(
                lines[:, at : at + block.shape[1]],
                block.T,
                out=wider[:, j - first : j - first + len(block)],
            )
        resampled = wider.reshape(bands, high, many)
        if alpha:
            resampled[:-1] *= top / np.maximum(resampled[-1:], 1e-3)
            np.clip(resampled, 0, top, out=resampled)
        if whole:  # halves up, as the cast cuts off; whole numbers are clipped in half the time
            rounded = scratch.room("rounded", resampled.shape, np.int16 if top == 255 else np.int32)
            resampled = np.add(resampled, 0.5, out=rounded, casting="unsafe")
            np.clip(resampled, 0, top, out=resampled)
        here = out[strip.top : strip.top + high, first : first + many]
        for band, plane in enumerate(
            resampled
        ):  # plane by plane: twice as fast as transposed at once
            np.copyto(here[..., band], plane, casting="unsafe")


def _down(
    strip: Strip, left: int, end: int, opaque: int | None, scratch: _Scratch
) -> npt.NDArray[np.float32]:
    """Resample columns left…end of (rows, photo columns, C) along the rows to planes (C, outputs, columns).

    A few columns at a time, which stay in the processor's own memory from the cast to the transposed copy:
    twice as fast as all at once. Colours are weighed by their alpha where `opaque` says its greatest value.
    """
    count, _, bands = strip.rows.shape
    top, high = strip.top, strip.high
    planes = scratch.room("planes", (bands, high, end - left))
    for first in range(left, end, _COLUMNS):
        some = min(_COLUMNS, end - first)
        floats = scratch.room("floats", (count, some, bands))
        floats[:] = strip.rows[:, first : first + some]
        if opaque is not None:
            floats[..., :-1] *= floats[..., -1:] / opaque
        flat = floats.reshape(count, -1)
        part = scratch.room("down", (high, some * bands))
        for j, start, block in strip.taps:
            at = start - strip.low
            np.matmul(
                block, flat[at : at + block.shape[1]], out=part[j - top : j - top + len(block)]
            )
        at = first - left
        planes[:, :, at : at + some] = part.reshape(high, -1, bands).transpose(2, 0, 1)
    return planes


def resample(pixels: npt.NDArray[Any], output: Pixels, method: Method) -> npt.NDArray[Any]:
    """Resample a whole (H, W, C) array in memory; floats stay floats, whole numbers whole."""
    high, wide, bands = pixels.shape
    columns = taps(high, 0, high, output[1], method, run_down(high / output[1]))
    across = taps(wide, 0, wide, output[0], method, RUN_ACROSS)
    out = np.empty((output[1], output[0], bands), pixels.dtype)
    with Strips(across, out) as strips:
        for low, end, some in cut_up(columns, wide * bands):
            strips.take(Strip(pixels[low:end], low, some))
    return out


def cut_up(columns: Taps, row_values: int) -> list[Gathered]:
    """Gather blocks of output rows so that the photo rows they need fit a strip."""
    return _gathered(columns, _STRIP_VALUES // row_values)


def _gathered(of: Taps, most: int) -> list[Gathered]:
    """Gather blocks of outputs that need no more than so many photo pixels in a row, or single ones."""
    blocks: list[list[Block]] = []
    for block in of.blocks:
        if not blocks or block[1] + block[2].shape[1] - blocks[-1][0][1] > most:
            blocks.append([])
        blocks[-1].append(block)
    return [(*reached(blocks), blocks) for blocks in blocks]
