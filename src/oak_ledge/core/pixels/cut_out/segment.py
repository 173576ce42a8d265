"""Which pixels of a small picture are a thing, and which its ground.

Graph cuts over mixtures of colours (Rother, Kolmogorov & Blake, *GrabCut*, SIGGRAPH 2004, by OpenCV),
begun from where the thing lies and from what was brushed.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

Mask = npt.NDArray[np.bool_]
Bytes = npt.NDArray[np.uint8]
# Of single precision.
Floats = npt.NDArray[Any]

# Pixels of the longer edge a thing is found at.
SMALL = 480

# Levels: a ground that differs by no more from a bent plane is plain.
_PLAIN = 5.0

# Levels a pixel: on a ground that is rougher no shadow is told.
_ROUGH = 12.0

# Of how clear the outer edge is: a hole whose edge is softer is a light on the thing.
_GLINT = 0.35

# Pixels: how far away the light on the ground is looked at.
_LIT = 40.0

# Rounds of cutting.
_ROUNDS = 4

# Of the thing's area: a part by itself, or a hole, that is smaller is dust.
_DUST = 0.004

# Of the picture's edges: where nothing says where the thing lies, so much around is ground.
_RIM = 0.02


@dataclass(frozen=True)
class Way:
    """One way to tell a thing from its ground: how much lightness counts beside colour, and holes."""

    lightness: float
    holes: bool = True


# The tries.
WAYS = (Way(1.0), Way(0.45), Way(0.2), Way(0.7, holes=False))


@dataclass(frozen=True)
class Seeds:
    """What is known before: where the thing lies at most, what surely is it, and what surely is not."""

    within: Mask
    thing: Mask
    ground: Mask


def segment(picture: Bytes, seeds: Seeds, way: Way) -> Mask:
    """Return which pixels of an sRGB picture, (H, W, 3), are the thing.

    None of them where nothing can be told apart.
    """
    lab = cv2.cvtColor(picture, cv2.COLOR_RGB2LAB).astype(np.float32)
    around = _plain_around(lab, seeds.within)
    if around is not None:
        lab += lab[~seeds.within].mean(axis=0) - around
    lab[..., 0] = 128 + (lab[..., 0] - 128) * way.lightness
    # what is left of lightness is made up for by colour, which differs by less
    lab[..., 1:] = 128 + (lab[..., 1:] - 128) * (1.6 if way.lightness < 1 else 1.0)
    seen = np.clip(np.rint(lab), 0, 255).astype(np.uint8)
    labels = np.where(seeds.within, cv2.GC_PR_FGD, cv2.GC_BGD).astype(np.uint8)
    labels[seeds.within & _like_around(seen, seeds.within)] = cv2.GC_PR_BGD
    labels[seeds.thing], labels[seeds.ground] = cv2.GC_FGD, cv2.GC_BGD
    if not ((labels == cv2.GC_PR_FGD) | (labels == cv2.GC_FGD)).any():
        labels[seeds.within & ~seeds.ground] = cv2.GC_PR_FGD
    if not (labels == cv2.GC_PR_BGD).any() and not (labels == cv2.GC_BGD).any():
        return seeds.within & ~seeds.ground
    models = np.zeros((1, 65)), np.zeros((1, 65))
    cv2.setRNGSeed(7)  # the same each time
    try:
        cv2.grabCut(seen, labels, (0, 0, 1, 1), *models, _ROUNDS, cv2.GC_INIT_WITH_MASK)
    except cv2.error:
        return seeds.within & ~seeds.ground
    thing: Mask = (labels == cv2.GC_FGD) | (labels == cv2.GC_PR_FGD)
    if not thing.any():
        unlike = seeds.within & ~seeds.ground & ~_like_around(seen, seeds.within)
        thing = _closed(unlike)
    thing = _without_dust(thing, seeds, holes=way.holes)
    steps = steps_of(picture)
    thing = without_shadow(picture, thing, steps, seeds)
    if way.holes:
        thing &= ~_looked_through(seen, thing, steps, seeds)
    return without_glints(_without_dust(thing, seeds, holes=way.holes), steps, seeds.ground)


def _looked_through(seen: Bytes, thing: Mask, steps: Floats, seeds: Seeds) -> Mask:
    """Return places within a thing that look like its ground, behind an edge as clear as its own."""
    like = _like_around(seen, thing) & thing & ~seeds.thing
    opened = cv2.morphologyEx(like.astype(np.uint8), cv2.MORPH_OPEN, np.ones((5, 5), np.uint8))
    outer, least = clearness(steps, thing, 50), max(25.0, _DUST * thing.sum())
    count, labels, figures, _ = cv2.connectedComponentsWithStats(opened, connectivity=4)
    found = np.zeros(thing.shape, np.bool_)
    for n in range(1, count):
        place = labels == n
        if figures[n, cv2.CC_STAT_AREA] >= least and clearness(steps, place, 50) > _GLINT * outer:
            found |= place
    return found


def _closed(mask: Mask) -> Mask:
    whole: Mask = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((5, 5))) > 0
    return whole


def _plain_around(lab: Floats, within: Mask) -> Floats | None:
    """Return what a plain ground would be everywhere, a bent plane through it; None of one that is not plain."""
    high, wide = within.shape
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    x, y = x / wide - 0.5, y / high - 0.5
    terms = np.stack([np.ones_like(x), x, y, x * x, y * y, x * y], axis=2)
    ground = ~within
    if ground.mean() < 0.1:
        return None
    fit, *_ = np.linalg.lstsq(terms[ground][::7], lab[ground][::7], rcond=None)
    plain: Floats = (terms @ fit).astype(np.float32)
    return plain if float(np.abs(lab - plain)[ground].mean()) < _PLAIN else None


def without_shadow(picture: Bytes, thing: Mask, steps: Floats, seeds: Seeds) -> Mask:
    """Take away what is a shadow on the ground: of its colours, darker, and reached across no edge."""
    ground = ~thing & ~seeds.thing
    if not ground.any() or not thing.any() or np.median(steps[ground]) > _ROUGH:
        return thing
    smooth = cv2.GaussianBlur(picture, (0, 0), 1.2).astype(np.float32)
    weight = cv2.GaussianBlur(ground.astype(np.float32), (0, 0), _LIT)
    lit = (
        cv2.GaussianBlur(smooth * ground[..., None], (0, 0), _LIT)
        / np.maximum(weight, 1e-4)[..., None]
    )
    ratio = smooth / np.maximum(lit, 1)
    share = ratio.mean(axis=2)
    spread = np.abs(ratio - share[..., None]).max(axis=2)
    shaded = thing & (share > 0.25) & (share < 1.03) & (spread < 0.07) & ~seeds.thing
    most = max(6.0, 0.3 * clearness(steps, thing, 75))
    beside = cv2.dilate((~thing).astype(np.uint8), np.ones((7, 7), np.uint8)) > 0
    gone = _touching(shaded & (steps < most), beside)
    wider = cv2.dilate(gone.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    taken = gone | (wider & shaded)
    if taken.sum() >= 0.6 * thing.sum():
        return thing
    return _without_slivers(thing & ~taken, taken)


def _without_slivers(thing: Mask, taken: Mask) -> Mask:
    """Take away what is left thin beside what was taken, such as the grain of a shaded table."""
    opened = cv2.morphologyEx(thing.astype(np.uint8), cv2.MORPH_OPEN, np.ones((7, 7), np.uint8))
    thin = thing & (opened == 0)
    beside = cv2.dilate(taken.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    return thing & ~_touching(thin, beside)


def _like_around(seen: Bytes, within: Mask) -> Mask:
    """Return which pixels are like what lies around: within the usual spread of the ground's colours."""
    ground = seen[~within].reshape(-1, 3).astype(np.float32)
    if len(ground) < 50:
        return np.zeros(within.shape, np.bool_)
    some = ground[:: max(1, len(ground) // 4000)]
    cv2.setRNGSeed(7)
    count = min(5, len(some))
    stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 20, 0.5)
    begun = np.zeros((len(some), 1), np.int32)
    _, labels, middles = cv2.kmeans(some, count, begun, stop, 2, cv2.KMEANS_PP_CENTERS)
    far = np.full(within.shape, np.inf, np.float32)
    for n in range(count):
        own = some[labels[:, 0] == n]
        spread = np.maximum(own.std(axis=0), 4.0)
        away = (((seen - middles[n]) / spread) ** 2).sum(axis=2)
        far = np.minimum(far, away)
    like: Mask = far < 6.0
    return like


def _without_dust(thing: Mask, seeds: Seeds, *, holes: bool) -> Mask:
    """Leave out small parts, and close small holes; without `holes` all but those brushed."""
    least = max(9.0, _DUST * thing.sum())
    whole = _parts_from(thing, least, seeds.thing)
    open_ = _parts_from(~whole, least, seeds.ground)
    if not holes:
        open_ = _reached(open_) | _touching(open_, seeds.ground)
    return ~open_


def _parts_from(mask: Mask, least: float, kept: Mask) -> Mask:
    count, labels, figures, _ = cv2.connectedComponentsWithStats(
        mask.astype(np.uint8), connectivity=4
    )
    large = figures[:, cv2.CC_STAT_AREA] >= least
    large[np.unique(labels[kept & mask])] = True
    large[0] = False
    chosen: Mask = large[labels]
    return chosen if count > 1 else mask


def _reached(mask: Mask) -> Mask:
    """Return what of a mask hangs together with the picture's edge."""
    edge = np.ones(mask.shape, np.bool_)
    edge[1:-1, 1:-1] = False
    return _touching(mask, edge)


def _touching(mask: Mask, spots: Mask) -> Mask:
    """Return the parts of a mask, each whole, that some spots lie on."""
    _, labels = cv2.connectedComponents(mask.astype(np.uint8), connectivity=4)
    there = np.unique(labels[spots & mask])
    chosen: Mask = np.isin(labels, there[there > 0])
    return chosen


def everywhere(shape: tuple[int, int]) -> Mask:
    """Return where a thing may lie that nobody pointed at: all but a rim."""
    high, wide = shape
    rim = max(2, round(_RIM * max(shape)))
    within = np.zeros(shape, np.bool_)
    within[rim : high - rim, rim : wide - rim] = True
    return within


def steps_of(picture: Bytes) -> Floats:
    """Return the step of colour at each pixel of a picture, the largest about it."""
    smooth = cv2.GaussianBlur(picture, (0, 0), 1.0).astype(np.float32)
    parts = [cv2.Sobel(smooth, cv2.CV_32F, *which, scale=1 / 8) for which in ((1, 0), (0, 1))]
    step = np.sqrt(sum((part**2).sum(axis=2) for part in parts))
    widened: Floats = cv2.dilate(step, np.ones((3, 3), np.uint8))
    return widened


def clearness(steps: Floats, thing: Mask, of: float = 25) -> float:
    """Return how clearly a thing is told from its ground along its edge: a higher figure is surer.

    The lower quartile of the step of colour along it: where half of an edge is a shadow's, it is low.
    """
    edge = _edge(thing)
    return float(np.percentile(steps[edge], of)) if edge.any() else 0.0


def without_glints(thing: Mask, steps: Floats, kept: Mask) -> Mask:
    """Close the holes whose edge is soft: a light on the thing, and not what lies behind it."""
    reached = _reached(~thing)
    outer = clearness(steps, ~reached, 50)
    _, labels = cv2.connectedComponents((~thing).astype(np.uint8), connectivity=4)
    closed = thing.copy()
    for n in np.unique(labels[~thing & ~reached]):
        hole = labels == n
        if not (hole & kept).any() and clearness(steps, hole, 50) < _GLINT * outer:
            closed |= hole
    return closed


def _edge(thing: Mask) -> Mask:
    inside = thing.astype(np.uint8)
    wider, narrower = (
        change(inside, np.ones((3, 3), np.uint8)) for change in (cv2.dilate, cv2.erode)
    )
    edge: Mask = (wider > 0) & (narrower == 0)
    edge[0], edge[-1], edge[:, 0], edge[:, -1] = False, False, False, False
    return edge
