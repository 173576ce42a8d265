"""One small thing of a colour that nothing else in the picture has: a kite, a ladybird, one red leaf."""

from __future__ import annotations

import cv2
import numpy as np

from oak_ledge.core.pixels.subject.shares import Floats, Shares, largest_region

# Of the longer edge: what is smaller is grain.
_FINE = 0.006

# CIELAB: hues this near are one tone; a tone is common that so much of the picture has.
_STEP, _COMMON = 6.0, 0.04

# CIELAB: so far from any common tone is rare, of so much colour is vivid, so far at most is striking.
_RARE, _VIVID, _STRIKING = 22.0, 28.0, 35.0

# Of all that is vivid, it is so much; of the picture so little; of its box so much.
_ALONE, _SMALLEST, _LARGEST, _FULL = 0.85, 0.0008, 0.006, 0.4


def find_vivid(pixels: Floats) -> Shares | None:
    """Find one small vivid thing in a small sRGB picture, (H, W, 3); None where none stands alone."""
    lab = cv2.cvtColor(pixels.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    hues = cv2.GaussianBlur(lab, (0, 0), _FINE * max(pixels.shape[:2]))[..., 1:]
    tones = _common_tones(hues)
    if not len(tones):
        return None
    rare = np.linalg.norm(hues[:, :, None] - tones[None, None], axis=3).min(2)
    vivid = (rare > _RARE) & (np.linalg.norm(hues, axis=2) > _VIVID)
    region = largest_region(vivid, rare)
    if region is None or not _SMALLEST < region.area < _LARGEST or region.at_edge:
        return None
    striking = float(rare[region.mask].max()) > _STRIKING
    return region.box if striking and region.share > _ALONE and region.full > _FULL else None


def _common_tones(hues: Floats) -> Floats:
    """Return the hues, (n, 2), that much of a picture has."""
    steps = int(256 / _STEP) + 1
    at = np.clip((hues + 128) / _STEP, 0, steps - 1).astype(int)
    counts = np.zeros((steps, steps), np.float32)
    np.add.at(counts, (at[..., 0], at[..., 1]), 1 / at[..., 0].size)
    common = np.argwhere(cv2.blur(counts, (3, 3)) * 9 > _COMMON)
    tones: Floats = (common + 0.5) * _STEP - 128
    return tones
