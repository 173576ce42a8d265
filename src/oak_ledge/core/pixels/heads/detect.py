"""Where faces are in a picture, and about where their eyes are."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from oak_ledge.core.pixels.heads.networks import DETECTOR, LOOK, Grid, run, share

# Shares: a face is one from here on; boxes that overlap so much are one face.
SURE, OVERLAP = 0.6, 0.3

# So many parts of an edge boxes are compared in.
_FINE = 10_000

# The detector looks from a grid of 48 × 48 places.
_PLACES = 48


class SeenFace(NamedTuple):
    """A face's box (left, top, width, height) and its eyes from left to right, as shares of the picture's edges; how sure it is."""

    box: Grid
    eyes: Grid
    sure: float


def detect(rgb: Grid) -> list[SeenFace]:
    """Find the faces of an upright 8-bit RGB picture, the surest first."""
    import cv2

    side = max(rgb.shape[:2])
    to = LOOK / side
    wide, high = (max(1, round(edge * to)) for edge in rgb.shape[1::-1])
    square = np.zeros((LOOK, LOOK, 3), np.uint8)  # what of it is beyond the picture is black
    square[:high, :wide] = cv2.resize(rgb, (wide, high), interpolation=cv2.INTER_AREA)
    scores, boxes = run(DETECTOR, square, 1 / 127.5, 1.0)
    sure = share(scores.ravel())
    extent = np.array(rgb.shape[1::-1]) * to  # of the picture, in the square
    faces = [
        _seen(boxes.reshape(-1, 8, 2)[n], int(n), float(sure[n]), extent)
        for n in np.flatnonzero(sure >= SURE)
    ]
    return without_twins(faces)


def without_twins(faces: list[SeenFace]) -> list[SeenFace]:
    """Keep one of boxes that overlap: the surest."""
    import cv2

    boxes, sure = [(face.box * _FINE).tolist() for face in faces], [face.sure for face in faces]
    return [faces[int(n)] for n in cv2.dnn.NMSBoxes(boxes, sure, 0.0, OVERLAP)]


def _seen(box: Grid, n: int, sure: float, whole: Grid) -> SeenFace:
    anchor = (np.array([n % _PLACES, n // _PLACES]) + 0.5) * (LOOK / _PLACES)
    middle, extent, *points = box  # middle, size and six points, the eyes first
    middle, extent = (middle + anchor) / whole, extent / whole
    eyes = (np.array(points[:2]) + anchor) / whole
    return SeenFace(np.r_[middle - extent / 2, extent].astype(float), eyes, sure)
