"""Few, large pieces instead of many matches: each block's offset agrees with its neighbours'.

Iterated conditional modes (Besag, *On the statistical analysis of dirty pictures*, Journal of the
Royal Statistical Society B 48, 1986) on a checkerboard: a change of offset costs what is seen of it.
"""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np
import numpy.typing as npt

from oak_ledge.core.pixels.fill.grid import Floats, Mask
from oak_ledge.core.pixels.fill.matches import Atlas, Matches, Places

_SWEEPS = 4

# Squared levels: of any change of offset, and what is seen of one.
_CHANGE, _MOST_SEEN = (
    120.0,
    4000.0,
)

_NEVER = np.float32(1e30)

_BESIDE = ((1, 0), (-1, 0), (0, 1), (0, -1))

# Blocks from the rim in which the colours shown are no copies.
_ALTERED = 4.5


def pieces(matches: Matches) -> tuple[Places, Places]:
    """Return rows and columns of the atlas, (h, w), -1 outside the hole, in few large pieces."""
    from_y, from_x = matches.maps()
    for _ in range(_SWEEPS):
        for odd in (0, 1):
            which = np.flatnonzero((matches.ys + matches.xs) % 2 == odd)
            _settle(matches, which, from_y, from_x)
    return from_y, from_x


def _settle(matches: Matches, which: npt.NDArray[np.intp], from_y: Places, from_x: Places) -> None:
    """Take a neighbour's offset for blocks that don't touch, where that is better."""
    high, wide = matches.hole.shape
    y, x = matches.ys[which], matches.xs[which]
    best_y, best_x = from_y[y, x], from_x[y, x]
    least = _energy(matches, which, best_y, best_x, from_y, from_x)
    for down, right in _BESIDE:
        beside_y, beside_x = (y + down).clip(0, high - 1), (x + right).clip(0, wide - 1)
        there_y, there_x = from_y[beside_y, beside_x] - down, from_x[beside_y, beside_x] - right
        other = (there_y != best_y) | (there_x != best_x)
        k = np.flatnonzero((from_y[beside_y, beside_x] >= 0) & other)
        energy = _energy(matches, which[k], there_y[k], there_x[k], from_y, from_x)
        better = energy < least[k]
        k = k[better]
        best_y[k], best_x[k], least[k] = there_y[k], there_x[k], energy[better]
    from_y[y, x], from_x[y, x] = best_y, best_x


def _energy(
    matches: Matches,
    which: npt.NDArray[np.intp],
    ys: Places,
    xs: Places,
    from_y: Places,
    from_x: Places,
) -> Floats:
    """Return what blocks would cost with a match: its distance, and its seams with what is beside."""
    atlas, (high, wide) = matches.atlas, matches.hole.shape
    y, x = matches.ys[which], matches.xs[which]
    places = atlas.at(ys, xs)
    energy = matches.distance(which, places)
    here = atlas.colours[places]
    for down, right in _BESIDE:
        beside_y, beside_x = (y + down).clip(0, high - 1), (x + right).clip(0, wide - 1)
        there_y, there_x = from_y[beside_y, beside_x], from_x[beside_y, beside_x]
        other = (there_y - down != ys) | (there_x - right != xs)
        k = np.flatnonzero((there_y >= 0) & other)
        mine = atlas.colours[atlas.at(ys[k] + down, xs[k] + right)]
        its = atlas.colours[atlas.at(there_y[k] - down, there_x[k] - right)]
        seen = ((here[k] - its) ** 2).sum(1)
        seen += ((mine - atlas.colours[atlas.at(there_y[k], there_x[k])]) ** 2).sum(1)
        energy[k] += np.minimum(seen, _MOST_SEEN) + _CHANGE
    energy[~atlas.within(ys, xs)] = _NEVER
    return energy


def carry_outward(from_y: Places, from_x: Places, hole: Mask, atlas: Atlas) -> None:
    """Continue the pieces inside a fill to its rim, whose colours were altered to fit."""
    inner = cv2.distanceTransform(hole.astype(np.uint8), cv2.DIST_L2, 5) > _ALTERED
    if not inner.any():
        return
    far, nearest = _nearest(inner)
    y, x = np.nonzero(hole & ~inner & (far < 2 * _ALTERED))
    near_y, near_x = nearest(y, x)
    ys, xs = from_y[near_y, near_x] + y - near_y, from_x[near_y, near_x] + x - near_x
    may = atlas.within(ys, xs)
    from_y[y[may], x[may]], from_x[y[may], x[may]] = ys[may], xs[may]


def carry_under(from_y: Places, from_x: Places, hole: Mask, laid: Mask, atlas: Atlas) -> None:
    """Continue the pieces of a fill under what is `laid` over it, whose soft edge shows of them."""
    if not laid.any() or not hole.any():
        return
    _, nearest = _nearest(hole)
    y, x = np.nonzero(laid)
    near_y, near_x = nearest(y, x)
    ys, xs = from_y[near_y, near_x] + y - near_y, from_x[near_y, near_x] + x - near_x
    may = atlas.within(ys, xs)
    from_y[y, x] = np.where(may, ys, from_y[near_y, near_x])
    from_x[y, x] = np.where(may, xs, from_x[near_y, near_x])


def _nearest(mask: Mask) -> tuple[Floats, Callable[[Places, Places], tuple[Places, Places]]]:
    """Return how far each block is from a mask, and what finds the nearest block in it."""
    outside = (~mask).astype(np.uint8)
    far, label = cv2.distanceTransformWithLabels(
        outside, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    inner_y, inner_x = np.nonzero(mask)
    numbers = np.zeros(label.max() + 1, np.intp)
    numbers[label[inner_y, inner_x]] = np.arange(len(inner_y))

    def nearest(y: Places, x: Places) -> tuple[Places, Places]:
        which = numbers[label[y, x]]
        return inner_y[which], inner_x[which]

    return far, nearest
