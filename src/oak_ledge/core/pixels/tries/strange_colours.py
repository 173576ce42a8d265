"""How unlike the photo's rim the colours are that a ground shows beyond it, at about the same height.

It tells what is spoilt, as sky on the grass or a dark shape on the beach; of two that are not, it says
nothing.
"""

from __future__ import annotations

import cv2
import numpy as np

from oak_ledge.core.photos.continued import Side
from oak_ledge.core.pixels.fill.grid import Floats, Mask
from oak_ledge.core.pixels.lines.side import SIDES, turned

# Rows along a side that colours are compared on; so many up and down are about the same height.
_ROWS, _NEAR = 120, 14

# Rows: the rim is so deep at least, and else as deep as what lies beyond it.
_LEAST_DEEP = 12

# CIELAB distance (delta E 1976): less is not strange, and more is no stranger.
_USUAL, _MOST = 4.0, 44.0


def strange_colours(picture: Floats, hole: Mask) -> float:
    """Return the mean strangeness, as a distance in CIELAB, of what a canvas shows beyond its photo.

    `picture` is (h, w, 3), 0…255, filled where `hole`, (h, w), is set; what lies beyond a corner is
    not looked at.
    """
    strange = np.concatenate([_beyond(picture, hole, side).ravel() for side in SIDES])
    return float(np.clip(strange - _USUAL, 0, _MOST - _USUAL).mean()) if strange.size else 0.0


def _beyond(picture: Floats, hole: Mask, side: Side) -> Floats:
    """Return how strange each place beyond a side is."""
    own, open_there = turned(picture, side), turned(hole, side)
    rows = np.flatnonzero(~open_there.all(1))
    columns = np.flatnonzero(~open_there.all(0))
    own = np.ascontiguousarray(own[rows[0] : rows[-1] + 1, columns[0] :], np.float32)
    wide = columns[-1] - columns[0] + 1
    scale = _ROWS / len(own)
    across, rim = round(own.shape[1] * scale), round(wide * scale)
    if across <= rim or rim < 1:
        return np.zeros(0, np.float32)
    small = cv2.resize(own / 255, (across, _ROWS), interpolation=cv2.INTER_AREA)
    colours = cv2.blur(cv2.cvtColor(np.clip(small, 0, 1), cv2.COLOR_RGB2LAB), (3, 3))
    deep = max(_LEAST_DEEP, across - rim)
    near_rim, beyond = colours[:, max(0, rim - deep) : rim], colours[:, rim:]
    strange = np.empty(beyond.shape[:2], np.float32)
    for row in range(_ROWS):
        like = near_rim[max(0, row - _NEAR) : row + _NEAR + 1].reshape(-1, 3)
        apart = np.linalg.norm(beyond[row][:, None] - like[None], axis=2)
        strange[row] = apart.min(1)
    return strange
