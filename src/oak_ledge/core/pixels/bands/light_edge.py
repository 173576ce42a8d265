"""A straight edge of light, a shadow's: one matter on both sides of a line, darker on one.

Divided out of the photo before what lies beyond is filled, and multiplied back, so that a shadow does
not stop at the photo's edge.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from oak_ledge.core.pixels.bands.bundle import Bundle
from oak_ledge.core.pixels.bands.strip import Strip, strip_of
from oak_ledge.core.pixels.lines.rim_line import Floats, RimLine
from oak_ledge.core.pixels.lines.segments import Doubles
from oak_ledge.core.pixels.lines.side import Array

# Of the longer edge: so wide a strip on each side is looked at.
_DEEP = 0.03

# What lies beyond: a line must be so much of it long; levels across it.
_LEAST_LENGTH, _LEAST_CONTRAST = 0.6, 3.0

# Light on the dark side, as a share of that on the bright one; how far its colours may differ.
_DARKEST, _PALEST, _COLOURED = 0.25, 0.88, 1.3

# Fine detail of one side as a multiple of the other's, each against its own light.
_ALIKE = (0.6, 1.65)

# Of the columns, whose own step is like the whole's, as a logarithm.
_STEADY, _STEADY_WITHIN = 0.75, 0.2

# Levels: from here on light is clipped, and says nothing; so much of the dark side may come there
# when it is lit as the bright side is.
_CLIPPED, _MOST_CLIPPED = 250.0, 0.01


@dataclass(frozen=True)
class LightEdge:
    """A line, in pixels of the picture it was found on, on one side of which there is less light."""

    line: RimLine
    share: Doubles
    """of the light that is left on the dark side, for each colour"""
    offsets: Doubles
    """rows from the line"""
    darkness: Doubles
    """0 where there is all the light, 1 where there is as little as there is"""

    def light(self, x: Floats, y: Floats, wide: float) -> Floats:
        """Return the light, (..., 3), 1 on the bright side, at places of the picture it was found on.

        `x` is counted from the rim, `wide` the picture's width; where the line was not followed all
        is bright.
        """
        line = self.line
        followed = np.maximum(x, -min(wide, 1.3 * line.columns))
        fades = np.clip(1 + (x + line.columns) / (0.25 * wide), 0, 1)
        dark = np.interp(y - line.y(followed), self.offsets, self.darkness) * fades
        light: Floats = np.exp(dark[..., None] * np.log(self.share)).astype(np.float32)
        return light

    @property
    def soft(self) -> float:
        """Half the rows over which the light changes."""
        between = (self.darkness > 0.05) & (self.darkness < 0.95)
        return 0.5 * float(np.ptp(self.offsets[between])) if between.sum() > 1 else 2.0


def light_edge(lines: Sequence[RimLine], photo: Array, beyond: int) -> LightEdge | None:
    """Return the edge of light that counts most on a photo, (H, W, 3) uint8; None where there is none."""
    likely = [line for line in lines if line.flaw in ("", "uneven")]
    best, most = None, 0.0
    for line in likely:
        if line.length < _LEAST_LENGTH * beyond or abs(line.contrast) < _LEAST_CONTRAST:
            continue
        if any(_are_two_edges(line, other, max(photo.shape[:2])) for other in likely):
            continue
        found = _measured(line, photo, beyond)
        if found is not None:
            counts = abs(float(np.log(found.share.mean()))) * line.length
            if counts > most:
                best, most = found, counts
    return best


def _are_two_edges(line: RimLine, other: RimLine, edge: int) -> bool:
    """Return whether two lines are the two edges of one thing, which is no shadow."""
    near = other is not line and abs(other.at - line.at) < 0.02 * edge
    opposite = other.contrast * line.contrast < 0
    return bool(near and opposite and abs(other.contrast) > 0.5 * abs(line.contrast))


def _measured(line: RimLine, photo: Array, beyond: int) -> LightEdge | None:
    margin = int(_DEEP * max(photo.shape[:2]))
    reach = int(min(line.columns, photo.shape[1] - 4, 1.6 * beyond))
    strip = strip_of(photo, Bundle((line,), margin / line.stretch, fan=False, reach=reach))
    offsets = strip.heights - line.at
    apart = np.abs(offsets) > 0.35 * margin
    above, below = apart & (offsets < 0), apart & (offsets > 0)
    if min(above.sum(), below.sum()) < 6:
        return None
    pixels = strip.pixels + 1.0
    tone_above, tone_below = (np.median(pixels[side], (0, 1)) for side in (above, below))
    dark_below = bool(tone_below.mean() < tone_above.mean())
    share = tone_below / tone_above if dark_below else tone_above / tone_below
    if not _DARKEST < share.mean() < _PALEST or share.max() / share.min() > _COLOURED:
        return None
    dark = pixels[below if dark_below else above]
    if np.mean(dark / share > _CLIPPED) > _MOST_CLIPPED:
        return None
    if not _one_matter(pixels, above, below):
        return None
    columns = [np.median(pixels[side], 0).mean(1) for side in (above, below)]
    own = columns[1] / columns[0] if dark_below else columns[0] / columns[1]
    if np.mean(np.abs(np.log(own / share.mean())) < _STEADY_WITHIN) < _STEADY:
        return None
    return LightEdge(line, share, offsets, _darkness(strip, offsets, margin, dark_below))


def _one_matter(pixels: Floats, above: Floats, below: Floats) -> bool:
    """Return whether both sides have the same fine detail, each against its own light."""
    light = pixels.mean(2)
    fine = light - cv2.GaussianBlur(light, (0, 0), 2.5)
    details = [float(fine[side].std() / light[side].mean()) for side in (above, below)]
    return _ALIKE[0] < details[0] / max(details[1], 1e-6) < _ALIKE[1]


def _darkness(strip: Strip, offsets: Doubles, margin: int, dark_below: bool) -> Doubles:
    """Return how dark each row is, between 0 and 1, never lighter again towards the dark side."""
    light = np.median(np.log(strip.pixels.mean(2) + 1), 1)
    light = cv2.GaussianBlur(light[:, None], (0, 0), 1.5).reshape(-1)
    above = float(np.median(light[offsets < -0.35 * margin]))
    below = float(np.median(light[offsets > 0.35 * margin]))
    bright, dark = (above, below) if dark_below else (below, above)
    darkness = np.clip((bright - light) / (bright - dark), 0, 1)
    if dark_below:
        darkness = np.maximum.accumulate(darkness)
        darkness[0], darkness[-1] = 0, 1
    else:
        darkness = np.maximum.accumulate(darkness[::-1])[::-1].copy()
        darkness[0], darkness[-1] = 1, 0
    grown: Doubles = darkness
    return grown
