"""The crown of a head: the upper edge of a mask of people, hair included, with which a cut by colours must agree."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from oak_ledge.core.pixels.heads.mesh import MeshedFace
from oak_ledge.core.pixels.heads.networks import MASK, PEOPLE, Grid, run
from oak_ledge.core.pixels.heads.squares import square_at

# Of eyes to chin: the squares in which the mask is made; the last is cut by colours too.
_SIDES = 4.4, 6.2, 5.2

# Of eyes to chin: how far a crown is above the eyes, and ± so much.
USUAL, USUALLY = 1.1, 0.3

# Of how far a crown is from where it usually is: the least ±, as mask and cut may both take what is behind a head.
_DOUBT = 0.8

# Of the columns looked at, so many make a row of a head and not of a stray twig.
_CHORD = 0.12

# Of cheek to cheek, to either side: the columns of a head.
_HALF = 0.6

# Of eyes to chin: a crown that is nearer to the eyes, by the mask and by the cut, was not seen.
_LOWEST_MASK, _LOWEST_CUT = 0.45, 0.6

# Of eyes to chin: mask and cut that lie further apart disagree.
_AGREE = 0.06

# How often the cut by colours is made better.
_CUT_ROUNDS = 3

# Of the mask's values: its edge, and the blur about it.
_EDGES = 0.25, 0.5, 0.75


class Crown(NamedTuple):
    """How far a crown lies above the eyes along the face's axis, within what, pixels; and whether it was seen there."""

    above: float
    within: float
    seen: bool


def crown_of(rgb: Grid, face: MeshedFace) -> Crown:
    """Find the crown of a face; where it can't be seen it is reckoned from eyes and chin.

    The cut is by Rother, Kolmogorov & Blake, *GrabCut*, SIGGRAPH 2004.
    """
    tall, broad = face.tall, face.broad
    heights, blurs, square, row = [], [], rgb, 0.0
    for side in _SIDES:
        square, back = square_at(
            rgb, face.eyes + face.down * tall * (side - 4) / 2, side * tall, face.down, MASK
        )
        pixel = side * tall / MASK
        row = (MASK - 1) / 2 - (side - 4) / 2 * MASK / side  # of the eyes
        mask = people_in(square)
        tops = [_top(mask >= least, row, _HALF * broad / pixel) for least in _EDGES]
        x, y = back @ (MASK / 2, row - tops[1], 1)
        in_picture = y > 1 and 1 < x < rgb.shape[1] - 2
        if tops[1] * pixel > _LOWEST_MASK * tall and row - tops[1] > 2 and in_picture:
            heights.append(tops[1] * pixel)
            blurs.append((tops[0] - tops[2]) / 2 * pixel + pixel)
    if len(heights) < 2:
        return Crown(USUAL * tall, (USUALLY + 0.05) * tall, seen=False)
    pixel = _SIDES[-1] * tall / MASK
    inside = _cut_by_colours(square, row, tall / pixel, broad / pixel)
    cut = _top(inside, row, _HALF * broad / pixel) * pixel
    above, within = float(np.median(heights)), float(np.ptp(heights) / 2 + np.median(blurs))
    if abs(cut - above) > max(within, _AGREE * tall) and cut > _LOWEST_CUT * tall:
        above, within = (above + cut) / 2, abs(cut - above) / 2 + within
    odd = abs(above - USUAL * tall)  # a tall hat or hair, or something behind the head
    doubt = odd if odd > USUALLY * tall else _DOUBT * odd
    return Crown(above, max(within, doubt), seen=odd < 2 * USUALLY * tall)


def people_in(square: Grid) -> Grid:
    """Return which pixels of a square picture of `MASK` pixels are people, as shares of 0…1."""
    return np.asarray(run(PEOPLE, square, 1 / 255)[0].reshape(MASK, MASK))


def _top(inside: Grid, row: float, half: float) -> float:
    """Return how many rows from the eyes' up are filled in the columns of the head."""
    columns = inside[: int(row) + 1, round(MASK / 2 - half) : round(MASK / 2 + half)]
    rows = columns.mean(axis=1)[::-1] > _CHORD
    filled = len(rows) if rows.all() else int(np.argmin(rows))
    return filled + row - int(row) - 0.5


def _cut_by_colours(square: Grid, row: float, tall: float, broad: float) -> Grid:
    """Cut a head out by colours, from where a head usually is."""
    import cv2

    y, x = np.mgrid[:MASK:2, :MASK:2] + 0.5
    y, x = (y - row) / tall, (x - MASK / 2) / broad
    seeds = np.full(y.shape, cv2.GC_PR_BGD, np.uint8)
    seeds[(x / 0.85) ** 2 + (y / 1.35) ** 2 < 1] = cv2.GC_PR_FGD
    seeds[(x / 0.45) ** 2 + ((y - 0.2) / 0.7) ** 2 < 1] = cv2.GC_FGD
    seeds[(abs(x) > 1.3) & (y < 0.3) | (y < -1.9)] = cv2.GC_BGD
    half = cv2.resize(square, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    cv2.setRNGSeed(0)
    models = np.zeros((1, 65)), np.zeros((1, 65))
    cv2.grabCut(half, seeds, (0, 0, 1, 1), *models, _CUT_ROUNDS, cv2.GC_INIT_WITH_MASK)
    return np.repeat(np.repeat(seeds & 1, 2, axis=0), 2, axis=1).astype(bool)
