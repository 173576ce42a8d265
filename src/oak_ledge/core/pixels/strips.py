"""A narrow strip of other content at a crop's edge, such as a door frame just caught by it."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np
import numpy.typing as npt

from oak_ledge.core.geometry import Matrix, at

Side = Literal["left", "top", "right", "bottom"]
DEEP, STEP = (
    32,
    0.0025,
)  # lines looked at from each edge, and their distance, as a share of the crop
ACROSS = 48  # places along an edge
MOST = 12  # lines: a strip wider than 3 % is no slip
STRONG = 48  # of 255, in the channel that differs most
NEARLY_ALL = 0.8  # of the edge
Picture = npt.NDArray[Any]


def strip_at_edge(picture: Picture, matrix: Matrix) -> tuple[Side, float] | None:
    """Find the plainest strip at an edge of a crop: its side, and its share of the crop.

    Parameters
    ----------
    picture : (H, W, 3) of 8 bits, a photo or a smaller picture of it
    matrix : the crop's unit square → points of that picture
    """
    found: list[tuple[float, Side, float]] = []
    for side, lines in _lines(picture, matrix).items():
        for count in range(1, MOST + 1):
            strip = lines[:count].mean(axis=0)
            beside = lines[count + 1 : 2 * count + 6].mean(axis=0)
            differs = np.abs(strip - beside).max(axis=-1)
            if (differs > STRONG).mean() >= NEARLY_ALL:
                found.append((float(np.median(differs)), side, count * STEP))
    return max(found)[1:] if found else None


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
