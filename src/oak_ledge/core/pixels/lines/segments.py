"""Straight segments of a picture, and the chains of them that run inward from its right edge.

Segments are found as by Grompone von Gioi, Jakubowicz, Morel & Randall, *LSD: a Line Segment
Detector* (Image Processing On Line 2, 2012), on the picture or a smaller one, where soft and ragged
edges are seen.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

Array = npt.NDArray[Any]
Doubles = npt.NDArray[np.float64]

# Of the longer edge: so near the rim a first segment ends, and so long it is.
_NEAR, _LEAST = 0.012, 0.012

# Rise over run: steeper lines hardly reach the rim.
_STEEPEST = 4.9

# Degrees between two segments of one chain, on the picture and on smaller ones.
_BEND, _BEND_COARSE = 8.0, 12.0

# Of a chain's length so far, and of the longer edge: the greatest gap in it.
_GAP, _GAP_OF_EDGE = 0.35, 0.06


@dataclass(frozen=True)
class Chain:
    """Segments that follow one another inward: (n, 2, 2), each its end near the rim, then the far one."""

    ends: Doubles

    def points(self) -> tuple[Doubles, Doubles]:
        """Return points along it, about two pixels apart, and unit tangents towards the rim."""
        points, tangents = [], []
        for near, far in self.ends:
            count = max(2, int(np.hypot(*(far - near)) / 2))
            points.append(near + (far - near) * np.linspace(0, 1, count)[:, None])
            tangent = (near - far) / np.hypot(*(near - far))
            tangents.append(np.repeat(tangent[None], count, 0))
        return np.concatenate(points), np.concatenate(tangents)


def segments(light: Array, coarse: int = 1) -> Doubles:
    """Return straight segments of a grey picture, (n, 4) as x, y, x, y, darker at their left.

    `coarse` is by how many pixels it is made smaller first; coordinates are those of the picture.
    """
    if coarse > 1:
        high, wide = (edge // coarse * coarse for edge in light.shape)
        if not high or not wide:
            return np.zeros((0, 4))
        light = cv2.resize(
            light[:high, :wide], None, fx=1 / coarse, fy=1 / coarse, interpolation=cv2.INTER_AREA
        )
    detector = cv2.createLineSegmentDetector(cv2.LSD_REFINE_STD, 0.8, 0.6, 2.0, 22.5, 0, 0.7)
    found = detector.detect(np.ascontiguousarray(light))[0]
    if found is None:
        return np.zeros((0, 4))
    scaled: Doubles = (found.reshape(-1, 4).astype(np.float64) + 0.5) * coarse - 0.5
    return scaled


def chains(found: Doubles, wide: int, edge: int, coarse: int = 1) -> list[Chain]:
    """Return a chain for each segment that ends near the right edge of a picture `wide` pixels across.

    `edge` is the longer edge of the photo, by which lengths are judged. All segments of a chain have
    the same side dark.
    """
    along = found[:, 2:] - found[:, :2]
    lengths = np.hypot(along[:, 0], along[:, 1])
    near = np.maximum(found[:, 0], found[:, 2]) > wide - max(_NEAR * edge, 3 * coarse)
    level = np.abs(along[:, 0]) * _STEEPEST > np.abs(along[:, 1])
    begins = (lengths > max(_LEAST * edge, 8 * coarse)) & near & level
    outward = found[:, 2] > found[:, 0]
    return [
        _walked(found, lengths, int(n), bool(outward[n]), edge, coarse)
        for n in np.flatnonzero(begins)
    ]


def _walked(
    found: Doubles, lengths: Doubles, first: int, outward: bool, edge: int, coarse: int
) -> Chain:
    starts, ends = (found[:, 2:], found[:, :2]) if outward else (found[:, :2], found[:, 2:])
    cosines_of = (ends - starts) / np.maximum(lengths, 1e-6)[:, None]
    least = np.cos(np.deg2rad(_BEND if coarse == 1 else _BEND_COARSE))
    aside = (1.6 if coarse == 1 else 2.4) * coarse
    used = np.zeros(len(found), np.bool_)
    chain, total, last = [], 0.0, first
    while True:
        used[last] = True
        chain.append((starts[last], ends[last]))
        total += lengths[last]
        tangent = (ends[last] - starts[last]) / lengths[last]
        to_start = starts - ends[last]
        ahead = to_start @ tangent
        beside = np.abs(to_start[:, 0] * tangent[1] - to_start[:, 1] * tangent[0])
        gap = max(12 * coarse, min(_GAP * total, _GAP_OF_EDGE * edge))
        follows = (
            (ahead > -4 * coarse)
            & (ahead < gap)
            & (beside < aside + 0.04 * np.maximum(ahead, 0))
            & (cosines_of @ tangent > least)
            & (lengths > 5)
            & ~used
        )
        which = np.flatnonzero(follows)
        if not len(which):
            return Chain(np.array(chain))
        cost = np.maximum(ahead[which], 0) + 4 * beside[which] - 0.05 * lengths[which]
        last = int(which[np.argmin(cost)])
