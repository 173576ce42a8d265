"""A thing's edge followed to full size, and made a matte whose colours are the thing's own.

In a narrow band along the edge each pixel is told by where it lies between the colours of the thing and
of the ground near it, both averaged over their own side alone (normalised convolution; Knutsson &
Westin, CVPR 1993); it is thus followed from a small picture to the photo, twice as large at each step.
"""

from __future__ import annotations

import os
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from math import ceil
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

Mask = npt.NDArray[np.bool_]
# Of single precision.
Floats = npt.NDArray[Any]

# Pixels to either side of an edge: where it is looked for, and the most a matte is wide.
BAND = 4

# Pixels over which colours of one side are averaged; what a square is looked at with around it.
_NEAR, _ROOM = (25, 25), 24

# Pixels of a square that is looked at in one go, at full size.
_TILE = 256

# Of 255: what colours differ by in themselves, at least.
_NOISE = 4.0

# Of the square of how far two sides are apart: by that either may differ from its own average.
_BETWEEN = 0.02

# How much the spread of both sides weighs against how far they are apart.
_DOUBT = 3.0

# Pixels: an edge is followed this smoothly.
_SMOOTH = 2.0


@dataclass(frozen=True)
class Matte:
    """A thing's share of each pixel of a box, (H, W) 0 to 1, and its own colours there, (H, W, C)."""

    shares: Floats
    colours: npt.NDArray[Any]
    unsure: float
    """the share of the edge that is wide, or that colours do not tell: hair, glass, a like ground"""


def followed(photo: npt.NDArray[Any], thing: Mask) -> Mask:
    """Follow a mask, (h, w) of a small picture, to a photo's pixels, (H, W, C): (H, W)."""
    high, wide = photo.shape[:2]
    mask = thing
    levels = []
    across = wide
    while across > 1.5 * thing.shape[1]:
        levels.append(across)
        across = ceil(across / 2)
    for across in reversed(levels[1:]):
        along = max(1, round(high * across / wide))
        picture = cv2.resize(_bytes(photo), (across, along), interpolation=cv2.INTER_AREA)
        mask = _moved(picture, _larger(mask, (along, across)))
    return _larger(mask, (high, wide))


def _larger(mask: Mask, shape: tuple[int, int]) -> Mask:
    """Enlarge a mask smoothly."""
    smooth = cv2.GaussianBlur(mask.astype(np.float32), (0, 0), 0.7)
    large = cv2.resize(smooth, shape[::-1], interpolation=cv2.INTER_CUBIC)
    larger: Mask = large > 0.5
    return larger


def _moved(picture: npt.NDArray[Any], mask: Mask) -> Mask:
    """Move an edge to where the colours say that it lies, by no more than a band's width."""
    part = picture.astype(np.float32)
    sides = _sides(part, mask)
    told, (sure_in, sure_out) = _told(part, sides), sides.sure
    told[sure_in], told[sure_out] = 1.0, 0.0
    moved: Mask = cv2.GaussianBlur(told, (0, 0), _SMOOTH) > 0.5
    return moved


@dataclass(frozen=True)
class _Sides:
    """What colours say about each pixel near an edge: two sides, their averages and spreads."""

    inside: Floats
    outside: Floats
    thing: Floats
    within: Floats
    ground: Floats
    around: Floats

    @property
    def sure(self) -> tuple[Mask, Mask]:
        """What surely is the thing, and what surely is not."""
        return self.inside > BAND, self.outside > BAND


def _sides(part: Floats, mask: Mask) -> _Sides:
    inside = cv2.distanceTransform(mask.astype(np.uint8), cv2.DIST_L2, 3)
    outside = cv2.distanceTransform((~mask).astype(np.uint8), cv2.DIST_L2, 3)
    thing, ground = _averaged(part, inside > BAND), _averaged(part, outside > BAND)
    return _Sides(inside, outside, *thing, *ground)


def _told(part: Floats, sides: _Sides) -> Floats:
    """Return how likely each pixel is the thing by the colours near it."""
    # a thing's colours change towards its edge, and what lies between both sides is of neither
    apart = _BETWEEN * (sides.thing - sides.ground) ** 2
    within, around = (
        ((part - middle) ** 2 / (spread + apart) + np.log(spread + apart)).sum(axis=2)
        for middle, spread in ((sides.thing, sides.within), (sides.ground, sides.around))
    )
    odds = cv2.GaussianBlur(np.clip((around - within) / 2, -6, 6), (0, 0), 1.0)
    odds += np.clip(sides.inside - sides.outside, -BAND, BAND) * (2.0 / BAND)
    told: Floats = (1 / (1 + np.exp(-odds))).astype(np.float32)
    return told


