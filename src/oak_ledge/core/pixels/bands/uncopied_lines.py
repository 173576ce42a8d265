"""Lines that are not copied elsewhere: those that are drawn on, and thin ones before a smooth ground."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np
import numpy.typing as npt

from oak_ledge.core.pixels.bands.bundle import Bundle
from oak_ledge.core.pixels.lines.fitted import Gradients
from oak_ledge.core.pixels.lines.segments import segments
from oak_ledge.core.pixels.lines.side import Array

Mask = npt.NDArray[np.bool_]

# Of the longer edge: shorter segments are no cables or masts.
_LONG = 0.02

# Levels per pixel on a lonely line, and as a multiple of what is beside it.
_CONTRAST, _STANDS_OUT = 4.0, 7.0

# Of the photo: where there are more, they are what it is made of.
_MOST_LONELY = 0.3


def line_places(photo: Array, bundles: Sequence[Bundle]) -> Mask:
    """Mark where lines that are drawn on lie in a photo, (H, W)."""
    high, wide = photo.shape[:2]
    mask = np.zeros((high, wide), np.uint8)
    for bundle in bundles:
        for line in bundle.lines:
            through = line.columns > 0.4 * wide
            columns = wide - 1 if through else min(wide - 1, int(1.3 * line.columns))
            x = np.arange(-columns, 1)
            way = np.round(np.stack([x + wide, line.y(x)], 1)).astype(np.int32)
            cv2.polylines(mask, [way], False, (1,), 2 * (2 * line.width + 2) + 1)
        first, last = bundle.lines[0], bundle.lines[-1]
        thin = not bundle.fan and len(bundle.lines) > 1
        if thin and last.at - first.at < 4 * bundle.margin:
            x = np.arange(-(wide - 1) if bundle.reach > 0.35 * wide else -bundle.reach, 1.0)
            ways = [np.stack([x + wide, line.y(x)], 1) for line in (first, last)]
            around = np.round(np.concatenate([ways[0], ways[1][::-1]])).astype(np.int32)
            cv2.fillPoly(mask, [around], (1,))
    marked: Mask = mask > 0
    return marked


def lonely_lines(photo: Array) -> Mask:
    """Mark long thin edges before a smooth ground: copied elsewhere they are seen at once."""
    high, wide = photo.shape[:2]
    light = cv2.cvtColor(photo, cv2.COLOR_RGB2GRAY)
    found = segments(light)
    along = found[:, 2:] - found[:, :2]
    lengths = np.hypot(along[:, 0], along[:, 1])
    long = lengths > _LONG * max(high, wide)
    found, along, lengths = found[long], along[long], lengths[long]
    mask = np.zeros((high, wide), np.uint8)
    if not len(found):
        return mask > 0
    gradients = Gradients.of(light, 0.8)
    slopes = np.hypot(gradients.across, gradients.down)
    points = found[:, None, :2] + along[:, None] * np.linspace(0.05, 0.95, 16)[None, :, None]
    normals = np.stack([-along[:, 1], along[:, 0]], 1) / lengths[:, None]

    def usual(away: float) -> npt.NDArray[np.float32]:
        at = (points + away * normals[:, None]).astype(np.float32)
        there = cv2.remap(
            slopes, at[..., 0], at[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
        )
        middles: npt.NDArray[np.float32] = np.median(there, 1)
        return middles

    on = usual(0)
    sides = [np.median([usual(side * away) for away in (11, 14, 18)], 0) for side in (-1, 1)]
    stands = (on > _CONTRAST) & (on > _STANDS_OUT * (np.maximum(*sides) + 0.3))
    for x0, y0, x1, y1 in np.round(found[stands]).astype(int).tolist():
        cv2.line(mask, (x0, y0), (x1, y1), (1,), 9)
    return mask > 0 if mask.mean() < _MOST_LONELY else np.zeros((high, wide), np.bool_)
