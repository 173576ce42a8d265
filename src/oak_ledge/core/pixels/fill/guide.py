"""What a fill is led along: rows, or the rays that the lines of a scene meet in.

A fill without a guide takes its matter from anywhere. Led along rows it takes sky for sky and water
for water; led along rays it goes on with planks, kerbs and eaves that run at a slant, or in perspective.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from oak_ledge.core.pixels.fill.grid import Floats, Grid, away, blurred, grey

# Of the longer edge: from so near the hole come the lines that count.
_BAND = 0.25

# Blocks: the scale of gradients and of the directions they agree on.
_FINE, _WIDE = 1.2, 3.0

# How much the gradients around must agree, 0 to 1.
_COHERENT = 0.55

# Places looked at, and pairs of them tried.
_LINES, _TRIES = 3000, 500

# A line that misses the point by more does not meet in it.
_OFF = np.deg2rad(4.0)

# Of all lines must meet in it, by weight.
_SUPPORT = 0.5

# Of the height: rays that stray less from rows are rows.
_NEW = 0.04

Doubles = npt.NDArray[np.float64]


@dataclass(frozen=True)
class Lines:
    """Places with a direction: points (n, 2) as x, y; unit tangents (n, 2); weights (n)."""

    points: Doubles
    tangents: Doubles
    weights: Doubles


def rows(grid: Grid) -> Floats:
    """Return each block its row, beyond the photo that of its nearest edge."""
    known = np.flatnonzero(grid.known.any(1))
    lines = np.clip(np.arange(grid.hole.shape[0], dtype=np.float32), known[0], known[-1])
    return np.repeat(lines[:, None], grid.hole.shape[1], 1)


def rays(grid: Grid, seed: int) -> Floats | None:
    """Return each block the ray it lies on, in blocks across the rays; None where no lines meet.

    Lines near the hole vote for the point they meet in, which may be endlessly far (random sample
    consensus, Fischler & Bolles, CACM 24, 1981; the last step is least squares).
    """
    lines = lines_near(grid, np.random.default_rng(seed))
    if lines is None:
        return None
    point = meeting(lines, np.random.default_rng(seed))
    if point is None:
        return None
    high, wide = grid.hole.shape
    ys, xs = np.nonzero(grid.hole)
    middle = np.array([xs.mean(), ys.mean()])
    ray = _across(point, wide, high, middle)
    known = ray[grid.known]
    ray = np.clip(ray, known.min(), known.max())
    level = np.abs((ray - rows(grid)) - np.median((ray - rows(grid))[grid.hole]))
    same = float(np.median(level[grid.hole])) < _NEW * high
    return None if same else ray


def lines_near(grid: Grid, rng: np.random.Generator) -> Lines | None:
    """Find places near the hole whose surroundings have one direction; None where there are few."""
    light = blurred(grey(grid.colours), _FINE, grid.known.astype(np.float32))
    across, down = np.gradient(light, axis=1), np.gradient(light, axis=0)
    inside = away(grid.known)
    usable = (inside > 4) & (inside < _BAND * max(grid.hole.shape))
    across, down = across * usable, down * usable
    xx, yy, xy = (blurred(other, _WIDE) for other in (across * across, down * down, across * down))
    spread = np.sqrt((xx - yy) ** 2 + 4 * xy * xy)
    coherent = spread / np.maximum(xx + yy, 1e-6)
    strong = usable & (coherent > _COHERENT) & (xx + yy > np.quantile((xx + yy)[usable], 0.5))
    ys, xs = np.nonzero(strong)
    if len(ys) < 50:
        return None
    chosen = rng.choice(len(ys), min(_LINES, len(ys)), replace=False)
    ys, xs = ys[chosen], xs[chosen]
    normal = 0.5 * np.arctan2(2 * xy[ys, xs], (xx - yy)[ys, xs])  # of the gradients
    tangents = np.stack([-np.sin(normal), np.cos(normal)], 1)
    weights = np.sqrt((xx + yy)[ys, xs]) * coherent[ys, xs]
    return Lines(np.stack([xs, ys], 1).astype(np.float64), tangents, weights.astype(np.float64))


def meeting(lines: Lines, rng: np.random.Generator) -> Doubles | None:
    """Find the point (x, y, w), w 0 if endlessly far, in which most lines meet; None where they don't."""
    middle, scale = lines.points.mean(0), max(1.0, float(np.ptp(lines.points, axis=0).max()))
    points = (lines.points - middle) / scale
    normals = np.stack([-lines.tangents[:, 1], lines.tangents[:, 0]], 1)
    flat = np.concatenate([normals, -(normals * points).sum(1, keepdims=True)], 1)
    share = lines.weights / lines.weights.sum()
    pairs = rng.choice(len(flat), (_TRIES, 2), p=share)
    meets = np.cross(flat[pairs[:, 0]], flat[pairs[:, 1]])
    meets = meets[np.linalg.norm(meets, axis=1) > 1e-9]
    if not len(meets):
        return None
    scores = [float((share * _votes(meet, points, lines.tangents)).sum()) for meet in meets]
    best = meets[int(np.argmax(scores))]
    if max(scores) < _SUPPORT:
        return None
    for _ in range(3):
        weight = share * _votes(best, points, lines.tangents)
        best = np.linalg.eigh((flat * weight[:, None]).T @ flat)[1][:, 0]
    return np.array(
        [best[0] * scale + middle[0] * best[2], best[1] * scale + middle[1] * best[2], best[2]]
    )


def _votes(point: Doubles, points: Doubles, tangents: Doubles) -> Doubles:
    """Return 1 for a line through a point, falling to 0 for one that misses it by `_OFF`."""
    towards = point[None, :2] - points * point[2]
    long = np.maximum(np.linalg.norm(towards, axis=1), 1e-12)
    sine = np.abs(towards[:, 0] * tangents[:, 1] - towards[:, 1] * tangents[:, 0]) / long
    votes: Doubles = np.clip(1 - (sine / np.sin(_OFF)) ** 2, 0, 1)
    return votes


def _across(point: Doubles, wide: int, high: int, middle: Doubles) -> Floats:
    """Return how far across the rays each block lies, in blocks as they are at `middle`."""
    xs, ys = np.arange(wide)[None], np.arange(high)[:, None]
    towards = point[:2] - middle * point[2]
    reach = float(np.linalg.norm(towards))
    if abs(point[2]) * max(wide, high) * 20 < reach:  # as good as endlessly far
        normal = np.array([-towards[1], towards[0]]) / reach
        offset = normal[0] * (xs - middle[0]) + normal[1] * (ys - middle[1])
        level: Floats = (offset * np.sign(normal[1] or 1)).astype(np.float32)
        return level
    x, y = point[:2] / point[2]
    base = np.arctan2(middle[1] - y, middle[0] - x)
    turned = np.arctan2(ys - y, xs - x) - base
    angle = np.arctan2(np.sin(turned), np.cos(turned))
    across: Floats = (angle * np.hypot(middle[0] - x, middle[1] - y)).astype(np.float32)
    return across
