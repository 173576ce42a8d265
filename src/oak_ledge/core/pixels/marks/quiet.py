"""The quietest places of a piece: where words or a mark would be read, and cover the least."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from oak_ledge.core.pixels.marks.detail import detail
from oak_ledge.core.planes.boxes import meet

# Left, top, width and height, as shares of the piece.
Place = tuple[float, float, float, float]

# Of the piece's width and height: a place with room for a few words.
WIDE, HIGH = 0.34, 0.2

# How many are found; fewer where no more are free.
MOST = 3

# Of the piece's edges: places begin so far apart, and so far from its edge.
_STEP = 0.02


def quiet_places(pixels: npt.NDArray[Any], barred: Sequence[Place] = ()) -> tuple[Place, ...]:
    """Return the places with the least detail, the quietest first, none over another.

    Parameters
    ----------
    pixels : (H, W, C) of the piece as it looks, 8 bits
    barred : what must stay free
    """
    sums = cv2.integral(detail(pixels), sdepth=cv2.CV_64F)
    high, wide = pixels.shape[:2]
    offsets = {
        "x": np.arange(_STEP, 1 - WIDE - _STEP / 2, _STEP),
        "y": np.arange(_STEP, 1 - HIGH - _STEP / 2, _STEP),
    }
    left, right = _places(offsets["x"], wide), _places(offsets["x"] + WIDE, wide)
    top, foot = _places(offsets["y"], high), _places(offsets["y"] + HIGH, high)
    inside = (
        sums[np.ix_(foot, right)]
        - sums[np.ix_(top, right)]
        - sums[np.ix_(foot, left)]
        + sums[np.ix_(top, left)]
    )
    mean = inside / ((foot - top)[:, None] * (right - left))
    places: list[Place] = []
    for n in np.argsort(mean, axis=None, kind="stable"):
        row, column = np.unravel_index(n, mean.shape)
        place = (float(offsets["x"][column]), float(offsets["y"][row]), WIDE, HIGH)
        if not any(meet(place, other) for other in (*barred, *places)):
            places.append(place)
            if len(places) == MOST:
                break
    return tuple(places)


def _places(shares: npt.NDArray[np.float64], edge: int) -> npt.NDArray[np.intp]:
    return np.rint(shares * edge).astype(np.intp)
