"""The fill at full size: pixels copied from the photo, strip by strip, in the tones of the grid."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from oak_ledge.core.pixels.fill.grid import Array, Floats, Grid, Mask
from oak_ledge.core.pixels.fill.solve import Solved

# Pixels at a time.
_STRIP = 400_000

# Pixels of a line, as the library maps pictures, not lists.
_LINE = 1024

Whole = npt.NDArray[Any]


def draw(
    solved: Solved,
    grid: Grid,
    photo: Array,
    at: tuple[int, int],
    box: tuple[int, int, int, int],
    mask: Mask | None = None,
) -> Array:
    """Draw a rectangle of the canvas, all of it filled, or what of it a mask asks for.

    A pixel is the grid's tone there, and how the photo's pixel at its match differs from the grid's
    tone at that place: fine detail is copied, whatever the depth.

    Parameters
    ----------
    photo : (H, W, C) of 8 or 16 bits; what isn't filled is not drawn
    at : (row, column) of the photo on the canvas
    box : (top, left, height, width) on the canvas
    mask : (height, width) of what is filled; the rest stays 0

    Returns
    -------
    (height, width, C) of the photo's depth
    """
    top, left, high, wide = box
    out = np.zeros((high, wide, photo.shape[2]), photo.dtype)
    rows = max(4, _STRIP // max(1, wide))
    for first in range(0, high, rows):
        part = np.s_[first : min(high, first + rows)]
        wanted = np.ones(out[part].shape[:2], np.bool_) if mask is None else mask[part]
        ys, xs = np.nonzero(wanted)
        if len(ys):
            on_grid = (ys + first + top + grid.lead[0], xs + left + grid.lead[1])
            out[first + ys, xs] = _pixels(solved, grid, photo, at, *on_grid)
    return out


def _pixels(
    solved: Solved,
    grid: Grid,
    photo: Array,
    at: tuple[int, int],
    ys: npt.NDArray[np.intp],
    xs: npt.NDArray[np.intp],
) -> Array:
    """Draw pixels, counted from where the grid begins."""
    step, (high, wide) = grid.step, solved.from_y.shape
    block_y, block_x = np.minimum(ys // step, high - 1), np.minimum(xs // step, wide - 1)
    from_y, from_x = solved.from_y[block_y, block_x], solved.from_x[block_y, block_x]
    y = ys + (from_y - block_y) * step
    x = xs + (from_x - block_x) * step
    x = np.where(from_x >= wide, 2 * wide * step - 1 - x, x)  # in the mirror
    first = (grid.lead[0] + at[0], grid.lead[1] + at[1])
    y = y.clip(first[0], first[0] + photo.shape[0] - 1)
    x = x.clip(first[1], first[1] + photo.shape[1] - 1)
    copied = photo[y - first[0], x - first[1]]
    bands = 1 if copied.shape[1] < 3 else 3
    unit = np.float32(257 if photo.dtype == np.uint16 else 1)
    there = _on_grid(solved.colours, y, x, step)[:, :bands]
    here = _on_grid(solved.colours, ys, xs, step)[:, :bands]
    colours = copied[:, :bands].astype(np.float32) * np.float32(solved.gain) / unit
    if solved.light is not None:
        colours /= _on_grid(solved.light, y, x, step)
    colours += here - there
    if solved.light is not None:
        colours *= _on_grid(solved.light, ys, xs, step)
    top = np.iinfo(photo.dtype).max
    out: Array = copied.copy()
    out[:, :bands] = np.clip(colours * (unit / np.float32(solved.gain)) + 0.5, 0, top)
    return out


def _on_grid(values: Floats, ys: Whole, xs: Whole, step: int) -> Floats:
    """Interpolate a picture of the grid, by cubics, at pixels; as (n, bands)."""
    count = len(ys)
    lines = -(-count // _LINE)
    along, down = (
        np.resize(((pixels + 0.5) / step - 0.5).astype(np.float32), lines * _LINE).reshape(
            lines, -1
        )
        for pixels in (xs, ys)
    )
    values_there = cv2.remap(values, along, down, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    out: Floats = values_there.reshape(lines * _LINE, -1)[:count]
    return out
