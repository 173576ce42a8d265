"""What of a photo must not be copied into a fill: what is unique in it, or sharper than its rim.

So that a subject does not stand there twice. A fifth of the photo always stays to copy from.
"""

from __future__ import annotations

import cv2
import numpy as np

from oak_ledge.core.pixels.fill.grid import Floats, Grid, Mask, away, blurred, grey

# Of the photo stays to be copied from.
LEAVE = 0.2

# Likeness is measured on a small picture: its longer edge in pixels, and the radius that is compared.
LONG, RADIUS = 72, 2

# Places nearer than this share of the longer edge count as the same place.
APART = 0.14

MOST_UNIQUE = 5000.0

# A place whose distance from all others is greater than this is unique.
UNIQUE, UNIQUE_IN_PHOTO = 1500.0, 2500.0

# Matter this many times sharper than the rim is not copied.
SHARPER = 1.6

# The rim is this deep, a share of the longer edge.
RIM = 0.08

_AT_ONCE = 512


def unlike_any(grid: Grid, *, edges_open: bool, spread: bool = True) -> Floats:
    """Return how little each place resembles any other, in mean squared levels above the usual.

    With `edges_open`, matter at an edge that is extended may be copied, as the ground goes on from it.
    With `spread`, what lies beside something unique counts as unique too.
    """
    high, wide = grid.hole.shape
    scale = LONG / max(high, wide)
    small = (max(12, round(wide * scale)), max(12, round(high * scale)))
    known = cv2.resize(grid.known.astype(np.float32), small, interpolation=cv2.INTER_AREA)
    colours = (
        cv2.resize(grid.colours * grid.known[..., None], small, interpolation=cv2.INTER_AREA)
        / np.maximum(known, np.float32(1e-6))[..., None]
    )
    whole = known > 0.999
    box = np.ones((2 * RADIUS + 1,) * 2, np.uint8)
    within = (
        cv2.erode(whole.astype(np.uint8), box, borderType=cv2.BORDER_CONSTANT, borderValue=(0,)) > 0
    )
    if not within.any():
        return np.zeros((high, wide), np.float32)
    unlike = _least_difference(cv2.GaussianBlur(colours, (0, 0), 0.6), within)
    usual = np.median(unlike[within])
    excess = np.clip(unlike - 1.2 * usual, 0, MOST_UNIQUE)
    if spread:
        excess = cv2.dilate(excess, box)
        excess = cv2.morphologyEx(excess, cv2.MORPH_CLOSE, np.ones((9, 9), np.uint8))
    if edges_open:
        excess *= _from_open_edges(whole)
    answer: Floats = cv2.resize(cv2.GaussianBlur(excess, (0, 0), 1.0), (wide, high))
    return answer


def _least_difference(colours: Floats, within: Mask) -> Floats:
    """Return each place's mean squared difference from the place most like it, farther off."""
    ys, xs = np.nonzero(within)
    span = range(-RADIUS, RADIUS + 1)
    patches = np.stack([colours[ys + a, xs + b] for a in span for b in span], 1)
    flat = patches.reshape(len(ys), -1)
    squares = (flat * flat).sum(1)
    out = np.zeros(within.shape, np.float32)
    near = APART * LONG
    for start in range(0, len(ys), _AT_ONCE):
        part = slice(start, start + _AT_ONCE)
        differ = squares[part, None] + squares[None] - 2 * flat[part] @ flat.T
        beside = (np.abs(ys[part, None] - ys[None]) < near) & (
            np.abs(xs[part, None] - xs[None]) < near
        )
        differ[beside] = 1e9
        out[ys[part], xs[part]] = differ.min(1).clip(0, 1e6) / (2 * RADIUS + 1) ** 2
    return out


def _from_open_edges(known: Mask) -> Floats:
    """Return 0 at extended edges, growing to 1 a little inside the photo."""
    rows, columns = np.flatnonzero(known.any(1)), np.flatnonzero(known.any(0))
    beyond = np.zeros(known.shape, np.bool_)
    beyond[: rows[0]] = beyond[rows[-1] + 1 :] = True
    beyond[:, : columns[0]] = beyond[:, columns[-1] + 1 :] = True
    if not beyond.any():
        return np.ones(known.shape, np.float32)
    nearness: Floats = np.clip((away(~beyond) / LONG - 0.03) / 0.09, 0, 1)
    return nearness


def subject(grid: Grid) -> Mask:
    """Mark what an extension must not copy: what is unique, or clearly sharper than the rim."""
    known, long = grid.known, max(grid.hole.shape)
    light = grey(grid.colours)
    inside = cv2.erode(known.astype(np.uint8), np.ones((7, 7), np.uint8), borderValue=(0,))
    sharp = blurred(np.abs(light - blurred(light, 1.2)), 5, inside.astype(np.float32))
    rim = known & (away(known) < RIM * long)
    most = max(1.0, SHARPER * float(np.percentile(sharp[rim], 95)))
    unique, alone = unlike_any(grid, edges_open=True), UNIQUE
    reach = int(0.012 * long) * 2 + 1
    mask = np.zeros_like(known)
    for _ in range(6):
        mask = _closed((sharp > most) & known, reach) | (unique > alone)
        if (known & ~mask).sum() > LEAVE * known.sum():
            break
        most, alone = most * 1.4, alone * 1.4
    return mask & known


def _closed(mask: Mask, reach: int) -> Mask:
    wider = cv2.dilate(mask.astype(np.uint8), np.ones((reach, reach), np.uint8))
    box = np.ones((2 * reach + 1,) * 2, np.uint8)
    closed: Mask = cv2.morphologyEx(wider, cv2.MORPH_CLOSE, box) > 0
    return closed


def unique_matter(grid: Grid) -> Mask:
    """Mark what a hole in the photo must not copy: what is like nothing else."""
    mask: Mask = (unlike_any(grid, edges_open=False) > UNIQUE_IN_PHOTO) & grid.known
    return mask


def smooth_rim(grid: Grid, sigma: float = 8.0) -> bool:
    """Return whether the rim shows next to nothing: sky, water, a backdrop, a blur."""
    light, known = grey(grid.colours), grid.known
    inside = away(known)
    rim = known & (inside > sigma) & (inside < RIM * max(grid.hole.shape))
    if not rim.any():
        return False
    contrast = np.abs(light - blurred(light, sigma, known.astype(np.float32)))
    return float(np.median(contrast[rim])) < 2.5
