"""A photo without its edge of light, and what lies beyond it in that light again."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from oak_ledge.core.photos.continued import Side
from oak_ledge.core.pixels.bands.light_edge import LightEdge
from oak_ledge.core.pixels.fill.grid import Mask
from oak_ledge.core.pixels.lines.rim_line import Floats
from oak_ledge.core.pixels.lines.side import Array, turned_places

# Light on what is dark; levels of what is white.
_DARK, _WHITE = 0.97, 250

# Rows at a time.
_ROWS = 256


@dataclass(frozen=True)
class Shade:
    """An edge of light that goes on beyond a side of a photo."""

    side: Side
    edge: LightEdge
    scale: float
    """photo pixels for each of the picture it was found on"""
    edges: tuple[int, int]
    """the photo's width and height"""

    def light(self, columns: Array, rows: Array) -> Floats:
        """Return the light, (rows, columns, 3), 1 where there is all of it.

        `columns` and `rows` are counted from the photo's first pixel.
        """
        x, y = turned_places(self.side, self.edges, columns, rows)
        wide = self.edges[0 if self.side in ("left", "right") else 1] / self.scale
        x, y = np.broadcast_arrays(x, y)
        scale = self.scale
        return self.edge.light((x + 0.5) / scale - 0.5, (y + 0.5) / scale - 0.5, wide)

    def without(self, photo: Array) -> Array:
        """Return a photo, (H, W, C), in even light."""
        out = photo.copy()
        columns = np.arange(photo.shape[1])
        for first in range(0, photo.shape[0], _ROWS):
            part = out[first : first + _ROWS]
            _times(part, 1 / self.light(columns, np.arange(first, first + len(part))))
        return out

    def clips(self, picture: Array) -> float:
        """Return the share of what is dark on a picture, (H, W, 3) uint8, that would be white without it.

        What is dark of itself shows so that it does not lie in a shadow.
        """
        light = self.light(np.arange(picture.shape[1]), np.arange(picture.shape[0]))
        dark: Mask = light.mean(2) < _DARK
        white = np.any(picture / light > _WHITE, 2) & ~np.any(picture > _WHITE, 2)
        return float(white[dark].mean()) if dark.any() else 0.0

    def put_on(self, pixels: Array, left: int, top: int) -> None:
        """Put the light on pixels, (h, w, C), in place; their first lies at column `left`, row `top`."""
        columns = np.arange(left, left + pixels.shape[1])
        for first in range(0, len(pixels), _ROWS):
            part = pixels[first : first + _ROWS]
            _times(part, self.light(columns, np.arange(top + first, top + first + len(part))))


def _times(pixels: Array, light: Floats) -> None:
    """Multiply pixels' colours by light, in place; of greys by its mean, alpha never."""
    bands = 3 if pixels.shape[2] >= 3 else 1
    factor = light if bands == 3 else light.mean(2, keepdims=True)
    if pixels.dtype.kind == "f":
        pixels[..., :bands] *= factor
        return
    top = np.iinfo(pixels.dtype).max
    lit = pixels[..., :bands] * factor + np.float32(0.5)
    pixels[..., :bands] = np.clip(lit, 0, top)
