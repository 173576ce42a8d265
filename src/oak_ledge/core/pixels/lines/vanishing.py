"""The point that the lines reaching a rim meet in."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from oak_ledge.core.pixels.lines.rim_line import RimLine
from oak_ledge.core.pixels.lines.segments import Doubles

# Degrees by which a line may miss the point.
_OFF = 1.5

# Of all lines, by length, must meet in it; and so many.
_SUPPORT, _FEWEST = 0.6, 4

# Pixels: numbers of one size are reckoned with.
_UNIT = 1000.0


def vanishing_point(lines: Sequence[RimLine], wide: int) -> tuple[Doubles, list[int]] | None:
    """Return the point (x, y, w) most lines meet in, w 0 if endlessly far, and which lines do.

    `wide` is the photo's width. None where they don't meet.
    """
    if len(lines) < _FEWEST:
        return None
    flat = np.array([[line.slope, -1.0, line.at] for line in lines])
    flat /= np.hypot(flat[:, 0], flat[:, 1])[:, None]
    flat[:, 2] /= _UNIT
    weights = np.array([min(line.length, 0.5 * wide) for line in lines])
    best, most, members = np.zeros(3), 0.0, np.zeros(len(lines), np.bool_)
    for n in range(len(lines)):
        for other in range(n):
            point = np.cross(flat[n], flat[other])
            size = np.linalg.norm(point)
            if size < 1e-9:
                continue
            point = point / size * (_UNIT, _UNIT, 1)
            meet = missed(lines, point, -0.1 * wide) < _OFF
            if weights[meet].sum() > most:
                best, most, members = point, float(weights[meet].sum()), meet
    if most < _SUPPORT * weights.sum() or members.sum() < _FEWEST:
        return None
    return best, [int(n) for n in np.flatnonzero(members)]


def missed(lines: Sequence[RimLine], point: Doubles, x: Doubles | float) -> Doubles:
    """Return the degrees between each line and the way to a point, seen from where it is at column x."""
    at, slope, bend = np.array([(line.at, line.slope, line.bend) for line in lines]).T
    y = at + slope * x + bend * x * x
    towards = point[:2] - np.stack([np.broadcast_to(x, y.shape), y], 1) * point[2]
    far = np.maximum(np.linalg.norm(towards, axis=1), 1e-12)
    steep = slope + 2 * bend * x
    sines = np.abs(towards[:, 0] * steep - towards[:, 1]) / (far * np.hypot(1, steep))
    degrees: Doubles = np.rad2deg(np.arcsin(np.minimum(1, sines)))
    return degrees
