"""What of an identity picture can be measured without judging a person: its ground, the eyes' edges, clipped tones."""

from __future__ import annotations

from math import sqrt

import numpy as np

from oak_ledge.core.heads.face_points import FaceMeasured, FacePoints
from oak_ledge.core.pixels.heads.crown import people_in
from oak_ledge.core.pixels.heads.networks import MASK, Grid
from oak_ledge.core.pixels.heads.squares import square_at

# Of the head's height: the square its ground is looked at in, and how far its middle lies above the chin.
_GROUND_SIDE, _GROUND_MIDDLE = 2.0, 0.7

# Below this share a pixel is ground; so many of its own pixels it is kept away from people.
_GROUND, _AWAY = 0.1, 9

# Of the square: with less ground than this its spread is no figure.
_LEAST_GROUND = 0.04

# Per cent of the ground whose distance from its middle colour is told.
_SPREAD = 95

# Of the distance of the eyes, to either side and up and down: the box of an eye.
_EYE = 0.42, 0.28

# Pixels: an eye that is smaller is not measured; the blurs that are laid over it to compare, and of the distance of
# the eyes the widest: a wider one would join what lies beside an edge.
_LEAST_EYE, _BLURS, _WIDEST = 10, (1.0, 2.0, 4.0, 8.0), 0.03

# Per cent of an eye's gradients that are no edges.
_EDGES = 97

# A tone at or beyond these holds no detail.
_DARK, _LIGHT = 1, 254


def measured(rgb: Grid, face: FacePoints, large: Grid, large_face: FacePoints) -> FaceMeasured:
    """Measure a face on an upright 8-bit RGB picture, and its eyes on a larger one; points in each picture's own pixels."""
    return FaceMeasured(
        ground_spread=_ground_spread(rgb, face),
        eye_blur=_eye_blur(large, large_face),
        clipped=_clipped(rgb, face),
    )


def _upright_square(rgb: Grid, face: FacePoints, side: float, above_chin: float) -> Grid:
    """Cut a square about the head, turned upright, its middle so far above the chin, of the head's height."""
    chin, crown = np.array(face.chin) - 0.5, np.array(face.crown) - 0.5
    down = (chin - crown) / np.hypot(*(chin - crown))
    return square_at(rgb, chin - down * above_chin * face.height, side * face.height, down, MASK)[0]


def _ground_spread(rgb: Grid, face: FacePoints) -> float | None:
    """Return how far the ground beside and above the head strays from its middle colour, in CIE 1976 ΔE*ab."""
    import cv2

    square = _upright_square(rgb, face, _GROUND_SIDE, _GROUND_MIDDLE)
    ground = (people_in(square) < _GROUND).astype(np.uint8)
    ground = cv2.erode(ground, np.ones((_AWAY, _AWAY), np.uint8)).astype(bool)
    ground[round(MASK * (0.5 + _GROUND_MIDDLE / _GROUND_SIDE)) :] = (
        False  # below the chin are shoulders
    )
    if ground.mean() < _LEAST_GROUND:
        return None
    smooth = cv2.GaussianBlur(square, (0, 0), 1.5)  # noise is no unevenness
    lab = cv2.cvtColor(smooth.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)[ground]
    away = np.sqrt(((lab - np.median(lab, axis=0)) ** 2).sum(axis=1))
    return round(float(np.percentile(away, _SPREAD)), 1)


def _eye_blur(rgb: Grid, face: FacePoints) -> float | None:
    """Return how wide the edges at the eyes are blurred (σ), as a share of the head's height.

    An edge blurred by σ and blurred again by s has 1/√(1 + s²/σ²) of its gradient left (Zhuo & Sim, *Defocus map
    estimation from a single image*, Pattern Recognition 44, 2011). A small s drowns in grain where the edge is wide,
    which makes it look sharper: the widest of several is told. What is sharper than a pixel can't be told.
    """
    import cv2

    (x0, y0), (x1, y1) = face.left_eye, face.right_eye
    apart, sigmas = float(np.hypot(x1 - x0, y1 - y0)), []
    half_wide, half_high = _EYE[0] * apart, _EYE[1] * apart
    for x, y in (face.left_eye, face.right_eye):
        left, top = max(0, round(x - half_wide)), max(0, round(y - half_high))
        eye = rgb[top : round(y + half_high), left : round(x + half_wide)]
        if min(eye.shape[:2]) < _LEAST_EYE:
            continue
        grey = cv2.cvtColor(np.ascontiguousarray(eye), cv2.COLOR_RGB2GRAY).astype(np.float32)
        blurs = [blur for blur in _BLURS if blur <= max(_BLURS[0], _WIDEST * apart)]
        sigmas.append(
            max(_sigma(grey, cv2.GaussianBlur(grey, (0, 0), blur), blur) for blur in blurs)
        )
    return round(float(np.mean(sigmas)) / face.height, 6) if sigmas else None


def _sigma(grey: Grid, again: Grid, blur: float) -> float:
    """Return how wide the edges of a picture are blurred, from what `blur` laid over it leaves of their gradients."""
    before, after = _gradient(grey), _gradient(again)
    edges = before >= max(np.percentile(before, _EDGES), 1e-3)
    ratio = float(np.median(before[edges] / np.maximum(after[edges], 1e-6)))
    return blur / sqrt(max(ratio**2 - 1, 1e-4))


def _gradient(grey: Grid) -> Grid:
    """Return how steep a picture is at each pixel but those at its edges."""
    down, across = np.gradient(grey)
    return np.asarray(np.hypot(down, across)[2:-2, 2:-2])


def _clipped(rgb: Grid, face: FacePoints) -> float | None:
    """Return the share of the face, between eyes and chin, that is burnt out in a band or black in all."""
    x, y = face.eyes
    across = abs(face.right_eye[0] - face.left_eye[0]) * 0.9
    left, right = max(0, round(x - across)), round(x + across)
    top, bottom = sorted((round(y), round(face.chin[1])))
    part = rgb[max(0, top) : bottom, left:right]
    if part.size < 3 * _LEAST_EYE**2:
        return None
    light, dark = (part >= _LIGHT).any(axis=2), (part <= _DARK).all(axis=2)
    return round(float((light | dark).mean()), 4)
