"""What a hand brushed, as pixels: which are inside, and how far inside."""

from __future__ import annotations

from collections.abc import Sequence
from math import ceil, floor
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from oak_ledge.core.photos.strokes import Polygon, Spot, Stroke
from oak_ledge.core.values import FAR

Mask = npt.NDArray[np.bool_]
# Of single precision.
Floats = npt.NDArray[Any]
# Left, top, right, bottom in whole photo pixels.
Box = tuple[int, int, int, int]

# Of a pixel's fraction, as the library draws lines.
_BITS = 4

# Pixels of radius.
_WIDEST = 500

# Sixteenths of a pixel that it draws to.
_FAR = 1 << 20


def within(box: tuple[float, float, float, float], upright: tuple[int, int]) -> Box:
    """Return the whole pixels of a photo that a box touches; an empty box where it touches none."""
    left, right = (min(max(0, edge), upright[0]) for edge in (floor(box[0]), ceil(box[2])))
    top, bottom = (min(max(0, edge), upright[1]) for edge in (floor(box[1]), ceil(box[3])))
    return left, top, max(left, right), max(top, bottom)


def area_of(strokes: Sequence[Stroke], polygons: Sequence[Polygon], box: Box) -> Mask:
    """Return which pixels of a box are brushed: polygons first, then strokes in their order."""
    mask = np.zeros((box[3] - box[1], box[2] - box[0]), np.bool_)
    for polygon in polygons:
        drawn = np.zeros(mask.shape, np.uint8)
        cv2.fillPoly(drawn, [_fixed(polygon, box)], (1,), shift=_BITS)
        mask |= drawn > 0
    for stroke in strokes:
        brushed = away_from(stroke, box) <= stroke.radius
        mask = mask & ~brushed if stroke.away else mask | brushed
    return mask


def away_from(stroke: Stroke, box: Box) -> Floats:
    """Return how far every pixel of a box is from a stroke's way, in pixels.

    Of the widest brushes it is found on a coarser grid, so that memory stays bounded.
    """
    high, wide = box[3] - box[1], box[2] - box[0]
    part = ceil(stroke.radius / _WIDEST)
    if part == 1:
        return _away(stroke, box)
    points = tuple((x / part, y / part) for x, y in stroke.points)
    small = stroke.model_copy(update={"points": points, "radius": stroke.radius / part})
    within = (box[0] // part, box[1] // part, -(-box[2] // part), -(-box[3] // part))
    far = _away(small, within) * part
    large = cv2.resize(far, None, fx=part, fy=part, interpolation=cv2.INTER_LINEAR)
    top, left = box[1] - within[1] * part, box[0] - within[0] * part
    distances: Floats = large[top : top + high, left : left + wide]
    return distances


def _away(stroke: Stroke, box: Box) -> Floats:
    high, wide = box[3] - box[1], box[2] - box[0]
    room = ceil(stroke.radius) + 2  # the way may lie beside the box
    line = np.full((high + 2 * room, wide + 2 * room), 255, np.uint8)
    around = (box[0] - room, box[1] - room, box[2] + room, box[3] + room)
    points = stroke.points if len(stroke.points) > 1 else stroke.points * 2  # a dot is a short line
    way = _fixed(points, around)
    cv2.polylines(line, [way], isClosed=False, color=(0,), thickness=1, shift=_BITS)
    if line.all():
        return np.full((high, wide), FAR, np.float32)
    far = cv2.distanceTransform(line, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    distances: Floats = far[room : room + high, room : room + wide]
    return distances


def _fixed(points: Sequence[Spot], box: Box) -> npt.NDArray[np.int32]:
    """Return points from a box's corner, as the library takes them; it counts from pixels' middles."""
    from_corner = np.array(points, np.float64) - (box[0] + 0.5, box[1] + 0.5)
    fixed = np.rint(from_corner * (1 << _BITS)).clip(-_FAR, _FAR)
    fixed_points: npt.NDArray[np.int32] = fixed.astype(np.int32)
    return fixed_points
