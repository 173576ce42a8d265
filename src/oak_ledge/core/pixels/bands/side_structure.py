"""What of a photo goes on beyond one of its sides: an edge of light, and bands of lines."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from oak_ledge.core.photos.continued import Side
from oak_ledge.core.pixels.bands.band import Band, Drawn, drawn
from oak_ledge.core.pixels.bands.uncopied_lines import Mask
from oak_ledge.core.pixels.lines.side import Array, beside, beyond, turned, turned_back

Box = tuple[int, int, int, int]

# Pixels of the longer edge of the picture lines are looked for on.
WORKING_EDGE = 1600


@dataclass(frozen=True)
class Working:
    """A picture of a photo to find lines on: (h, w, 3) uint8, and how much larger the photo is."""

    picture: Array
    scale: float


def working_picture(photo: Array) -> Working:
    """Return a photo, (H, W, C) of 8 or 16 bits, as a picture of at most `WORKING_EDGE` pixels."""
    high, wide = photo.shape[:2]
    scale = max(1.0, max(high, wide) / WORKING_EDGE)
    small = photo
    if scale > 1:
        edges = (round(wide / scale), round(high / scale))
        small = cv2.resize(photo, edges, interpolation=cv2.INTER_AREA)
        small = small.reshape(edges[1], edges[0], -1)
    if small.dtype == np.uint16:
        small = (small.astype(np.uint32) * 255 + 32767) // 65535
    colours = small[..., :3] if small.shape[2] >= 3 else np.repeat(small[..., :1], 3, 2)
    return Working(np.ascontiguousarray(colours, np.uint8), scale)


@dataclass(frozen=True)
class SideStructure:
    """The bands that go on beyond one side of a photo, and where they must not be copied from."""

    side: Side
    bands: tuple[Band, ...]
    scale: float
    """photo pixels for each of the picture the bands were found on"""
    uncopied: Mask
    """(h, w) of that picture"""

    def drawn(self, photo: Array, box: Box) -> tuple[Drawn, Box]:
        """Draw the bands beyond a photo, (H, W, C), within a box around it.

        Returns what is drawn, and where on the canvas: top, left, height, width.
        """
        edges = (photo.shape[1], photo.shape[0])
        above, below = beside(box, edges, self.side)
        out = beyond(box, edges, self.side)
        own = np.ascontiguousarray(turned(photo, self.side))
        rows = own.shape[0] + above + below
        seen = drawn(self.bands, own, self.scale, above, rows, out)
        upright = Drawn(turned_back(seen.colours, self.side), turned_back(seen.share, self.side))
        return upright, place_of(box, edges, self.side)


def place_of(box: Box, edges: tuple[int, int], side: Side) -> Box:
    """Return top, left, height, width, on the canvas, of what lies beyond a side, corners too."""
    wide, high = box[2] - box[0], box[3] - box[1]
    out = beyond(box, edges, side)
    return {
        "left": (0, 0, high, out),
        "right": (0, wide - out, high, out),
        "top": (0, 0, out, wide),
        "bottom": (high - out, 0, out, wide),
    }[side]
