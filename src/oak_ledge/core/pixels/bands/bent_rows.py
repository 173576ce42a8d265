"""Rows bent along the lines that are drawn on: what leads the fill around them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from oak_ledge.core.pixels.bands.bundle import Bundle
from oak_ledge.core.pixels.lines.rim_line import Floats

# Of the height: so near a line rows are bent like it.
_NEAR = 0.05

# Weight of rows as they are.
_LEVEL = 0.05

# Rise over run: steeper lines stand before what lies in rows, and bend none of it.
_STEEPEST = 0.8


def bent_by(bundles: Sequence[Bundle], x: Floats, y: Floats, photo: tuple[int, int]) -> Floats:
    """Return by how many rows what lies at columns x, (w), rows y, (h), lies below where it would at the rim.

    Parameters
    ----------
    x, y : in the pixels of the picture the lines were found on, x from the rim
    photo : the width and height of that picture

    Returns
    -------
    (h, w) rows
    """
    wide, high = photo
    bent = np.zeros((len(y), len(x)))
    weights = np.zeros((len(y), len(x)))
    for bundle in bundles:
        for line in bundle.lines:
            if abs(line.slope) > _STEEPEST:
                continue
            at = line.y(np.maximum(x, -min(line.length, 0.5 * wide)))[None]
            weight = np.exp(-(((y[:, None] - at) / (_NEAR * high)) ** 2)) * line.length / wide
            bent += weight * (at - line.at)
            weights += weight
    rows: Floats = bent / (weights + _LEVEL)
    return rows
