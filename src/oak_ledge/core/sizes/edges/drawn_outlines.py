"""Outlines that ship with the program: heart, star, cloud, arch, hexagon (rules, section 6).

Each is one part, symmetric from left to right, and drawn out to the piece's four edges.
"""

from __future__ import annotations

from itertools import pairwise
from math import atan2, cos, hypot, pi, sqrt

import numpy as np

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.sizes.edges.polygon import STRAY, Polygon

# Points of a star.
LEAST_POINTS, MOST_POINTS, USUAL_POINTS = 3, 24, 5

# Of a star of three or four points, whose edges would cross at no inner corner: how deep it is cut.
_FEW_POINTS_DEPTH = 0.45

# x and y of its middle, and its radius.
_Puff = tuple[float, float, float]

# The circles a cloud is made of, and its flat foot, in its own unit square.
_PUFFS: tuple[_Puff, ...] = (
    (0.16, 0.68, 0.16), (0.32, 0.5, 0.19), (0.5, 0.38, 0.22), (0.68, 0.5, 0.19), (0.84, 0.68, 0.16),
)  # fmt: skip
_CLOUD_FOOT = 0.83


def heart(output: Pixels) -> Polygon:
    """Draw a heart, by the curve x = 16 sin³t, y = 13 cos t − 5 cos 2t − 2 cos 3t − cos 4t."""
    t = _turns(output)
    x = 16 * np.sin(t) ** 3
    y = -(13 * np.cos(t) - 5 * np.cos(2 * t) - 2 * np.cos(3 * t) - np.cos(4 * t))
    return _drawn_out(np.stack([x, y], 1), output)


def star(output: Pixels, points: int) -> Polygon:
    """Draw a star, one point up; from five points on its edges lie on lines from point to point."""
    depth = cos(2 * pi / points) / cos(pi / points) if points > 4 else _FEW_POINTS_DEPTH
    turn = np.arange(2 * points) * (pi / points)
    reach = np.where(np.arange(2 * points) % 2 == 0, 1.0, depth)
    return _drawn_out(np.stack([reach * np.sin(turn), -reach * np.cos(turn)], 1), output)


def cloud(output: Pixels) -> Polygon:
    """Draw a cloud: five puffs on a flat foot."""
    count = len(_turns(output)) // 4
    meet = [_above(*pair) for pair in pairwise(_PUFFS)]
    x, y, radius = _PUFFS[0]
    foot = (x - sqrt(radius**2 - (_CLOUD_FOOT - y) ** 2), _CLOUD_FOOT)
    ends = [foot, *meet, (1 - foot[0], _CLOUD_FOOT)]
    arcs = []
    for (x, y, radius), (first, last) in zip(_PUFFS, pairwise(ends), strict=True):
        begin = atan2(first[1] - y, first[0] - x) % (2 * pi)
        end = begin + (atan2(last[1] - y, last[0] - x) - begin) % (2 * pi)
        turn = np.linspace(begin, end, count + 1)
        arcs.append(np.stack([x + radius * np.cos(turn), y + radius * np.sin(turn)], 1))
    return _drawn_out(np.concatenate(arcs), output)


def _above(puff: _Puff, other: _Puff) -> tuple[float, float]:
    """Return the upper of the two points in which two circles meet."""
    (x, y, radius), (x1, y1, radius1) = puff, other
    away = hypot(x1 - x, y1 - y)
    along = (away**2 + radius**2 - radius1**2) / (2 * away)
    off = sqrt(radius**2 - along**2)
    across, down = (x1 - x) / away, (y1 - y) / away
    return x + along * across + off * down, y + along * down - off * across


def arch(output: Pixels) -> Polygon:
    """Draw a rectangle with a half circle on top, flatter where the piece is too low for one."""
    wide, high = output
    rise = min(wide / 2, high / 2)
    t = np.linspace(pi, 2 * pi, len(_turns(output)) // 2 + 1)
    bow = np.stack([wide / 2 + wide / 2 * np.cos(t), rise + rise * np.sin(t)], 1)
    whole: Polygon = np.concatenate([bow, [[wide, high], [0.0, high]]]).astype(np.float64)
    return whole


def hexagon(output: Pixels) -> Polygon:
    """Draw a hexagon with a corner at the left and at the right."""
    x = np.array((0.0, 0.25, 0.75, 1.0, 0.75, 0.25))
    y = np.array((0.5, 0.0, 0.0, 0.5, 1.0, 1.0))
    return _drawn_out(np.stack([x, y], 1), output)


def _turns(output: Pixels) -> Polygon:
    """Return angles all round, so close that pieces between them stray under `STRAY` pixels."""
    count = 8 * max(32, min(2048, round(sqrt(max(output) / STRAY) / 2)))
    return np.linspace(0, 2 * pi, count, endpoint=False)


def _drawn_out(points: Polygon, output: Pixels) -> Polygon:
    low, high = points.min(0), points.max(0)
    drawn: Polygon = (points - low) / (high - low) * output
    return drawn
