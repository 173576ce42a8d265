"""How light falls off from a photo's middle to its corners, divided out before smooth grounds."""

from __future__ import annotations

import cv2
import numpy as np

from oak_ledge.core.pixels.fill.grid import Floats, Grid, Mask, grey

# Pixels looked at along the longer edge; rings around the middle.
_EDGE, _RINGS = 160, 12

# The greatest fall-off taken, as a logarithm.
_MOST = -0.4

# Pixels of a quadrant's ring that say nothing.
_FEW = 15


def falloff(grid: Grid) -> Floats:
    """Return the light as a share of the middle's, (h, w), 1 in the middle, frozen beyond the photo.

    From radial slopes of the logarithm of lightness. The second weakest quadrant decides, so that a
    dark side of the scene doesn't count as fall-off.
    """
    rows, columns = np.flatnonzero(grid.known.any(1)), np.flatnonzero(grid.known.any(0))
    top, bottom, left, right = rows[0], rows[-1] + 1, columns[0], columns[-1] + 1
    part = np.s_[top:bottom, left:right]
    scale = _EDGE / max(bottom - top, right - left)

    def small(values: Floats) -> Floats:
        smaller: Floats = cv2.resize(values, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
        return smaller

    light = small(grey(np.ascontiguousarray(grid.colours[part])))
    known = small(grid.known[part].astype(np.float32)) > 0.99
    within = cv2.erode(known.astype(np.uint8), np.ones((7, 7), np.uint8)) > 0
    radii, steps = _slopes(np.log(cv2.GaussianBlur(light, (0, 0), 2) + 4), within)
    along = np.maximum(np.concatenate([[0], np.cumsum(steps)]), _MOST)
    high, wide = grid.hole.shape
    down = (np.arange(high).clip(top, bottom - 1) - (top + bottom - 1) / 2) * scale
    across = (np.arange(wide).clip(left, right - 1) - (left + right - 1) / 2) * scale
    away = np.hypot(down[:, None], across[None])
    shading: Floats = np.exp(np.interp(away, radii, along)).astype(np.float32)
    return shading


def _slopes(light: Floats, within: Mask) -> tuple[Floats, Floats]:
    """Return the rings' radii, and by how much light falls in each."""
    high, wide = light.shape
    down = (np.arange(high, dtype=np.float32) - (high - 1) / 2)[:, None] + np.zeros_like(light)
    across = (np.arange(wide, dtype=np.float32) - (wide - 1) / 2)[None] + np.zeros_like(light)
    away = np.hypot(down, across)
    change_down, change_across = np.gradient(light)
    slope = (change_across * across + change_down * down) / np.maximum(away, 1e-3)
    radii = np.linspace(0, away.max(), _RINGS + 1)
    usable = within & (light > 2.8) & (light < 5.5)  # neither black nor blown out
    steps = np.zeros(_RINGS)
    for ring in range(_RINGS):
        here = usable & (away >= radii[ring]) & (away < radii[ring + 1])
        quadrants = [here & ((down > 0) == a) & ((across > 0) == b) for a in (0, 1) for b in (0, 1)]
        medians = [np.median(slope[quadrant]) for quadrant in quadrants if quadrant.sum() > _FEW]
        steps[ring] = min(0.0, np.sort(medians)[-2]) if len(medians) >= 3 else 0
    return radii, steps * radii[1]
