"""Where the subject of a photo probably is: a measure of what stands out, and a box around it.

What stands out differs from what lies along the border (Wei, Wen, Zhu & Sun, *Geodesic saliency
using background priors*, ECCV 2012), from the picture's average (Achanta, Hemami, Estrada & Süsstrunk,
*Frequency-tuned salient region detection*, CVPR 2009) and from its own surroundings at several
scales; photographs hold it towards the middle. The box is the one with the greatest sum of what
stands out more than usual.
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
import pyvips

EDGE, GRID = 128, 36  # pixels looked at, and cells a box is made of, along the longer edge


USUAL = 1.1  # of the average: a cell that stands out less counts against a box


BORDER, TONES = 0.04, 6  # of the longer edge; tones told apart along it


FINE = 0.008  # of the longer edge: what is smaller is grain


AROUND = (0.03, 0.07, 0.14)  # of the longer edge: surroundings


MIDDLE = 0.42  # how far from the middle, as a standard deviation in shares of the edge


LARGEST = 0.7  # of the picture: a larger subject is none


Floats = npt.NDArray[Any]


def find_subject(path: Path) -> tuple[float, float, float, float] | None:
    """Find the subject of an upright picture: left, top, width, height as shares of its edges.

    None where nothing stands out.
    """
    image = pyvips.Image.thumbnail(str(path), EDGE, height=EDGE, size="down").colourspace("srgb")
    pixels = image.numpy().reshape(image.height, image.width, -1)[..., :3]
    if min(pixels.shape[:2]) < 8 or pixels.std() < 1:
        return None
    left, top, right, bottom = _box(standing_out(pixels))
    if (right - left) * (bottom - top) > LARGEST:
        return None
    return left, top, right - left, bottom - top


def standing_out(pixels: Floats) -> Floats:
    """Give how much every pixel of a small sRGB picture stands out, as (H, W)."""
    import cv2  # here: it takes its time to load, and most files are made without it

    lab = cv2.cvtColor(pixels.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    high, wide = lab.shape[:2]
    edge = max(high, wide)

    def soft(sigma: float) -> Floats:
        return cv2.GaussianBlur(lab, (0, 0), sigma * edge)

    fine = soft(FINE)
    slope = np.hypot(
        cv2.Sobel(fine[..., 0], cv2.CV_32F, 1, 0), cv2.Sobel(fine[..., 0], cv2.CV_32F, 0, 1)
    )
    measures = [
        _unlike_border(fine, max(2, round(BORDER * edge))),
        np.linalg.norm(fine - fine.reshape(-1, 3).mean(axis=0), axis=-1),
        *(np.linalg.norm(fine - soft(sigma), axis=-1) for sigma in AROUND),
        cv2.GaussianBlur(slope, (0, 0), 0.02 * edge),
    ]
    total = np.zeros((high, wide))
    for one in measures:  # what is the same everywhere says nothing
        mean = float(one.mean()) + 1e-6
        total += one / mean * min(2.0, float(one.std()) / mean)
    y, x = np.mgrid[0:high, 0:wide]
    away = ((x / wide - 0.5) ** 2 + (y / high - 0.5) ** 2) / MIDDLE**2
    found: Floats = total * np.exp(-away / 2)
    return found


def _unlike_border(fine: Floats, deep: int) -> Floats:
    """Give the distance of every pixel from the nearest of the tones along the border."""
    import cv2

    sides = (fine[:deep], fine[-deep:], fine[:, :deep], fine[:, -deep:])
    border = np.concatenate([side.reshape(-1, 3) for side in sides]).astype(np.float32)
    cv2.setRNGSeed(1)  # the same picture always gives the same box
    nearest = np.zeros((len(border), 1), np.int32)
    _, _, tones = cv2.kmeans(border, TONES, nearest, (3, 20, 0.5), 1, cv2.KMEANS_PP_CENTERS)
    found: Floats = np.linalg.norm(fine[:, :, None] - tones[None, None], axis=-1).min(axis=-1)
    return found


def _box(out: Floats) -> tuple[float, float, float, float]:
    """Find the box with the greatest sum of cells less the usual: left, top, right, bottom as shares.

    Bentley, *Programming pearls*, CACM 27, 1984, in two dimensions.
    """
    import cv2

    high, wide = out.shape
    times = GRID / max(high, wide)
    cells = (max(4, round(wide * times)), max(4, round(high * times)))
    grid = cv2.resize(out.astype(np.float32), cells, interpolation=cv2.INTER_AREA)
    sums = np.zeros((cells[1] + 1, cells[0] + 1))
    sums[1:, 1:] = (grid / grid.mean() - USUAL).cumsum(axis=0).cumsum(axis=1)
    best = (-np.inf, 0, 0, 0, 0)
    for first in range(cells[1]):
        rows = sums[first + 2 :] - sums[first]
        if not len(rows):
            break
        least = np.minimum.accumulate(rows, axis=1)
        gains = rows[:, 1:] - least[:, :-1]
        row, column = np.unravel_index(int(gains.argmax()), gains.shape)
        if gains[row, column] > best[0]:
            left = int(rows[row, : column + 1].argmin())
            best = (gains[row, column], left, first, int(column) + 1, first + 2 + int(row))
    _, left, top, right, bottom = best
    return left / cells[0], top / cells[1], right / cells[0], bottom / cells[1]
