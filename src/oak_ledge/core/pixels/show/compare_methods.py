"""Spots looked at close: where they lie, and how one method's pixels differ from another's."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
import numpy.typing as npt

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.cut.methods import Method

Light = npt.NDArray[np.float64]


# More of the pixels alike than in the gentlest method: blocks are seen.
_BLOCKS = 0.15


# Levels from the gentlest method, at the strongest hundredth: edges are jagged.
_JAGGED = 12


# A difference in sharpness under it is not named.
_WORDS = 0.06


# Of the range, beyond what the gentlest method shows: seen as a rim.
_RIM = 0.012


def spot_of(output: Pixels, x: float, y: float, edge: int) -> tuple[int, int, int, int]:
    """Return left, top, width and height of a spot about shares x, y of the output, inside it."""
    width, height = min(edge, output[0]), min(edge, output[1])
    left = round(min(max(x * output[0] - width / 2, 0), output[0] - width))
    top = round(min(max(y * output[1] - height / 2, 0), output[1] - height))
    return left, top, width, height


def busiest(pixels: Array, wide: float, high: float) -> tuple[float, float]:
    """Return the middle, as shares, of the part of a picture in which neighbours differ most.

    Parameters
    ----------
    pixels : (H, W, C), the whole picture, as small as it may be
    wide, high : how large the part is, as shares of the picture, above 0
    """
    light = _light(pixels)
    steps = np.zeros_like(light)
    steps[:, 1:] += np.abs(np.diff(light, axis=1))
    steps[1:] += np.abs(np.diff(light, axis=0))
    rows, columns = light.shape
    across, along = max(1, round(min(1, wide) * columns)), max(1, round(min(1, high) * rows))
    sums = np.pad(steps.cumsum(axis=0).cumsum(axis=1), ((1, 0), (1, 0)))  # of all above and left
    boxes = (
        sums[along:, across:] - sums[:-along, across:]
        - sums[along:, :-across] + sums[:-along, :-across]
    )  # fmt: skip
    top, left = np.unravel_index(int(boxes.argmax()), boxes.shape)
    return (left + across / 2) / columns, (top + along / 2) / rows


def differences(drawn: Mapping[Method, Array], chosen: Method) -> dict[Method, str]:
    """Return in words how each method's spot differs from the chosen one's.

    Sharpness is the mean step between neighbours; a halo is lightness beyond the lightest and
    darkest of what the gentlest method shows about the same place.
    """
    light = {name: _light(pixels) for name, pixels in drawn.items()}
    sharp = {name: _steps(values) for name, values in light.items()}
    calm = light["mitchell"]
    given: dict[Method, str] = {}
    for name, values in light.items():
        words = []
        if name == "nearest":
            jagged = float(np.quantile(np.abs(values - calm), 0.99)) > _JAGGED
            blocky = _flat(values) > _flat(calm) + _BLOCKS
            words += ["blocky"] if blocky else ["jagged edges"] if jagged else []
        else:
            ratio = sharp[name] / max(sharp[chosen], 1e-6)
            words += ["crisper"] if ratio > 1 + _WORDS else ["softer"] if ratio < 1 - _WORDS else []
            words += ["faint halos at edges"] if _rims(values, calm) > _RIM * 255 else []
        given[name] = ", ".join(words) or (
            "chosen" if name == chosen else "no difference to be seen"
        )
    return given


def _flat(values: Light) -> float:
    """Return the share of pixels that are the same as their neighbour."""
    return float((np.abs(np.diff(values, axis=1)) < 0.5).mean())


def _light(pixels: Array) -> Light:
    scale = 255 / np.iinfo(pixels.dtype).max
    colours = pixels[..., :3] if pixels.shape[2] > 2 else pixels[..., :1]
    light: Light = colours.mean(axis=2, dtype=np.float64) * scale
    return light


def _steps(values: Light) -> float:
    return float(np.abs(np.diff(values, axis=0)).mean() + np.abs(np.diff(values, axis=1)).mean())


def _rims(values: Light, calm: Light) -> float:
    """How far the strongest hundredth of the pixels lies beyond its calm neighbours' range."""
    padded = np.pad(calm, 2, mode="edge")
    near = np.lib.stride_tricks.sliding_window_view(padded, (5, 5))
    beyond = np.maximum(values - near.max(axis=(2, 3)), near.min(axis=(2, 3)) - values)
    return float(np.quantile(np.maximum(beyond, 0), 0.99))
