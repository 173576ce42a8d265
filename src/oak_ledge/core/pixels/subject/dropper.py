"""Colours picked from a photo's upright sRGB preview."""

from __future__ import annotations

from pathlib import Path
from typing import Any, Literal

import numpy as np
import pyvips

Edge = Literal["left", "top", "right", "bottom"]


# The dropper averages a circle whose radius is this share of the photo's longer edge.
SPOT = 0.004


# A photo stands on a plain tone if the tone along its edges differs by no more than this, of 255.
PLAIN = 4.0


# A receiver's plain ground: no place along the edges differs by more, of 255.
ONE_COLOUR = 3.0


# The colour of an edge is averaged over a strip this deep, a share of the longer edge.
STRIP = 0.01


def average_at(path: Path, x: float, y: float) -> str:
    """Return the average colour about a point, by shares 0…1 of width and height, as #rrggbb."""
    pixels = pixels_of(path)
    high, wide = pixels.shape[:2]
    radius = max(1, round(SPOT * max(wide, high)))
    column, row = min(wide - 1, int(x * wide)), min(high - 1, int(y * high))
    part = pixels[
        max(0, row - radius) : row + radius + 1, max(0, column - radius) : column + radius + 1
    ]
    return _written(part)


def average_of_edge(path: Path, edge: Edge) -> str:
    """Return the average colour along an edge, as #rrggbb."""
    pixels = pixels_of(path)
    deep = max(1, round(STRIP * max(pixels.shape[:2])))
    parts = {
        "left": pixels[:, :deep], "right": pixels[:, -deep:],
        "top": pixels[:deep], "bottom": pixels[-deep:],
    }  # fmt: skip
    return _written(parts[edge])


def plain_edges(path: Path) -> bool:
    """Return whether a picture stands on one plain tone along all its edges."""
    return bool(_off_tone(path).mean() < PLAIN)


def one_colour_around(path: Path) -> bool:
    """Return whether a picture has one colour along all its edges, within `ONE_COLOUR` everywhere."""
    return bool(_off_tone(path).max() <= ONE_COLOUR)


def _off_tone(path: Path) -> Any:
    """Return by how much each place along the edges differs from the usual tone there, of 255."""
    image = pyvips.Image.thumbnail(str(path), 200, height=200, size="down").colourspace("srgb")
    image = image.flatten(background=[255]) if image.hasalpha() else image
    pixels = image.numpy().reshape(image.height, image.width, -1)[..., :3].astype(np.float32)
    edges = np.concatenate([pixels[:2].reshape(-1, 3), pixels[-2:].reshape(-1, 3),
                            pixels[:, :2].reshape(-1, 3), pixels[:, -2:].reshape(-1, 3)])  # fmt: skip
    return np.abs(edges - np.median(edges, axis=0)).max(axis=1)


def pixels_of(path: Path) -> Any:
    """Read a picture as (H, W, 3) of 8 bits."""
    image = pyvips.Image.new_from_file(str(path)).colourspace("srgb")
    image = image.flatten(background=[255]) if image.hasalpha() else image
    return image.numpy().reshape(image.height, image.width, -1)


def _written(part: Any) -> str:
    tones = np.rint(part.reshape(-1, part.shape[-1]).mean(axis=0)).astype(int)
    return "#" + "".join(f"{value:02x}" for value in tones[:3])
