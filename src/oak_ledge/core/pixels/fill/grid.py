"""The small grid a photo is searched on: whole blocks of its pixels, and the hole to be filled."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

Array = npt.NDArray[Any]
# Of single precision.
Floats = npt.NDArray[Any]
Mask = npt.NDArray[np.bool_]

# Of a grid's atlas: places are kept in 16 bits.
MOST_EDGE = 30_000


@dataclass(frozen=True)
class Grid:
    """A canvas in blocks of `step` × `step` pixels, in which the photo's own blocks are exact.

    `colours` is (h, w, 3), 0…255, 0 in the `hole`. The grid begins `lead` = (rows, columns) of
    pixels before the canvas, so that the photo begins with a block.
    """

    colours: Floats
    hole: Mask
    step: int
    lead: tuple[int, int]

    @property
    def known(self) -> Mask:
        """Where the photo is."""
        return ~self.hole


def step_for(width: int, height: int, megapixels: float) -> int:
    """Return how many pixels a block's edge has, for a grid of so many megapixels."""
    return max(1, round(sqrt(width * height / (megapixels * 1e6))))


def blocks(pixels: Array, step: int) -> Floats:
    """Return the means of whole blocks, as (h, w, 3) of 0…255; greys three times, alpha left out."""
    high, wide = (edge // step for edge in pixels.shape[:2])
    whole = pixels[: high * step, : wide * step]
    means = cv2.resize(whole, (wide, high), interpolation=cv2.INTER_AREA).astype(np.float32)
    means = means.reshape(high, wide, -1)
    if pixels.dtype == np.uint16:
        means /= 257
    bands = means.shape[2]
    return np.ascontiguousarray(means[..., :3] if bands >= 3 else np.repeat(means[..., :1], 3, 2))


def cover(mask: Mask, step: int) -> Floats:
    """Return the share of every whole block that a mask covers."""
    high, wide = (edge // step for edge in mask.shape)
    part = mask[: high * step, : wide * step].astype(np.uint8) * 255
    share: Floats = cv2.resize(part, (wide, high), interpolation=cv2.INTER_AREA) / np.float32(255)
    return share


def around_photo(photo: Array, before: tuple[int, int], after: tuple[int, int], step: int) -> Grid:
    """Lay a photo on a larger canvas: (rows, columns) of hole `before` and `after` it."""
    lead = (-before[0] % step, -before[1] % step)
    means = blocks(photo, step)
    first = [(edge + part) // step for edge, part in zip(before, lead, strict=True)]
    edges = []
    for axis in (0, 1):
        if after[axis]:
            canvas = photo.shape[axis] + before[axis] + after[axis]
            edges.append(-(-(canvas + lead[axis]) // step))
        else:  # a part of a block that is left at a closed edge is no hole
            edges.append(first[axis] + means.shape[axis])
    colours = np.zeros((*edges, 3), np.float32)
    hole = np.ones(tuple(edges), np.bool_)
    place = np.s_[first[0] : first[0] + means.shape[0], first[1] : first[1] + means.shape[1]]
    colours[place], hole[place] = means, False
    return Grid(colours, hole, step, lead)


def whole_blocks(photo: Array, step: int) -> Array:
    """Return a photo grown at the right and at its foot so that it has whole blocks only."""
    below, right = (-edge % step for edge in photo.shape[:2])
    return cv2.copyMakeBorder(photo, 0, below, 0, right, cv2.BORDER_REPLICATE)


def with_hole(photo: Array, mask: Mask, step: int) -> Grid:
    """Take a photo in which `mask` is the hole; every block that it touches, and those beside."""
    below, right = (-edge % step for edge in mask.shape)
    whole = whole_blocks(photo, step)
    padded = np.pad(mask, ((0, below), (0, right)))
    touched = (cover(padded, step) > 0).astype(np.uint8)
    hole = cv2.dilate(touched, np.ones((3, 3), np.uint8)) > 0
    colours = blocks(whole, step)
    return Grid(np.where(hole[..., None], np.float32(0), colours), hole, step, (0, 0))


def away(mask: Mask) -> Floats:
    """Return how far every block inside a mask is from its outside."""
    distances: Floats = cv2.distanceTransform(mask.astype(np.uint8), cv2.DIST_L2, 3)
    return distances


def grey(colours: Floats) -> Floats:
    """Return the lightness of colours whose first band is red."""
    lightness: Floats = cv2.cvtColor(colours, cv2.COLOR_RGB2GRAY)
    return lightness


def blurred(values: Floats, sigma: float, weights: Floats | None = None) -> Floats:
    """Blur, over what `weights` let count."""
    if weights is None:
        plain: Floats = cv2.GaussianBlur(values, (0, 0), sigma)
        return plain
    whole = np.maximum(cv2.GaussianBlur(weights, (0, 0), sigma), np.float32(1e-6))
    more = weights if values.ndim == 2 else weights[..., None]
    part = cv2.GaussianBlur(values * more, (0, 0), sigma)
    blur: Floats = part / (whole if values.ndim == 2 else whole[..., None])
    return blur
