"""A squared-up piece for the screen: every block mapped from a copy of the photo that is as large as it needs.

Where a plane is seen much aslant, one part of it shows a hundred times as many photo pixels as another. A
pyramid of copies, each half as large (Williams, *Pyramidal Parametrics*, SIGGRAPH 1983), costs the
same for all parts, and for pictures of any size. Files are made by `warp`, which is exact.
"""

from __future__ import annotations

from collections.abc import Iterator
from math import log2
from typing import TYPE_CHECKING, Any

import numpy as np

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.cut.warp import Border, stored_by
from oak_ledge.core.pixels.open.border import reading_pixels
from oak_ledge.core.pixels.open.photo import OpenPhoto, in_memory
from oak_ledge.core.planes.matrices import Matrix, local_steps, mapped_share, steps_on

if TYPE_CHECKING:
    import numpy.typing as npt

# Of a photo, shrunk on load: a larger one is not held in memory.
MOST_PIXELS = 40_000_000

# Pixels that `warp` would map, to one of the photo.
STEEP = 4.0

# Output pixels along a block's side.
_BLOCK = 96

# Per cent of the places of a piece may show more detail than is drawn.
_FINEST = 5


def finest_step(matrix: Matrix, output: Pixels, photo: tuple[float, float]) -> float:
    """Return photo pixels per output pixel where a piece shows its photo largest, nearly."""
    steps = steps_on(matrix, output, photo)
    steps = steps if len(steps) else local_steps(matrix, output)
    return float(np.percentile(steps.min(axis=1), _FINEST))


def is_steep(matrix: Matrix, output: Pixels, photo: tuple[float, float]) -> bool:
    """Return whether a piece shows parts of its photo so much smaller than others that it is costly to draw."""
    return mapped_share(matrix, output, photo) > STEEP


def draft(
    photo: OpenPhoto, matrix: Matrix, output: Pixels, edges: Pixels, border: Border = "edge"
) -> Array:
    """Draw the output whose points a matrix maps into the photo, for a screen.

    Parameters and result are those of `warp`; the photo is decoded into memory.
    """
    import cv2  # here: it takes its time to load, and most files are made without it

    stored = stored_by(edges, photo.orientation) @ matrix
    stored = np.diag([1 / photo.shrink, 1 / photo.shrink, 1.0]) @ stored
    with reading_pixels():
        opened = in_memory(photo)
    assert opened.decoding is not None
    levels = _Levels(opened.decoding.pixels, alpha=photo.alpha)
    across = (float(photo.image.width), float(photo.image.height))
    out = np.empty((output[1], output[0], levels.bands), levels.kind)
    mode = cv2.BORDER_REFLECT if border == "mirror" else cv2.BORDER_REPLICATE
    for left, top, wide, high in _blocks(output):
        here = stored @ np.array([[1, 0, left], [0, 1, top], [0, 0, 1]], np.float64)
        steps = steps_on(here, (wide, high), across)
        step = float(np.median(steps.max(axis=1))) if len(steps) else 1.0
        pixels, share = levels.at(step)
        half = np.array([[1, 0, 0.5], [0, 1, 0.5], [0, 0, 1]], np.float64)
        # cv2 counts from the middle of a pixel, we from its corner
        mapped = cv2.warpPerspective(
            pixels,
            np.linalg.inv(half) @ np.diag([*share, 1.0]) @ here @ half,
            (wide, high),
            flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
            borderMode=mode,
        )
        out[top : top + high, left : left + wide] = levels.finished(mapped.reshape(high, wide, -1))
    return out


def _blocks(output: Pixels) -> Iterator[tuple[int, int, int, int]]:
    for top in range(0, output[1], _BLOCK):
        for left in range(0, output[0], _BLOCK):
            yield left, top, min(_BLOCK, output[0] - left), min(_BLOCK, output[1] - top)


class _Levels:
    """A photo's pixels and copies of them, each half as large, drawn when they are needed."""

    def __init__(self, pixels: npt.NDArray[Any], *, alpha: bool) -> None:
        self.kind, self.alpha, self.bands = pixels.dtype, alpha, pixels.shape[2]
        self._top = np.iinfo(pixels.dtype).max
        if alpha:  # colours weigh by what is opaque
            pixels = pixels.astype(np.float32)
            pixels[..., :-1] *= pixels[..., -1:] / self._top
        self._levels = [pixels]

    def at(self, step: float) -> tuple[npt.NDArray[Any], tuple[float, float]]:
        """Return the copy with about one pixel to an output pixel, and its edges' shares of the photo's."""
        import cv2

        wanted = max(0, int(log2(max(step, 1.0)) + 0.25))
        while len(self._levels) <= wanted and min(self._levels[-1].shape[:2]) > 1:
            last = self._levels[-1]
            edges = ((last.shape[1] + 1) // 2, (last.shape[0] + 1) // 2)
            half = cv2.resize(last, edges, interpolation=cv2.INTER_AREA)
            self._levels.append(half.reshape(edges[1], edges[0], -1))
        level, first = self._levels[min(wanted, len(self._levels) - 1)], self._levels[0]
        return level, (level.shape[1] / first.shape[1], level.shape[0] / first.shape[0])

    def finished(self, mapped: npt.NDArray[Any]) -> npt.NDArray[Any]:
        if not self.alpha:
            return mapped
        mapped[..., :-1] *= self._top / np.maximum(mapped[..., -1:], 1e-3)
        values: npt.NDArray[Any] = np.clip(np.rint(mapped), 0, self._top)
        return values
