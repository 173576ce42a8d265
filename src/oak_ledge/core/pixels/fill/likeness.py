"""What of a photo looks like the thing in a hole, and not like what is around it.

Copied into the hole it would put another such thing there: a boat for a boat.
"""

from __future__ import annotations

import cv2
import numpy as np

from oak_ledge.core.pixels.fill.grid import Array, Floats, Mask, away, blurred, grey

# Blocks: a place is described by what lies within.
_NEAR = 2.0

# Of the hole's extent: what is around it begins so far off, as a thing has soft edges, and is so deep.
_BEGINS, _DEEP = 0.04, 0.35

# CIELAB: what is farther from the thing is not like it.
_LIKE = 7.0

# How much nearer it must be to the thing than to what is around.
_NEARER = 0.5

# Places of each that are compared with, and others at a time.
_MOST, _AT_ONCE = 400, 8000

# Blocks around what is alike.
_GROWN = 3


def like_the_thing(colours: Floats, hole: Mask) -> Mask:
    """Mark what is like what lies in a hole; `colours`, (h, w, 3) of 0…255, show that too."""
    lab = cv2.cvtColor((colours / 255).astype(np.float32), cv2.COLOR_RGB2LAB)
    light = grey(colours.astype(np.float32)) / np.float32(2.55)
    detail = blurred(np.abs(light - blurred(light, 1.2)), _NEAR)
    seen = np.dstack([blurred(lab, _NEAR), 2 * detail]).astype(np.float32)
    extent = float(np.sqrt(hole.sum()))
    far = away(~hole)
    around = (far > 2 + _BEGINS * extent) & (far < 4 + _DEEP * extent)
    inside = away(hole) > min(2.0, 0.5 * float(away(hole).max()))
    if not around.any() or not inside.any():
        return np.zeros_like(hole)
    beside = _some(seen[around])
    thing = _some(seen[inside])
    thing = thing[_nearest(thing, beside) > _LIKE]  # what of the hole is the thing's own
    if not len(thing):
        return np.zeros_like(hole)
    half = (hole.shape[1] // 2, hole.shape[0] // 2)
    small = cv2.resize(seen, half, interpolation=cv2.INTER_AREA)
    places = small.reshape(-1, 4)
    from_thing = _nearest(places, thing)
    alike: Mask = (from_thing < _LIKE) & (from_thing < _NEARER * _nearest(places, beside))
    marked: Array = alike.reshape(half[::-1]).astype(np.uint8)
    marked = cv2.resize(marked, hole.shape[::-1], interpolation=cv2.INTER_NEAREST)
    grown: Mask = cv2.dilate(marked, np.ones((2 * _GROWN + 1,) * 2, np.uint8)) > 0
    return grown & ~hole


def _some(values: Floats) -> Floats:
    return values[:: max(1, len(values) // _MOST)]


def _nearest(values: Floats, others: Floats) -> Floats:
    """Return how far each value, (n, 4), is from the nearest of others."""
    out = np.empty(len(values), np.float32)
    squares = (others * others).sum(1)[None]
    for first in range(0, len(values), _AT_ONCE):
        part = values[first : first + _AT_ONCE]
        apart = (part * part).sum(1)[:, None] + squares - 2 * part @ others.T
        out[first : first + _AT_ONCE] = np.sqrt(np.maximum(apart.min(1), 0))
    return out
