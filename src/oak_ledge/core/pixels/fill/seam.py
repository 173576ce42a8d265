"""How a fill meets the photo: the step between them is carried into the fill, never into the photo."""

from __future__ import annotations

from math import ceil

import cv2
import numpy as np

from oak_ledge.core.pixels.fill.grid import Floats, Mask
from oak_ledge.core.pixels.fill.matches import Atlas, Places

_BESIDE = tuple((n * a, n * b) for n in (1, 2, 3) for a, b in ((1, 0), (-1, 0), (0, 1), (0, -1)))

# Levels: a greater one is another thing, not another light.
_MOST_STEP = 14.0

# Blocks: how smooth the step is at the rim.
_FIRST = 2.5

# Blocks of blur from where on a smaller grid does.
_COARSE = 8.0


def carried_step(
    atlas: Atlas, photo: Floats, hole: Mask, from_y: Places, from_x: Places, reach: float
) -> Floats:
    """Return what to add to a fill, (h, w, 3), so that it meets the photo, fading out over `reach` blocks.

    The step is between the photo and what each piece at the rim shows of itself there, smoothed along
    the rim.
    """
    high, wide = hole.shape
    steps, counts = np.zeros((high, wide, 3), np.float32), np.zeros((high, wide), np.float32)
    ys, xs = np.nonzero(hole)
    for down, right in _BESIDE:
        y, x = ys + down, xs + right
        out = (y >= 0) & (y < high) & (x >= 0) & (x < wide)
        out[out] &= ~hole[y[out], x[out]]
        at = (ys[out], xs[out])
        shown = atlas.colours[atlas.at(from_y[at] + down, from_x[at] + right)]
        steps[at] += np.clip(photo[y[out], x[out]] - shown, -_MOST_STEP, _MOST_STEP)
        counts[at] += 1
    if not counts.any():
        return steps
    spread = _spread(steps, counts, reach)
    far = cv2.distanceTransform(hole.astype(np.uint8), cv2.DIST_L2, 3)
    step: Floats = spread * (np.clip(1 - far / reach, 0, 1) ** 2 * hole)[..., None]
    return step


def _spread(values: Floats, weights: Floats, reach: float) -> Floats:
    """Spread values by normalised blurs: near where they are finely, farther out ever more coarsely."""
    high, wide = weights.shape
    out, whole = np.zeros_like(values), np.zeros((high, wide), np.float32)
    sigma = _FIRST
    while sigma < reach:
        part = 2 ** max(0, ceil(np.log2(sigma / _COARSE)))
        blurred = [_coarsely(layer, sigma, part) for layer in (values, weights)]
        share = np.minimum(blurred[1] * sigma * 4, 1) * (1 - whole)
        out += blurred[0] / np.maximum(blurred[1], 1e-9)[..., None] * share[..., None]
        whole += share
        sigma *= 2
    return out


def _coarsely(values: Floats, sigma: float, part: int) -> Floats:
    high, wide = values.shape[:2]
    small = (max(1, wide // part), max(1, high // part))
    less = values if part == 1 else cv2.resize(values, small, interpolation=cv2.INTER_AREA)
    less = cv2.GaussianBlur(less, (0, 0), sigma / part)
    smooth: Floats = cv2.resize(less, (wide, high), interpolation=cv2.INTER_LINEAR)
    return smooth
