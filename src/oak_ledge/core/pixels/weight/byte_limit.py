"""Whether a file is likely to keep its greatest bytes, and what would make it, by estimate."""

from __future__ import annotations

from typing import Literal

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import halves_up
from oak_ledge.core.pixels.weight.estimate import WHOLE_PICTURE, Part, Weights, estimate
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.core.sizes.file.formats import FORMATS, FileFormat, lossy
from oak_ledge.core.values import Value

# Those with a quality, the most widely read first.


# Under it nothing is offered: no one would hand that over.
WORST_QUALITY = 20


# Where fewer pixels are offered, an edge has at most this share of what it has now.
LESS = 0.97


# This share of the greatest bytes is aimed at, as the estimate may be a quarter off.
SURE = 0.85


class Fit(Value):
    """One thing that would keep a file within its greatest bytes."""

    kind: Literal["quality", "format", "pixels"]
    words: str
    quality: int | None = None
    format: FileFormat | None = None
    pixels: Pixels | None = None


def fitting_quality(
    weights: Weights,
    output: Pixels,
    scale: float,
    settings: FileSettings,
    part: Part = WHOLE_PICTURE,
) -> int | None:
    """Estimate the quality at which a file keeps its greatest bytes.

    Return the quality it has where that fits already, or where no limit was set; None where not even
    the least quality would fit, or where the format has no quality.
    """
    if settings.at_most is None:
        return settings.quality
    floor = settings.floor
    if FORMATS[settings.format].lossless:
        floor = settings.quality
    floor = min(floor, settings.quality)
    return _fitting(weights, output, scale, settings, part, (settings.quality, floor))


def ways_to_fit(
    weights: Weights,
    output: Pixels,
    scale: float,
    settings: FileSettings,
    part: Part = WHOLE_PICTURE,
    *,
    scaled: bool = True,
) -> tuple[Fit, ...]:
    """Return what would keep a file within its greatest bytes, where its least quality does not.

    A lower quality than its least, another format, and fewer pixels, which are those at which it
    fits at the least quality; `scaled` says whether its size may make fewer.
    """
    if settings.at_most is None:
        return ()
    settings = settings.model_copy(update={"at_most": max(1, round(settings.at_most * SURE))})
    fits: list[Fit] = []
    if not FORMATS[settings.format].lossless:
        below = (min(settings.floor, settings.quality) - 1, WORST_QUALITY)
        lower = _fitting(weights, output, scale, settings, part, below)
        if lower is not None:
            fits.append(Fit(kind="quality", words=f"Quality down to {lower}", quality=lower))
    for kind in lossy():
        other = settings.model_copy(update={"format": kind})
        if kind != settings.format and fitting_quality(weights, output, scale, other, part):
            fits.append(Fit(kind="format", words=f"Make it {FORMATS[kind].a_file}", format=kind))
            break
    if scaled and (fewer := _fewer(weights, output, scale, settings, part)):
        words = f"Make it {fewer[0]} × {fewer[1]} px"
        fits.append(Fit(kind="pixels", words=words, pixels=fewer))
    return tuple(fits)


def _fitting(
    weights: Weights,
    output: Pixels,
    scale: float,
    settings: FileSettings,
    part: Part,
    among: tuple[int, int],
) -> int | None:
    """Return the highest quality, from one down to another, whose file is likely to be small enough."""
    assert settings.at_most is not None
    free = settings.model_copy(update={"at_most": None})
    highest, lowest = among
    for quality in range(highest, lowest - 1, -1):
        tried = free.model_copy(update={"quality": quality})
        if estimate(weights, output, scale, tried, part) <= settings.at_most:
            return quality
    return None


def _fewer(
    weights: Weights, output: Pixels, scale: float, settings: FileSettings, part: Part
) -> Pixels | None:
    """Return the most pixels of this shape that are likely to fit at the least quality."""
    assert settings.at_most is not None
    least = min(settings.floor, settings.quality)
    tried = settings.model_copy(update={"at_most": None, "quality": least})
    low, high = 0, max(1, round(min(output) * LESS))
    while high - low > 1:
        short = (low + high) // 2
        edges = _edges(output, short)
        bytes_ = estimate(weights, edges, scale * short / min(output), tried, part)
        low, high = (short, high) if bytes_ <= settings.at_most else (low, short)
    return _edges(output, low) if low >= 16 else None


def _edges(output: Pixels, short: int) -> Pixels:
    width, height = (max(1, halves_up(edge * short / min(output))) for edge in output)
    return width, height
