"""Faces in a photo, as far as two cues agree: a face's light and shade, and an eye in either half.

Both are trained cascades that OpenCV ships (Viola & Jones, *Rapid object detection using a boosted
cascade of simple features*, CVPR 2001; Lienhart, Kuranov & Pisarevsky, DAGM 2003). One alone takes a
lantern for a face; nothing leaves the machine.
"""

from __future__ import annotations

import threading
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np
import pyvips

from oak_ledge.core.values import Value

# Pixels looked at along the longer edge.
FACES_EDGE = 512


# Pixels of a face: a smaller one is no subject.
SMALLEST_FACE = 24


# The eyes lie in the upper part of a face: this share of its height, from the top.
UPPER = 0.62


# The upper part is scaled to this width in pixels before eyes are looked for; the least and the greatest
# width of an eye in it.
EYES_EDGE, EYE = 200, (28, 80)


# More faces than this are a crowd, which is no subject.
MOST_FACES = 6


# The room around a face, in shares of its height: hair above, ears beside, chin and neck below.
_ABOVE, _BESIDE, _BELOW = 0.45, 0.3, 0.35


class Face(Value):
    """A face with its headroom, as shares of the picture's edges, and the middle between its eyes."""

    left: float
    top: float
    width: float
    height: float
    eyes: tuple[float, float]


def find_faces(path: Path) -> tuple[Face, ...]:
    """Find the faces of an upright picture, the largest first; of a crowd none."""
    import cv2

    image = pyvips.Image.thumbnail(str(path), FACES_EDGE, height=FACES_EDGE).colourspace("b-w")
    grey = image.numpy().reshape(image.height, image.width, -1)[..., 0].astype(np.uint8)
    with _ONE_AT_A_TIME:
        look = _cascade("frontalface_alt2").detectMultiScale
        boxes = [
            tuple(map(int, other))
            for other in look(grey, 1.12, 3, minSize=(SMALLEST_FACE, SMALLEST_FACE))
        ]
        eyes_in = [(box, _eyes(cv2, grey, *box)) for box in boxes]
    sure = [(box, eyes) for box, eyes in eyes_in if eyes is not None]
    if len(sure) > MOST_FACES:
        return ()
    faces = [_face(grey.shape, box, eyes) for box, eyes in sure]
    return tuple(sorted(faces, key=lambda face: -face.width * face.height))


# A cascade keeps its place while it looks.
_ONE_AT_A_TIME = threading.Lock()


@lru_cache(maxsize=4)
def _cascade(name: str) -> Any:
    import cv2
    import cv2.data

    return cv2.CascadeClassifier(f"{cv2.data.haarcascades}haarcascade_{name}.xml")


def _eyes(cv2: Any, grey: Any, x: int, y: int, w: int, h: int) -> tuple[float, float] | None:
    """Find an eye in either half of a face's upper part; give the point between the two."""
    part = grey[y : y + round(h * UPPER), x : x + w]
    times = EYES_EDGE / w
    part = cv2.resize(part, None, fx=times, fy=times, interpolation=cv2.INTER_CUBIC)
    eyes = _cascade("eye").detectMultiScale(
        part, 1.08, 3, minSize=(EYE[0],) * 2, maxSize=(EYE[1],) * 2
    )
    middles = [(left + wide / 2, top + high / 2) for left, top, wide, high in eyes]
    halves = [
        [at for at in middles if at[0] < EYES_EDGE / 2],
        [at for at in middles if at[0] >= EYES_EDGE / 2],
    ]
    if not all(halves):
        return None
    across, down = np.mean([np.mean(half, axis=0) for half in halves], axis=0) / times
    return x + float(across), y + float(down)


def _face(shape: tuple[int, ...], box: tuple[int, ...], eyes: tuple[float, float]) -> Face:
    (high, wide), (x, y, w, h) = shape[:2], box
    left, right = max(0.0, x - w * _BESIDE), min(float(wide), x + w * (1 + _BESIDE))
    top, bottom = max(0.0, y - h * _ABOVE), min(float(high), y + h * (1 + _BELOW))
    return Face(
        left=left / wide,
        top=top / high,
        width=(right - left) / wide,
        height=(bottom - top) / high,
        eyes=(eyes[0] / wide, eyes[1] / high),
    )
