"""How many bytes a file will have, before it is made: measured on this very photo.

Bytes per pixel depend on the photo's detail, the scale and the quality. They are measured once
per photo, on tiles spread over it and on small pictures of all of it, for several scales and
qualities; a file's bytes are read off between them. How much each tile weighs is kept, so that a
crop of the sky is not taken for one of the harbour.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise
from math import exp, log, sqrt
from pathlib import Path
from typing import Any

import pyvips

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.open.border import reading_pixels
from oak_ledge.core.pixels.open.decoding import image_like
from oak_ledge.core.pixels.open.photo import on_white, open_photo
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.planes.surface import Surface
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.core.sizes.file.formats import FORMATS, FileFormat
from oak_ledge.core.values import Value

SCALES = (1 / 8, 1 / 4, 1 / 2, 1.0, 2.0)


# Tiles.
ACROSS, DOWN = 5, 4


# Photo pixels of one: whole blocks of a JPEG, halved too.
TILE = (160, 128)


# Smaller than that all of the photo is measured.
WHOLE_UP_TO = 1 / 4


# Photo pixels; of more a quarter would take longer than the tiles are wrong.
MOST_WHOLE = 40_000_000


# Photo pixels: of fewer all are measured, as tiles would overlap, and what is there twice costs PNG
# and TIFF next to nothing.
ALL_OF_IT = 600_000


# Output pixels that every format holds on an edge.
_LONGEST = min(each.longest_edge for each in FORMATS.values() if each.longest_edge is not None)


# From 90 on colour is stored at every pixel.
QUALITIES = (20, 60, 75, 89, 90, 95, 100)


MODERN: tuple[FileFormat, ...] = ("webp", "avif")


MODERN_SCALES = (1 / 8, 1.0)


MODERN_QUALITIES = (60, 80, 90, 97)


_AVIF_QUALITIES = (60, 80, 95)


# Times a JPEG's bytes: the median of 22 photos, at 1/8 and 1 alike; AVIF is too slow to measure for
# each photo.
_AVIF = (0.73, 0.94, 0.85)


# Bytes of a file that are no pixels.
_HEAD = 700


# How far a tile's own weight is that of its surroundings too.
_CARRIES = 0.9


# Left, top, right and bottom of a crop, as shares of its photo's file.
Part = tuple[float, float, float, float]


WHOLE_PICTURE: Part = (0.0, 0.0, 1.0, 1.0)


class Weights(Value):
    """Bytes per output pixel, a row for each of `SCALES`."""

    jpeg: tuple[tuple[float, ...], ...]
    """in each row one for each of `QUALITIES`"""
    png: tuple[float, ...]
    tiff: tuple[float, ...]
    profile: int
    """bytes of the embedded profile"""
    webp: tuple[tuple[float, ...], ...]
    """a row for each of `MODERN_SCALES`, in it one for each of `MODERN_QUALITIES`"""
    parts: tuple[tuple[float, ...], ...] = ()
    """how much each of the photo's `ACROSS` × `DOWN` parts weighs as JPEG, row by row, the mean
    being 1: a row for each of `MODERN_SCALES`; empty for tiny photos"""
    modern_parts: tuple[tuple[float, ...], ...] = ()
    """the same for newer formats, which spend less on what is plain"""


def weigh(path: Path) -> Weights:
    """Measure a photo's weights on a few parts of it, from top left to bottom right.

    Raises
    ------
    PhotoError
        If the photo is damaged.
    """
    photo = open_photo(path)
    small = _is_small(photo.image)
    with reading_pixels():
        tiles = _tiles_of(photo.image)
        scaled = _samples(path, photo.image, tiles, whole=small)
    cells = _cells_of(scaled[0]) if len(tiles) == ACROSS * DOWN and small else []
    parts = tuple(_shares(sample, _as_jpeg) for sample in (cells, tiles)) if cells else ()
    jpegs = [_eight(on_white(sample)) for sample in scaled]
    return Weights(
        jpeg=tuple(
            tuple(_per_pixel(jpeg, jpeg.jpegsave_buffer(Q=q, keep="none")) for q in QUALITIES)
            for jpeg in jpegs
        ),
        png=tuple(
            _per_pixel(sample, sample.pngsave_buffer(keep="none", compression=6))
            for sample in scaled
        ),
        tiff=tuple(
            _per_pixel(
                sample,
                sample.tiffsave_buffer(keep="none", compression="lzw", predictor="horizontal"),
            )
            for sample in scaled
        ),
        profile=len(photo.icc or b""),
        parts=parts,
        modern_parts=_modern(cells, parts) if parts else (),
        webp=tuple(
            tuple(
                _per_pixel(sample, sample.webpsave_buffer(Q=q, keep="none", effort=4), head=200)
                for q in MODERN_QUALITIES
            )
            for sample in (jpegs[SCALES.index(scale)] for scale in MODERN_SCALES)
        ),
    )


def _is_small(image: Any) -> bool:
    """Return whether all of a photo is measured at small scales, not its tiles alone."""
    longest = max(image.width, image.height)
    return bool(image.width * image.height <= MOST_WHOLE and longest * WHOLE_UP_TO <= _LONGEST)


def _samples(path: Path, image: Any, tiles: list[Any], *, whole: bool) -> list[Any]:
    """Return what is measured of a photo at each of `SCALES`: `whole` at the small ones, else its tiles."""
    longest = max(image.width, image.height)
    if image.width * image.height <= ALL_OF_IT and longest * SCALES[-1] <= _LONGEST:
        sample = _alone(_whole(path, 1.0))
        half = sample.crop(sample.width // 4, 0, max(1, sample.width // 2), sample.height)
    else:
        sample = pyvips.Image.arrayjoin(tiles, across=1)
        half = pyvips.Image.arrayjoin(tiles[::2], across=1)  # enlarged, fewer are enough
    return [
        _alone(
            _whole(path, scale)
            if scale <= WHOLE_UP_TO and whole
            else (sample if scale <= 1 else half).resize(scale)
        )
        for scale in SCALES
    ]


def _tiles_of(image: Any) -> list[Any]:
    """Read tiles spread over a streaming photo, row by row; of a tiny one all of it."""
    wide, high = min(TILE[0], image.width), min(TILE[1], image.height)
    columns = sorted({(image.width - wide) * n // (ACROSS - 1) for n in range(ACROSS)})
    rows = sorted({(image.height - high) * n // (DOWN - 1) for n in range(DOWN)})
    region, tiles = pyvips.Region.new(image), []
    for top in rows:
        for left in columns:
            data = bytes(region.fetch(left, top, wide, high))
            tiles.append(image_like(image, data, wide, high))
    return tiles


def _whole(path: Path, scale: float) -> Any:
    """All of a photo at a scale, decoded at that part of its edges where its format can."""
    opened = open_photo(path, shrink=max(1, round(1 / scale / 2)))
    return opened.image.resize(scale * opened.shrink)


def _alone(image: Any) -> Any:
    """Work an image out: its pixels, without whatever else its file says."""
    return image_like(image, image.write_to_memory(), image.width, image.height)


def _cells_of(image: Any) -> list[Any]:
    """Cut a small picture of all of a photo into its parts."""
    wide, high = image.width // ACROSS, image.height // DOWN
    return [
        image.crop(column * wide, row * high, wide, high)
        for row in range(DOWN)
        for column in range(ACROSS)
    ]


def _shares(pieces: list[Any], save: Callable[[Any], bytes]) -> tuple[float, ...]:
    eights = [_eight(on_white(piece)) for piece in pieces]
    weights = [_per_pixel(eight, save(eight)) for eight in eights]
    mean = sum(weights) / len(weights)
    return tuple(weight / mean for weight in weights)


def _modern(
    cells: list[Any], parts: tuple[tuple[float, ...], ...]
) -> tuple[tuple[float, ...], ...]:
    """Lay between JPEG's shares and WebP's what came nearest to both newer formats on 22 photos."""
    shares = zip(parts[0], _shares(cells, _as_webp), strict=True)
    return tuple(sqrt(jpeg * webp) for jpeg, webp in shares), parts[1]


def _as_jpeg(image: Any) -> bytes:
    return bytes(image.jpegsave_buffer(Q=90, keep="none"))


def _as_webp(image: Any) -> bytes:
    return bytes(image.webpsave_buffer(Q=85, keep="none", effort=2))


def _eight(image: Any) -> Any:
    return image if image.format == "uchar" else image.cast("uchar", shift=True)


def _per_pixel(image: Any, data: bytes, head: int = _HEAD) -> float:
    pixels: int = image.width * image.height
    return max(1.0, len(data) - head) / pixels


def estimate(
    weights: Weights,
    output: Pixels,
    scale: float,
    settings: FileSettings,
    part: Part = WHOLE_PICTURE,
) -> int:
    """Estimate the bytes of a file; over its greatest bytes a JPEG will be made to fit.

    Parameters
    ----------
    output : output pixels
    scale : output pixels per photo pixel
    part : left, top, right and bottom of the crop, as shares of the photo

    Notes
    -----
    Read off log-log between scales, and linearly between qualities. Beyond the measured scales
    the nearest counts. Within a quarter of the true bytes for JPEG, PNG and TIFF (`benchmarks/estimates.py`); ground beside the
    photo weighs next to nothing and isn't told apart here.
    """
    if not FORMATS[settings.format].lossless:
        column = [_between(QUALITIES, row, settings.quality) for row in weights.jpeg]
    else:
        column = list(weights.png if settings.format == "png" else weights.tiff)
    logs = [log(value) for value in column]
    per_pixel = exp(_between([log(s) for s in SCALES], logs, log(scale)))
    per_pixel *= _lighter(weights, settings, scale) * _detail_in(weights, part, scale, settings)
    size_in_bytes = round(output[0] * output[1] * per_pixel) + _HEAD + weights.profile
    if settings.at_most is not None and not FORMATS[settings.format].lossless:
        return min(size_in_bytes, settings.at_most)
    return size_in_bytes


def _lighter(weights: Weights, settings: FileSettings, scale: float) -> float:
    """Return how many times the bytes of a JPEG of the same quality a file will have."""
    if settings.format not in MODERN:
        return 1.0
    if settings.format == "avif":
        return _between(_AVIF_QUALITIES, _AVIF, settings.quality)
    ratios = []
    for at, row in zip(MODERN_SCALES, weights.webp, strict=True):
        webp = exp(_between(MODERN_QUALITIES, [log(cell) for cell in row], settings.quality))
        jpeg = _between(QUALITIES, weights.jpeg[SCALES.index(at)], settings.quality)
        ratios.append(log(webp / jpeg))
    return exp(_between([log(s) for s in MODERN_SCALES], ratios, log(scale)))


def part_in(crop: Crop, surface: Surface, orientation: int) -> Part:
    """Return where a crop lies on its photo's file, for `estimate`; all of it where that is turned."""
    plain = surface.quarter == 0 and not surface.mirror and orientation == 1
    if not plain:
        return WHOLE_PICTURE
    xs, ys = zip(*surface.to_photo(crop.corners()), strict=True)
    wide, high = surface.photo
    left, right = max(0.0, min(xs) / wide), min(1.0, max(xs) / wide)
    top, bottom = max(0.0, min(ys) / high), min(1.0, max(ys) / high)
    return (left, top, right, bottom) if left < right and top < bottom else WHOLE_PICTURE


