"""How many bytes a file will have, before it is made: measured on parts of this very photo.

Bytes per pixel depend on the photo's detail, the scale and the quality. They are measured once
per photo, on a few parts of it, for several scales and qualities; a file's bytes are read off
between them.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from math import exp, log
from pathlib import Path
from typing import Any

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.content import parts_of
from oak_ledge.core.pixels.encode.encode import LEAST_QUALITY
from oak_ledge.core.pixels.open.border import reading_pixels
from oak_ledge.core.pixels.open.photo import on_white, open_photo
from oak_ledge.core.sizes.choices import FileFormat
from oak_ledge.core.sizes.file_settings import FileSettings
from oak_ledge.core.values import Value

SCALES = (1 / 8, 1 / 4, 1 / 2, 1.0, 2.0)


QUALITIES = (20, 60, 75, 89, 90, 95, 100)  # from 90 on colour is stored at every pixel


_LIGHTER: dict[FileFormat, float] = {"webp": 0.75, "avif": 0.6}  # than a JPEG of their quality


_HEAD = 700  # bytes of a file that are no pixels


class Weights(Value):
    """Bytes per output pixel, a row for each of `SCALES`."""

    jpeg: tuple[tuple[float, ...], ...]
    """in each row one for each of `QUALITIES`"""
    png: tuple[float, ...]
    tiff: tuple[float, ...]
    profile: int
    """bytes of the embedded profile"""


def weigh(path: Path) -> Weights:
    """Measure a photo's weights on a few parts of it, from top left to bottom right.

    Raises
    ------
    PhotoError
        If the photo is damaged.
    """
    photo = open_photo(path)
    with reading_pixels():
        sample = parts_of(photo)
        scaled = [sample.resize(scale).copy_memory() for scale in SCALES]
    jpegs = [_eight(on_white(one)) for one in scaled]
    return Weights(
        jpeg=tuple(
            tuple(_per_pixel(one, one.jpegsave_buffer(Q=q, keep="none")) for q in QUALITIES)
            for one in jpegs
        ),
        png=tuple(
            _per_pixel(one, one.pngsave_buffer(keep="none", compression=6)) for one in scaled
        ),
        tiff=tuple(
            _per_pixel(
                one, one.tiffsave_buffer(keep="none", compression="lzw", predictor="horizontal")
            )
            for one in scaled
        ),
        profile=len(photo.icc or b""),
    )


def _eight(image: Any) -> Any:
    return image if image.format == "uchar" else image.cast("uchar", shift=True)


def _per_pixel(image: Any, data: bytes) -> float:
    pixels: int = image.width * image.height
    return max(1.0, len(data) - _HEAD) / pixels


def estimate(weights: Weights, asked: Pixels, scale: float, settings: FileSettings) -> int:
    """Estimate the bytes of a file; over its greatest bytes a JPEG will be made to fit.

    Parameters
    ----------
    asked : output pixels
    scale : output pixels per photo pixel

    Notes
    -----
    Read off log-log between scales, and linearly between qualities. Beyond the measured scales
    the nearest counts. Within a quarter of the true bytes for photographs; ground beside the
    photo weighs next to nothing and isn't told apart here.
    """
    if settings.format not in ("png", "tiff"):
        column = [_between(QUALITIES, row, settings.quality) for row in weights.jpeg]
    else:
        column = list(weights.png if settings.format == "png" else weights.tiff)
    logs = [log(value) for value in column]
    per_pixel = exp(_between([log(s) for s in SCALES], logs, log(scale)))
    per_pixel *= _LIGHTER.get(settings.format, 1.0)
    found = round(asked[0] * asked[1] * per_pixel) + _HEAD + weights.profile
    if settings.at_most is not None and settings.format not in ("png", "tiff"):
        return min(found, settings.at_most)
    return found


def fitting_quality(
    weights: Weights, asked: Pixels, scale: float, settings: FileSettings
) -> int | None:
    """Estimate the quality at which a file keeps its greatest bytes.

    Its own where that fits already, or where nothing was said; None where not even
    `LEAST_QUALITY` would fit, or the format knows no quality.
    """
    if settings.at_most is None:
        return settings.quality
    free = settings.model_copy(update={"at_most": None})
    qualities = range(settings.quality, min(LEAST_QUALITY, settings.quality) - 1, -1)
    if settings.format in ("png", "tiff"):
        qualities = range(settings.quality, settings.quality - 1, -1)
    for quality in qualities:
        tried = free.model_copy(update={"quality": quality})
        if estimate(weights, asked, scale, tried) <= settings.at_most:
            return quality
    return None


def _between(places: Sequence[float], values: Sequence[float], at: float) -> float:
    """Read a value off a polyline; beyond its ends the nearest counts."""
    if at <= places[0]:
        return values[0]
    for (left, low), (right, high) in pairwise(zip(places, values, strict=True)):
        if at <= right:
            return low + (high - low) * (at - left) / (right - left)
    return values[-1]
