"""The matter along a bundle of lines, straightened: one row for each height at the rim."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from oak_ledge.core.pixels.bands.bundle import Bundle
from oak_ledge.core.pixels.lines.rim_line import Floats
from oak_ledge.core.pixels.lines.segments import Doubles
from oak_ledge.core.pixels.lines.side import Array

# Pixels of a line, as the library maps pictures, not lists.
_LINE = 1024


@dataclass(frozen=True)
class Strip:
    """Pixels along a bundle: row n is what is `heights[n]` high at the rim, column u lies u + 1 inward."""

    heights: Doubles
    pixels: Floats
    """(n, reach, 3)"""


def strip_of(photo: Array, bundle: Bundle) -> Strip:
    """Straighten the matter along a bundle, as far as its lines are followed."""
    wide = photo.shape[1]
    margin = bundle.margin * bundle.lines[0].stretch
    heights = np.arange(
        np.floor(bundle.lines[0].at - margin), np.ceil(bundle.lines[-1].at + margin) + 1
    )
    x = -1.0 - np.arange(bundle.reach)
    rows = bundle.rows(heights[:, None], x[None])
    columns = np.broadcast_to((x + wide).astype(np.float32), rows.shape)
    pixels = cv2.remap(
        photo,
        np.ascontiguousarray(columns),
        rows.astype(np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )
    return Strip(heights, pixels.astype(np.float32))


def sample(picture: Array, x: Floats, y: Floats, cubic: bool = False) -> Floats:
    """Return the values of a picture at places between its pixels, (n, bands)."""
    count = len(x)
    lines = -(-count // _LINE)
    across, down = (
        np.resize(np.asarray(places, np.float32), lines * _LINE).reshape(lines, -1)
        for places in (x, y)
    )
    values = cv2.remap(
        picture,
        across,
        down,
        cv2.INTER_CUBIC if cubic else cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )
    sampled: Floats = values.reshape(lines * _LINE, -1)[:count].astype(np.float32)
    return sampled
