"""The direction of structure at each place, and where a mirrored copy would turn it over.

By the structure tensor (Bigün & Granlund, *Optimal orientation detection of linear symmetry*, ICCV
1987).
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from oak_ledge.core.pixels.fill.grid import Floats, Mask, away, blurred, grey

# Blocks: the scale of gradients, and of the directions they agree on.
_FINE, _WIDE = 1.2, 3.0

# How much gradients must agree, 0 to 1; how far from level and upright; how strong, against the usual.
_COHERENT, _SLANTED, _STRONG = 0.45, 0.34, 0.6

# Blocks around what is slanted.
_GROWN = 5


@dataclass(frozen=True)
class Directions:
    """Of each place, (h, w): the angle of its structure, how coherent it is, 0 to 1, and its strength."""

    angle: Floats
    coherence: Floats
    strength: Floats


def directions(colours: Floats, known: Mask) -> Directions:
    """Measure the structure of the `known` part of a picture, (h, w, 3)."""
    light = blurred(grey(colours.astype(np.float32)), _FINE, known.astype(np.float32))
    inside = away(known) > 2 * _FINE
    across, down = np.gradient(light, axis=1) * inside, np.gradient(light, axis=0) * inside
    counts = np.maximum(blurred(inside.astype(np.float32), _WIDE), 1e-3)
    xx, yy, xy = (
        blurred(other, _WIDE) / counts for other in (across * across, down * down, across * down)
    )
    spread = np.sqrt((xx - yy) ** 2 + 4 * xy * xy)
    angle = 0.5 * np.arctan2(2 * xy, xx - yy) + np.pi / 2
    return Directions(angle, spread / np.maximum(xx + yy, 1e-6), xx + yy)


def slanted(colours: Floats, known: Mask) -> Mask:
    """Mark coherent structure that is neither level nor upright: mirrored, it would make a V."""
    seen = directions(colours, known)
    usual = float(np.median(seen.strength[known])) if known.any() else 0.0
    mask = (
        (seen.coherence > _COHERENT)
        & (np.abs(np.sin(2 * seen.angle)) > _SLANTED)
        & (seen.strength > max(1.0, _STRONG * usual))
        & known
    )
    grown: Mask = cv2.dilate(mask.astype(np.uint8), np.ones((_GROWN, _GROWN), np.uint8)) > 0
    return grown
