"""The sides of a photo, each turned so that what lies beyond it is at the right."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

from oak_ledge.core.photos.continued import Side

Array = npt.NDArray[Any]

SIDES: tuple[Side, ...] = ("left", "top", "right", "bottom")


def turned(pixels: Array, side: Side) -> Array:
    """Return pixels, (H, W) or (H, W, C), with a side turned to the right."""
    if side == "left":
        return pixels[:, ::-1]
    if side == "right":
        return pixels
    return np.rot90(pixels, 1 if side == "bottom" else -1)


def turned_back(pixels: Array, side: Side) -> Array:
    """Return what `turned` turned as it was."""
    if side in ("left", "right"):
        return turned(pixels, side)
    return np.rot90(pixels, -1 if side == "bottom" else 1)


def turned_places(
    side: Side, edges: tuple[int, int], columns: Array, rows: Array
) -> tuple[Array, Array]:
    """Return x and y, counted as in a turned photo, of places of the photo as it is, to be broadcast.

    `edges` are the photo's width and height; `columns` (w) and `rows` (h) count from its first pixel.
    """
    wide, high = edges
    across, down = columns[None], rows[:, None]
    places: dict[Side, tuple[Array, Array]] = {
        "right": (across - wide, down),
        "left": (-1 - across, down),
        "bottom": (down - high, wide - 1 - across),
        "top": (-1 - down, across),
    }
    return places[side]


def beyond(box: tuple[int, int, int, int], edges: tuple[int, int], side: Side) -> int:
    """Return how many pixels of a box around a photo, (width, height), lie beyond a side."""
    left, top, right, bottom = box
    reach = {"left": -left, "top": -top, "right": right - edges[0], "bottom": bottom - edges[1]}
    return reach[side]


def beside(box: tuple[int, int, int, int], edges: tuple[int, int], side: Side) -> tuple[int, int]:
    """Return how many pixels of a box lie above and below the photo once a side is turned right."""
    first: dict[Side, tuple[Side, Side]] = {
        "left": ("top", "bottom"),
        "right": ("top", "bottom"),
        "bottom": ("right", "left"),
        "top": ("left", "right"),
    }
    above, below = first[side]
    return beyond(box, edges, above), beyond(box, edges, below)
