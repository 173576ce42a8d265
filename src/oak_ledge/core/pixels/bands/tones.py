"""What is coarse along a band: taken off what is copied, and replaced by how it goes on at the rim."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from oak_ledge.core.pixels.bands.bundle import Bundle
from oak_ledge.core.pixels.bands.strip import Strip
from oak_ledge.core.pixels.lines.rim_line import Floats

# Levels: what differs by more is another thing, not another tone.
_MOST = 14.0

# Columns at the rim that say its tone.
_RIM = 64


@dataclass(frozen=True)
class Tones:
    """Tones of a band, one row for each height: `inside` (n, reach, 3), `beyond` (n, columns, 3)."""

    inside: Floats
    beyond: Floats


def tones_of(bundle: Bundle, strip: Strip, beyond: int) -> Tones:
    """Return the tones of a strip, and those that go on over `beyond` columns: the slope fades out."""
    reach = strip.pixels.shape[1]
    across = 0.012 * reach + 4 if bundle.fan else 5.0
    pixels = strip.pixels if bundle.fan else _without_things(bundle, strip)
    along = 0.3 * reach if bundle.fan else 22.0
    inside = _blurred(pixels, along, across)
    slope = _slope(inside, beyond, bundle.margin)
    if bundle.fan:
        rim = inside[:, 0]
    else:
        near = min(reach, _RIM)
        level = pixels[:, :near] + slope[:, None] * np.arange(near)[None, :, None]
        rim = _blurred(np.median(level, 1)[:, None], 0.01, across)[:, 0]
    fades = 0.5 * beyond
    far = fades * (1 - np.exp(-np.arange(beyond) / fades))
    more = np.clip(slope[:, None] * far[None, :, None], -_MOST, _MOST)
    return Tones(inside, (rim[:, None] + more).astype(np.float32))


def _without_things(bundle: Bundle, strip: Strip) -> Floats:
    """Clip what is passed by, a lamp on a cable, to about its surroundings; the lines stay as they are."""
    usual = np.median(strip.pixels[:, :160], 1, keepdims=True)
    usual = _blurred(usual, 0.01, 1.5)
    pixels = np.clip(strip.pixels, usual - _MOST, usual + _MOST)
    first, last = bundle.lines[0], bundle.lines[-1]
    inner = strip.heights > first.at - (3 * first.width + 4) * first.stretch
    inner &= strip.heights < last.at + (3 * last.width + 4) * first.stretch
    pixels[inner] = strip.pixels[inner]
    return pixels


def _slope(inside: Floats, beyond: int, margin: float) -> Floats:
    """Return by how many levels a column tones change outward, (n, 3)."""
    columns = int(min(inside.shape[1], max(60, 0.6 * beyond)))
    part = inside[:, :columns]
    usual = part.mean(1, keepdims=True)
    part = np.clip(part, usual - 30, usual + 30)
    half = columns // 2
    rise = np.median(part[:, :half], 1) - np.median(part[:, half:], 1)
    slope: Floats = rise / max(1, columns - half)
    return _blurred(slope[:, None], 0.01, max(4.0, 0.7 * margin))[:, 0]


def _blurred(values: Floats, along: float, across: float) -> Floats:
    blurred: Floats = cv2.GaussianBlur(
        values, (0, 0), sigmaX=along, sigmaY=across, borderType=cv2.BORDER_REPLICATE
    )
    return blurred.reshape(values.shape)