def _averaged(part: Floats, side: Mask) -> tuple[Floats, Floats]:
    """Return mean and variance of the colours of one side over what lies near, that side alone counting."""
    weight = side.astype(np.float32)
    total = np.maximum(cv2.blur(weight, _NEAR), 1e-4)[..., None]

    def mean(values: Floats) -> Floats:
        near: Floats = cv2.blur(values * weight[..., None], _NEAR).reshape(part.shape)
        return near / total

    middle = mean(part)
    spread = np.maximum(mean(part * part) - middle * middle, 0) + _NOISE**2
    return middle, spread


def matte(photo: npt.NDArray[Any], mask: Mask) -> Matte:
    """Make a matte of a thing's edge, (H, W) over a photo, (H, W, C) of 8 or 16 bits.

    Of what is farther than a few pixels from the edge not one value changes.
    """
    colours, shares = photo.copy(), mask.astype(np.float32)
    edge = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8))

    def lay(tile: tuple[int, int]) -> tuple[float, float]:
        top, left = tile
        y, x = max(0, top - _ROOM), max(0, left - _ROOM)
        place = np.s_[y : top + _TILE + _ROOM, x : left + _TILE + _ROOM]
        part_shares, part_colours, unsure = _matte_of(photo[place], mask[place])
        own = np.s_[top - y : top - y + _TILE, left - x : left - x + _TILE]
        here = np.s_[top : top + _TILE, left : left + _TILE]
        shares[here], colours[here] = part_shares[own], part_colours[own]
        return float(unsure[own].sum()), float(edge[here].sum())

    with ThreadPoolExecutor(os.cpu_count() or 1) as pool:
        told = list(pool.map(lay, _along(edge)))
    unsure, whole = (sum(part) for part in zip(*told, strict=True)) if told else (0.0, 1.0)
    return Matte(shares, colours, unsure / max(whole, 1.0))


def _along(edge: npt.NDArray[Any]) -> list[tuple[int, int]]:
    """Return the top and left of each square that an edge runs through, or near."""
    high, wide = edge.shape
    near = 2 * BAND
    return [
        (top, left)
        for top in range(0, high, _TILE)
        for left in range(0, wide, _TILE)
        if edge[
            max(0, top - near) : top + _TILE + near, max(0, left - near) : left + _TILE + near
        ].any()
    ]


def _matte_of(part: npt.NDArray[Any], mask: Mask) -> tuple[Floats, npt.NDArray[Any], Mask]:
    """Return shares and colours of a part, and where the edge is not told by colours or is wide."""
    unit = np.float32(255 / np.iinfo(part.dtype).max)
    seen = part.astype(np.float32) * unit
    sides = _sides(seen, mask)
    told = cv2.GaussianBlur(_told(seen, sides), (0, 0), 1.0)
    way = sides.thing - sides.ground
    length = np.maximum((way**2).sum(axis=2), 1e-3)
    between = np.clip(((seen - sides.ground) * way).sum(axis=2) / length, 0, 1)
    spread = (sides.within + sides.around).sum(axis=2)
    weight = length / (length + _DOUBT * spread)
    shares = weight * between + (1 - weight) * told
    # what the colours say counts where the edge is near
    shares = np.where(
        told > 0.97,
        np.maximum(shares, told),
        np.where(told < 0.03, np.minimum(shares, told), shares),
    )
    sure_in, sure_out = sides.sure
    shares[sure_in], shares[sure_out] = 1.0, 0.0
    shares = np.where(shares > 0.985, 1.0, np.where(shares < 0.015, 0.0, shares)).astype(np.float32)
    mixed = (shares > 0) & (shares < 1)
    opaque = np.maximum(shares, 0.05)[..., None]
    cleaned = (seen - (1 - shares[..., None]) * sides.ground) / opaque
    near = 3 * np.sqrt(sides.within)
    cleaned = np.clip(cleaned, sides.thing - near, sides.thing + near)
    colours = part.copy()
    top = np.iinfo(part.dtype).max
    colours[mixed] = np.clip(np.rint(cleaned[mixed] / unit), 0, top).astype(part.dtype)
    edge = np.abs(sides.inside - sides.outside) <= 1.5
    return shares, colours, edge & (weight < 0.5)


def _bytes(photo: npt.NDArray[Any]) -> npt.NDArray[Any]:
    return (
        (photo >> 8).astype(np.uint8)
        if photo.dtype == np.uint16
        else photo.astype(np.uint8, copy=False)
    )
