"""The lines that reach a photo's right edge, and which of them go on beyond it."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np

from oak_ledge.core.pixels.lines.fitted import Edge, Gradients, curve_through, on_edge
from oak_ledge.core.pixels.lines.rim_line import Curve, Floats, RimLine
from oak_ledge.core.pixels.lines.segments import Chain, chains, segments
from oak_ledge.core.pixels.lines.side import Array

# Pixels by which the picture is made smaller: soft and ragged edges are seen on coarse ones.
_COARSE = (1, 3, 6)

# Of the longer edge: so far inward lines are looked for.
_DEEP = 0.75

# Pixels across a line, at which what is usual beside it is measured.
_BESIDE = (-16, -13, -10, -7, 7, 10, 13, 16)

# Points of an edge that make a line.
_FEWEST = 12

# A line is so long: of the longer edge, of what lies beyond, and there a coarse one.
_LEAST, _LEAST_BEYOND, _LEAST_COARSE = 0.05, 0.3, 0.55

# Times what is usual beside it.
_STANDS_OUT = 2.2

# Levels per pixel.
_FAINT = 0.7

# The contrast of a line's far half, as a multiple of its near half's.
_UNEVEN = (0.4, 2.6)


def rim_lines(photo: Array, beyond: int) -> list[RimLine]:
    """Return lines that reach the right edge of a photo, (H, W, 3) uint8, with the flaws of each.

    `beyond` is how many pixels they are to go on.
    """
    edge = max(photo.shape[:2])
    part = np.ascontiguousarray(photo[:, max(0, photo.shape[1] - int(_DEEP * edge)) :])
    light = cv2.cvtColor(part, cv2.COLOR_RGB2GRAY)
    kept: list[RimLine] = []
    for coarse in _COARSE:
        gradients = Gradients.of(light, 0.8 * coarse)
        candidates = [
            line
            for chain in chains(segments(light, coarse), part.shape[1], edge, coarse)
            if (line := _measured(chain, gradients, part, beyond, edge, coarse)) is not None
        ]
        for line in sorted(candidates, key=lambda line: (bool(line.flaw), -line.length)):
            if not any(_same(line, other) for other in kept):
                kept.append(line)
    return kept


def _same(line: RimLine, other: RimLine) -> bool:
    """Return whether two are one edge, found twice; the finer one that is good stays."""
    near = abs(line.at - other.at) < 2.0 + 1.5 * (line.width - 1)
    alike = np.sign(line.contrast) == np.sign(other.contrast) or line.width > other.width
    return bool(near and alike and (not other.flaw or line.width == other.width))


def _measured(
    chain: Chain, gradients: Gradients, part: Array, beyond: int, edge: int, coarse: int
) -> RimLine | None:
    high, wide = part.shape[:2]
    found = on_edge(gradients, chain, wide, coarse)
    if found is None or len(found.points) < _FEWEST:
        return None
    curve = curve_through(found.points, wide, beyond)
    x = found.points[:, 0] - wide
    if x.max() < -max(0.03 * edge, 3 * coarse):
        return None
    if not -0.02 * edge < curve.at < high + 0.02 * edge:
        return None
    reach = -float(x.min()) * float(np.hypot(1, curve.slope))
    line = RimLine(
        curve.at,
        curve.slope,
        curve.bend,
        curve.ragged,
        length=reach * min(1.0, len(found.points) * 2 / max(reach, 1)),
        contrast=found.contrast * coarse,
        stands_out=abs(found.contrast) / _usual(gradients, curve, reach, edge, wide, coarse),
        evenness=_evenness(found, x),
        width=coarse,
    )
    return replace(line, flaw=_flaw(line, part, beyond, edge))


def _usual(
    gradients: Gradients, curve: Curve, reach: float, edge: int, wide: int, coarse: int
) -> float:
    """Return the gradient across that is usual beside a line, away from it on both sides."""
    xs = np.linspace(-min(reach, 0.25 * edge) / curve.stretch, -3, 60)[None]
    normal = np.array([-curve.slope, 1.0]) / curve.stretch
    away = np.array(_BESIDE, np.float64)[:, None] * np.sqrt(coarse)
    slopes = gradients.along(
        xs + wide + normal[0] * away, curve.y(xs) + normal[1] * away, (normal[0], normal[1])
    )
    return float(np.median(np.abs(slopes))) + 0.3 / coarse


def _evenness(found: Edge, x: Floats) -> float:
    """Return the contrast of an edge's far half as a multiple of that of its near half."""
    far = x < np.median(x)
    return float(np.median(found.gradients[far]) / max(np.median(found.gradients[~far]), 1e-3))


def _flaw(line: RimLine, part: Array, beyond: int, edge: int) -> str:
    """Return why a line doesn't go on; nothing where it does."""
    coarse = line.width
    least = max(_LEAST * edge, _LEAST_BEYOND * beyond, _LEAST_COARSE * beyond * (coarse > 1))
    if line.length < least:
        return "short"
    ragged = line.ragged / line.stretch
    if ragged > 0.75 * coarse + 0.15 + 0.002 * line.length * (coarse > 1):
        return "ragged"
    if line.stands_out < _STANDS_OUT:
        return "texture"
    if abs(line.contrast) < _FAINT:
        return "faint"
    if not _UNEVEN[0] < line.evenness < _UNEVEN[1]:
        return "uneven"
    if coarse > 1 and not _sides_stay(part, line):
        return "object"
    return ""


def _sides_stay(part: Array, line: RimLine) -> bool:
    """Return whether the matter on each side of a soft edge is the same near the rim and farther in."""
    wide, coarse = part.shape[1], line.width
    normal = np.array([-line.slope, 1.0]) / line.stretch
    tones = []
    for side in (-1, 1):
        for first, last in ((-0.5, -0.02), (-1.0, -0.5)):
            xs = np.linspace(first, last, 24)[:, None] * line.columns
            away = side * np.linspace(2.5 * coarse, 5 * coarse + 4, 5)[None]
            x, y = xs + wide + normal[0] * away, line.y(xs) + normal[1] * away
            tone = cv2.remap(
                part,
                x.astype(np.float32),
                y.astype(np.float32),
                cv2.INTER_LINEAR,
                borderMode=cv2.BORDER_REPLICATE,
            )
            tones.append(np.median(tone.reshape(-1, 3).astype(np.float64), 0))
    step = np.abs(tones[0] - tones[2]).max()
    drift = max(np.abs(tones[0] - tones[1]).max(), np.abs(tones[2] - tones[3]).max())
    return bool(drift < 0.5 * step + 6)
