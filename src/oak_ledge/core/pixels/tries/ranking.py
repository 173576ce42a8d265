"""Which of several fills of one photo come first, and which are near-twins.

It orders the tries of one photo; across photos no such figure tells whether a fill is plausible, so
none is ever shown.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import log, log1p
from statistics import median

import cv2
import numpy as np

from oak_ledge.core.pixels.fill.grid import Floats, Grid, away, blurred, grey
from oak_ledge.core.pixels.fill.solve import Solved
from oak_ledge.core.pixels.fill.uncopied import unlike_any
from oak_ledge.core.pixels.tries.strange_colours import strange_colours

# Mean levels: what differs by less is the same to the eye.
TWIN = 3.0

# Logarithms of lost detail: in itself, and against the sharpest.
MOST_SOFT, SOFTER = 0.6, 0.3

# Levels of colour: a ground that is so much stranger than the best is spoilt.
SPOILT = 1.0

# Pixels of the square fills are compared on.
_THUMB = 240


@dataclass(frozen=True)
class Look:
    """What orders a try. `thumb` is a small picture of it, (240, 240, 3)."""

    score: float
    """a higher first; of grounds, only where it is much higher"""
    soft: float
    thumb: Floats
    hole: Floats
    """(240, 240) share that is filled"""


def look(solved: Solved, grid: Grid) -> Look:
    """Measure a fill within a photo: its seam, what is unique and copied, lost detail, what strays."""
    wide = grid.hole.shape[1]
    ys, xs = np.nonzero(grid.hole)
    from_y, from_x = solved.from_y[grid.hole], solved.from_x[grid.hole]
    place_x = np.where(from_x >= wide, 2 * wide - 1 - from_x, from_x)
    picture = solved.picture
    unique = unlike_any(grid, edges_open=False, spread=False)[from_y, place_x].mean() / 1000
    soft = _softness(picture, grid)
    step = log1p(_step(solved, grid, picture, ys, xs))
    score = 10 - 2.5 * soft - 3 * unique - 6 * solved.strays - 1.2 * max(0.0, step - 1.5)
    return _look(score, soft, picture, grid)


def look_around(picture: Floats, grid: Grid) -> Look:
    """Measure a ground, shown as a whole `picture` of its canvas: lost detail, and strange colours."""
    return _look(-strange_colours(picture, grid.hole), _softness(picture, grid), picture, grid)


def _look(score: float, soft: float, picture: Floats, grid: Grid) -> Look:
    square = (_THUMB, _THUMB)
    return Look(
        float(score),
        soft,
        cv2.resize(picture, square, interpolation=cv2.INTER_AREA),
        cv2.resize(grid.hole.astype(np.float32), square, interpolation=cv2.INTER_AREA),
    )


def _softness(picture: Floats, grid: Grid) -> float:
    """Return by how much less detail a fill has than the photo near it, as a logarithm, 0 at least."""
    light = grey(picture)
    detail = np.abs(light - blurred(light, 1.2))
    far = away(grid.known)
    rim = grid.known & (far > 3) & (far < 0.12 * max(grid.hole.shape))
    if not rim.any():
        return 0.0
    lost = log((detail[rim].mean() + 0.3) / (detail[grid.hole].mean() + 0.3))
    return min(1.0, max(0.0, lost))  # a rim may well be busier than what lies beyond it


def _step(solved: Solved, grid: Grid, picture: Floats, ys: Floats, xs: Floats) -> float:
    """Return how far what the rim's pieces show beyond it is from the photo, in levels."""
    high, wide = grid.hole.shape
    atlas = np.hstack([picture, picture[:, ::-1]])
    steps = []
    for down, right in ((2, 0), (-2, 0), (0, 2), (0, -2)):
        y, x = ys + down, xs + right
        out = (y >= 0) & (y < high) & (x >= 0) & (x < wide)
        out[out] &= grid.known[y[out], x[out]]
        at = (ys[out], xs[out])
        from_y = (solved.from_y[at] + down).clip(0, high - 1)
        from_x = (solved.from_x[at] + right).clip(0, 2 * wide - 1)
        steps.append(np.abs(grid.colours[y[out], x[out]] - atlas[from_y, from_x]).mean(1))
    every = np.concatenate(steps)
    return float(every.mean()) if len(every) else 0.0


def by_score(looks: Sequence[Look]) -> list[int]:
    """Return which fills within a photo are worth showing, the best first."""
    sharpest = min((candidate.soft for candidate in looks), default=0.0)
    ordered = sorted(range(len(looks)), key=lambda n: (-looks[n].score, n))
    return _worth_showing(looks, ordered, sharpest)


def by_way(looks: Sequence[Look]) -> list[int]:
    """Return which grounds are worth showing: in the order of their ways, what is spoilt behind.

    That order is what marks gave: no fitted measure did better, but strange colours tell what is spoilt.
    A bare wall beside a busy rim is soft in most of them: then the one that is sharp is the odd one.
    """
    best = max((candidate.score for candidate in looks), default=0.0)
    spoilt = [candidate.score < best - SPOILT for candidate in looks]
    ordered = sorted(range(len(looks)), key=lambda n: (spoilt[n], n))
    usual = median(candidate.soft for candidate in looks) if looks else 0.0
    return _worth_showing(looks, ordered, usual)


def _worth_showing(looks: Sequence[Look], ordered: Sequence[int], soft_usual: float) -> list[int]:
    """Leave out near-twins, and what is much softer than a usual one: a fill that failed."""
    kept: list[int] = []
    for n in ordered:
        candidate = looks[n]
        soft = candidate.soft >= MOST_SOFT and candidate.soft >= soft_usual + SOFTER
        if not soft and not any(differ(candidate, looks[other]) < TWIN for other in kept):
            kept.append(n)
    return kept


def differ(first: Look, other: Look) -> float:
    """Return the mean difference of two fills of the same hole, in levels."""
    filled = first.hole > 0.5
    if not filled.any():
        filled = first.hole > 0
    return float(np.abs(first.thumb - other.thumb)[filled].mean())