def _detail_in(weights: Weights, part: Part, scale: float, settings: FileSettings) -> float:
    """Return how much more a part of a photo weighs per pixel than all of it."""
    rows = weights.modern_parts if settings.format in MODERN else weights.parts
    if not rows or part == WHOLE_PICTURE:
        return 1.0
    logs = [log(_over(row, part)) for row in rows]
    return exp(_CARRIES * _between([log(s) for s in MODERN_SCALES], logs, log(scale)))


def _over(shares: Sequence[float], part: Part) -> float:
    """Return the mean weight of what of the parts lies under a crop."""
    left, top, right, bottom = part
    total = weight = 0.0
    for n, share in enumerate(shares):
        row, column = divmod(n, ACROSS)
        across = max(0.0, min(right, (column + 1) / ACROSS) - max(left, column / ACROSS))
        down = max(0.0, min(bottom, (row + 1) / DOWN) - max(top, row / DOWN))
        total, weight = total + across * down, weight + across * down * share
    return weight / total if weight else 1.0


def _between(places: Sequence[float], values: Sequence[float], at: float) -> float:
    """Read a value off a polyline; beyond its ends the nearest counts."""
    if at <= places[0]:
        return values[0]
    for (left, low), (right, high) in pairwise(zip(places, values, strict=True)):
        if at <= right:
            return low + (high - low) * (at - left) / (right - left)
    return values[-1]
