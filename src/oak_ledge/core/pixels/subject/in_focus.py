"""The one thing in a picture that is sharp, where the rest is not."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from oak_ledge.core.pixels.subject.shares import Floats, Shares, largest_region

# Pixels along the longer edge: on a smaller picture all is sharp.
FOCUS_EDGE = 320

# Of the longer edge: sharpness is looked at so widely.
_WIDE = 0.02

# Of the greatest sharpness: what has more is in focus.
_IN_FOCUS = 0.45

# Of all that is in focus it is so much; of the picture no more; of its box so much.
_ALONE, _LARGEST, _FULL = 0.8, 0.2, 0.6

# Of an edge: what is longer is a horizon, or a row.
_BAND = 0.9

# Sharpness of most of the picture, as a share of the greatest: less is out of focus, or quite so.
_OUT, _QUITE_OUT, _QUITE_ALONE = 0.25, 0.05, 0.95


@dataclass(frozen=True)
class InFocus:
    """A sharp thing; `clear` where it may be taken for the subject, `quite` where its box is exact."""

    box: Shares
    clear: bool
    quite: bool


def find_in_focus(pixels: Floats) -> InFocus | None:
    """Find what is sharp in a picture, (H, W, 3) uint8; None where that is much, or scattered."""
    light = cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY).astype(np.float32)
    fine = np.abs(light - cv2.GaussianBlur(light, (0, 0), 1.0))
    sharp = cv2.GaussianBlur(fine, (0, 0), _WIDE * max(light.shape))
    most, usual = (float(np.quantile(sharp, share)) for share in (0.98, 0.4))
    region = largest_region(sharp > _IN_FOCUS * most, sharp)
    if region is None or region.area > _LARGEST:
        return None
    clear = region.share > _ALONE and region.full > _FULL and usual < _OUT * most
    clear &= max(region.box.right - region.box.left, region.box.bottom - region.box.top) < _BAND
    quite = region.share > _QUITE_ALONE and usual < _QUITE_OUT * most
    return InFocus(region.box, clear, quite)
