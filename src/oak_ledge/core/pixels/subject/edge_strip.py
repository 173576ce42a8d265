"""A narrow strip of other content at a crop's edge, such as a door frame just caught by it."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

from oak_ledge.core.photos.continued import Side
from oak_ledge.core.planes.matrices import Matrix, at

# Lines looked at from each edge.
DEEP = 32


# Their distance, as a share of the crop.
STEP = 0.0025


# Places along an edge.
ACROSS = 48


# Lines: a strip wider than 3 % is no slip.
WIDEST_STRIP = 12


# Of 255, in the channel that differs most.
STRONG = 48


# Of the edge.
NEARLY_ALL = 0.8


Picture = npt.NDArray[Any]


def strip_at_edge(picture: Picture, matrix: Matrix) -> tuple[Side, float] | None:
    """Find the plainest strip at an edge of a crop: its side, and its share of the crop.

    Parameters
    ----------
    picture : (H, W, 3) of 8 bits, a photo or a smaller picture of it
    matrix : the crop's unit square → points of that picture
    """
    counts = np.arange(1, WIDEST_STRIP + 1)
    candidates: list[tuple[float, Side, float]] = []
    for side, lines in _lines(picture, matrix).items():
        sums = np.concatenate([np.zeros_like(lines[:1]), lines.cumsum(axis=0)])
        strips = sums[counts] / counts[:, None, None]
        beside = (sums[2 * counts + 6] - sums[counts + 1]) / (counts + 5)[:, None, None]
        differs = np.abs(strips - beside).max(axis=-1)
        plain = ((differs > STRONG).mean(axis=1) >= NEARLY_ALL).nonzero()[0]
        if plain.size:
            medians = np.median(differs[plain], axis=1)
            candidates += [
                (float(median), side, int(counts[n]) * STEP)
                for n, median in zip(plain, medians, strict=True)
            ]
    return max(candidates)[1:] if candidates else None


def _lines(picture: Picture, matrix: Matrix) -> dict[Side, Picture]:
    """Read lines along every edge, from the edge inwards: (DEEP, ACROSS, 3) each."""
    inward, along = np.meshgrid(
        (np.arange(DEEP) + 0.5) * STEP, (np.arange(ACROSS) + 0.5) / ACROSS, indexing="ij"
    )
    places: dict[Side, tuple[Picture, Picture]] = {
        "left": (inward, along),
        "top": (along, inward),
        "right": (1 - inward, along),
        "bottom": (along, 1 - inward),
    }
    high, wide = picture.shape[:2]
    read: dict[Side, Picture] = {}
    for side, (u, v) in places.items():
        points = at(matrix, np.stack([u.ravel(), v.ravel()], axis=1))
        columns = np.clip(points[:, 0].astype(int), 0, wide - 1)
        rows = np.clip(points[:, 1].astype(int), 0, high - 1)
        read[side] = picture[rows, columns].reshape(DEEP, ACROSS, -1).astype(np.float32)
    return read
