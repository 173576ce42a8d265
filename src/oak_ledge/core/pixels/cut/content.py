"""What kind of picture a photo is, as far as resampling cares: drawn, noisy, or neither."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
import pyvips

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.methods import Method
from oak_ledge.core.pixels.open.border import reading_pixels
from oak_ledge.core.pixels.open.decoding import image_like
from oak_ledge.core.pixels.open.photo import OpenPhoto, Source, open_photo, wait_for
from oak_ledge.core.placements.crop import Crop

if TYPE_CHECKING:
    import numpy.typing as npt

# How many parts are looked at, and the photo pixels of one.
PARTS, PART = 5, (384, 256)


# Photographs have thousands in as many pixels.
DRAWN_COLOURS = 64


# Of 255, where the picture is flattest.
NOISY = 4.0


_TILE = 16


@dataclass(frozen=True)
class Content:
    """What was found on a few parts of a photo. `noise` is a standard deviation, of 255."""

    colours: int
    noise: float


def parts_of(photo: OpenPhoto) -> Any:
    """Read a few parts of a streaming photo, top to bottom and left to right, as one tall image."""
    image = photo.image
    wide = min(PART[0], image.width)
    high = min(PART[1], max(1, image.height // PARTS))
    region, rows = pyvips.Region.new(image), []
    for n in range(PARTS):
        x, y = (image.width - wide) * n // (PARTS - 1), image.height * n // PARTS
        rows.append(bytes(region.fetch(x, y, wide, high)))
    return image_like(image, b"".join(rows), wide, high * PARTS)


def look_into(source: Source) -> Content:
    """Measure a photo's content.

    Noise is measured as the response to a mask that no plane or straight edge answers to (Immerkær, *Fast
    noise variance estimation*, Computer Vision and Image Understanding 64, 1996), taken where the
    photo is flattest: in the lowest tenth of small tiles, so that texture isn't taken for noise.
    """
    photo = open_photo(source)
    wait_for(photo)
    with reading_pixels():
        sample = parts_of(photo)
    pixels = sample.numpy().reshape(sample.height, sample.width, sample.bands)
    colours = pixels[..., : sample.bands - int(photo.alpha)]
    flat = colours.reshape(-1, colours.shape[2])
    tones = len(np.unique(flat[:: max(1, len(flat) // 100_000)], axis=0))
    top = np.iinfo(pixels.dtype).max
    return Content(tones, noise_of(colours.mean(axis=2) * (255 / top)))


def noise_of(light: npt.NDArray[np.floating[Any]]) -> float:
    """Return the noise of lightness, of 255, as a standard deviation where it is flattest."""
    if min(light.shape) < _TILE + 2:
        return 0.0
    across = light[:, :-2] - 2 * light[:, 1:-1] + light[:, 2:]
    answer = np.abs(across[:-2] - 2 * across[1:-1] + across[2:])
    high, wide = (edge // _TILE * _TILE for edge in answer.shape)
    tiles = answer[:high, :wide].reshape(high // _TILE, _TILE, wide // _TILE, _TILE)
    # the mask's own weights: 36 times the variance; mean of |x| to standard deviation √(π/2)
    return float(np.quantile(tiles.mean(axis=(1, 3)), 0.1) * np.sqrt(np.pi / 2) / 6)


def choose_for(source: Source, crop: Crop, output: Pixels) -> Method | None:
    """Choose the kernel for an enlargement by what is in the photo; None to choose by scale.

    Drawings enlarged by a whole factor keep their blocks; noise is not sharpened into worms.
    """
    factor = output[0] / crop.width
    if factor <= 1:
        return None
    content = look_into(source)
    if content.colours <= DRAWN_COLOURS and abs(factor - round(factor)) < 1e-6 and not crop.angle:
        return "nearest"
    return "mitchell" if content.noise > NOISY else "bicubic"
