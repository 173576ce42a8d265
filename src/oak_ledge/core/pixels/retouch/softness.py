"""By how much a brush that was too tight is grown: as far as the edge of the thing beneath is soft.

What is left of a thing beside its fill is seen at once. Around a brush that was wide enough nothing
changes from ring to ring; around one that was tight the thing's edge does.
"""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np

from oak_ledge.core.photos.strokes import Polygon, Stroke
from oak_ledge.core.pixels.fill.grid import Array
from oak_ledge.core.pixels.open.border import reading_pixels
from oak_ledge.core.pixels.open.header import load
from oak_ledge.core.pixels.retouch.area import Mask, area_of

# Of the longer edge: it is grown by no more; and so far outside the usual is measured.
_MOST, _USUAL = 0.012, 0.03

# Times the usual change, and levels more than it: what is the thing's edge, and what no longer is.
_EDGE, _NO_EDGE, _LEVELS = 2.5, 1.5, 2.0

# Of a ring's pixels: so much of it may show no edge, where the brush was tight at one side only.
_PART = 0.75


def softness(picture: Array, mask: Mask) -> int:
    """Return by how many pixels a mask, (H, W), is to grow on a picture, (H, W, 3) uint8; 0 if by none."""
    edge = int(max(mask.shape))
    most, far = max(3, round(_MOST * edge)), max(8, round(_USUAL * edge))
    if not mask.any() or mask.all():
        return 0
    light = cv2.GaussianBlur(
        cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY).astype(np.float32), (0, 0), 1
    )
    change = np.hypot(cv2.Sobel(light, cv2.CV_32F, 1, 0), cv2.Sobel(light, cv2.CV_32F, 0, 1)) / 4
    away = cv2.distanceTransform((~mask).astype(np.uint8), cv2.DIST_L2, 5)

    def of_ring(first: float, last: float) -> float:
        ring = change[(away > first) & (away <= last)]
        return float(np.quantile(ring, _PART)) if ring.size else 0.0

    usual = of_ring(most + 2, most + far)
    if of_ring(0, 2) < _EDGE * usual + _LEVELS:
        return 0
    for ring in range(1, most + 1):
        if of_ring(ring, ring + 2) < _NO_EDGE * usual + _LEVELS / 2:
            return ring + 1
    return most


def grown(
    strokes: tuple[Stroke, ...], polygons: tuple[Polygon, ...], by: float
) -> tuple[Stroke, ...]:
    """Return the strokes that brush what some did, and what lies up to `by` photo pixels around it."""
    wider = tuple(
        stroke if stroke.away else stroke.model_copy(update={"radius": stroke.radius + by})
        for stroke in strokes
    )
    edges = tuple(
        Stroke(points=(*polygon, polygon[0]), radius=max(0.5, by)) for polygon in polygons
    )
    return (*edges, *wider)


def softness_on(
    path: Path, upright: tuple[int, int], strokes: tuple[Stroke, ...], polygons: tuple[Polygon, ...]
) -> float:
    """Return by how many photo pixels what is brushed is to grow, measured on an upright sRGB picture."""
    with reading_pixels():
        picture = load(path).numpy()
    picture = np.ascontiguousarray(picture.reshape(*picture.shape[:2], -1)[..., :3])
    if picture.shape[2] < 3:
        picture = np.repeat(picture[..., :1], 3, 2)
    scale = picture.shape[1] / upright[0]

    def small(points: Polygon) -> Polygon:
        return tuple((x * scale, y * scale) for x, y in points)

    there = [
        stroke.model_copy(
            update={"points": small(stroke.points), "radius": max(0.5, stroke.radius * scale)}
        )
        for stroke in strokes
    ]
    box = (0, 0, picture.shape[1], picture.shape[0])
    return float(softness(picture, area_of(there, [small(each) for each in polygons], box)) / scale)
