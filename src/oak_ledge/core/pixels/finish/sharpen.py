"""Sharpening for the output: last, at the output's own pixels, on lightness only.

How wide follows from how large a pixel will be seen: an eye tells apart 1 arcminute (rules, section
5), so the blur that is countered is half of that on the print. How strong follows from the surface: rough paper and canvas spread ink, glass does not.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.reports.enough_resolution import SIGHT, viewing_distance
from oak_ledge.core.sizes.choices import SharpenFor
from oak_ledge.core.sizes.size import Size

if TYPE_CHECKING:
    import numpy.typing as npt

USUAL_STRENGTH = 50


AMOUNTS: dict[SharpenFor, float] = {"off": 0.0, "screen": 0.35, "smooth": 0.6, "rough": 0.95}


# Of the whole range, beyond the lightest and darkest neighbour: no halo is seen.
OVERSHOOT = 0.03


# Rows at a time.
_STRIP = 512


# ITU-R BT.709, luma.
_WEIGHTS = (0.2126, 0.7152, 0.0722)


@dataclass(frozen=True)
class Sharpening:
    """An unsharp mask: the blur's sigma in output pixels, and how much of what it takes is added."""

    sigma: float
    amount: float


def sharpening_of(size: Size, output: Pixels) -> Sharpening | None:
    """Work out a size's sharpening for its output pixels; None for none.

    A print is looked at from 1.5 times its diagonal, 12 in at least; a screen pixel for pixel.
    """
    strength = USUAL_STRENGTH if size.sharpen is None else size.sharpen
    amount = AMOUNTS[size.sharpen_for] * strength / USUAL_STRENGTH
    if amount <= 0:
        return None
    if size.sharpen_for == "screen" or size.ppi is None:
        return Sharpening(0.5, amount)
    ppi = float(size.ppi)
    distance = viewing_distance((output[0] / ppi, output[1] / ppi))
    return Sharpening(min(3.0, max(0.45, 0.5 * ppi * distance / SIGHT)), amount)


def sharpened(pixels: Array, how: Sharpening, *, alpha: bool) -> Array:
    """Sharpen (H, W, C) pixels on their lightness.

    The same step is added to every channel, so that no colour changes; it stays within
    `OVERSHOOT` of the neighbours' lightest and darkest, and takes no channel more than half its way
    to white or black, so that none is clipped.
    """
    import cv2  # here: it takes its time to load, and most files are made without it

    top = float(np.iinfo(pixels.dtype).max)
    colours = pixels.shape[2] - int(alpha)
    out = pixels.copy()
    reach = int(np.ceil(3 * how.sigma)) + 1
    high = pixels.shape[0]
    for first in range(0, high, _STRIP):
        last = min(first + _STRIP, high)
        low, end = max(0, first - reach), min(high, last + reach)
        part = pixels[low:end, :, :colours].astype(np.float32)
        light: npt.NDArray[np.float32] = (
            part @ np.array(_WEIGHTS, np.float32) if colours == 3 else part[..., 0]
        )
        light = np.ascontiguousarray(light)
        blurred = cv2.GaussianBlur(light, (0, 0), how.sigma, borderType=cv2.BORDER_REPLICATE)
        near = np.ones((3, 3), np.uint8)
        lightest = cv2.dilate(light, near, borderType=cv2.BORDER_REPLICATE) + OVERSHOOT * top
        darkest = cv2.erode(light, near, borderType=cv2.BORDER_REPLICATE) - OVERSHOOT * top
        step = np.clip(light + how.amount * (light - blurred), darkest, lightest) - light
        step = np.clip(step, -part.min(axis=2) / 2, (top - part.max(axis=2)) / 2)
        inner = slice(first - low, last - low)
        out[first:last, :, :colours] = np.rint(part[inner] + step[inner][..., None])
    return out
