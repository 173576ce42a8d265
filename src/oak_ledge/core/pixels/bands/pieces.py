"""Which columns of the photo a band is copied from: few pieces that meet well, reused little."""

from __future__ import annotations

import cv2
import numpy as np

from oak_ledge.core.pixels.bands.bundle import Bundle, Piece
from oak_ledge.core.pixels.bands.strip import Strip
from oak_ledge.core.pixels.lines.rim_line import Floats
from oak_ledge.core.pixels.lines.segments import Doubles

# Places a piece may begin at that are weighed.
_PLACES = 160

# Of a piece's columns, for one that is to cover all that is left.
_SHARES = (1.0, 0.66, 0.5, 0.25)

# What a fan's and another band's pieces cost: lamps and the like in them, being short, being reused.
_COSTS = {True: (2.0, 0.35, 0.6), False: (6.0, 0.12, 0.15)}


def pieces_of(bundle: Bundle, strip: Strip, beyond: int) -> tuple[Piece, ...]:
    """Return the pieces that cover `beyond` columns, from the rim outward."""
    fine = _fine(strip, bundle)
    weights = _weights(bundle, strip.heights)
    dirt, usual = _dirt(fine, weights)
    summed = np.concatenate([[0.0], np.cumsum(dirt)])
    reach = fine.shape[1]
    least = int(min(reach - 4, max(14, (0.12 if bundle.fan else 0.06) * beyond)))
    tops = np.arange(least, reach - 3)
    if len(tops) > _PLACES:
        tops = np.unique(np.linspace(least, reach - 4, _PLACES).astype(int))
    dirty, short, reused = _COSTS[bundle.fan]
    shown = fine[:, :3].mean(1)
    made: list[Piece] = []
    used: list[tuple[int, int]] = []
    first = 0
    while first < beyond:
        left = beyond - first
        seams = _seams(fine, shown, weights)
        best: tuple[float, int, int] | None = None
        for top in tops:
            for long in _lengths(int(top), left, least):
                low = top - long
                cost = seams[top - 1] / max(usual, 0.5)
                cost += (summed[top] - summed[low]) / long / max(usual, 0.5) * dirty
                cost += short * left / long
                cost += reused * sum(max(0, min(top, b) - max(low, a)) / long for a, b in used)
                cost += _between(bundle, int(top))
                if best is None or cost < best[0]:
                    best = (float(cost), int(top), long)
        if best is None:
            break
        _, top, long = best
        made.append(Piece(first, first + long, first + top))
        used.append((top - long, top))
        first += long
        shown = fine[:, max(0, top - long) : max(0, top - long) + 3].mean(1)
    return tuple(made)


def _lengths(top: int, left: int, least: int) -> set[int]:
    """Return the lengths that a piece from column `top` may have."""
    whole = min(top, left)
    lengths = {
        whole,
        int(whole * _SHARES[1]),
        max(least, min(top, left // 2)),
        max(least, min(top, left // 4)),
    }
    return {long for long in lengths if min(least, left) <= long <= whole}


def _between(bundle: Bundle, top: int) -> float:
    """Return what it costs that rows don't fall on rows: the copy is softer there."""
    line = bundle.lines[0]
    if line.bend:
        return 0.0
    rise = line.y(0.0) - line.y(-float(top))
    return 0.3 * abs(float(rise - np.round(rise)))


def _fine(strip: Strip, bundle: Bundle) -> Floats:
    """Return a strip's lightness without what is coarse along it."""
    light = strip.pixels.mean(2)
    coarse = cv2.GaussianBlur(light, (0, 0), sigmaX=12, sigmaY=max(3.0, bundle.margin / 2))
    fine: Floats = light - coarse
    return fine


def _weights(bundle: Bundle, heights: Doubles) -> Doubles:
    """Return how much each row counts: the lines three times."""
    weights = np.ones(len(heights))
    for line in bundle.lines:
        near = np.abs(heights - line.at) < 3 * line.width * line.stretch
        weights = np.maximum(weights, 3.0 * near)
    shares: Doubles = (weights / weights.sum())[:, None]
    return shares


def _dirt(fine: Floats, weights: Doubles) -> tuple[Floats, float]:
    """Return by how much each column shows more than the usual, a lamp on a cable, and the usual."""
    reach = fine.shape[1]
    usual_row = np.median(fine[:, : max(20, reach // 2)], 1, keepdims=True)
    unlike = (np.abs(fine - usual_row) * weights).sum(0)
    unlike = cv2.blur(unlike[None].astype(np.float32), (5, 1))[0]
    usual = float(np.median(unlike[: max(20, min(reach, 60))]))
    return np.maximum(0, unlike - 1.3 * usual), usual


def _seams(fine: Floats, shown: Floats, weights: Doubles) -> Floats:
    """Return how unlike what is shown at the seam each place is: three columns of it."""
    reach = fine.shape[1] - 3
    three = (fine[:, :reach] + fine[:, 1 : reach + 1] + fine[:, 2 : reach + 2]) / 3
    seams: Floats = (np.abs(three - shown[:, None]) * weights).sum(0)
    return seams
