"""The orientation tag (EXIF 2.32, 4.6.4): stored pixels upright, and upright ones as stored."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, TypeAlias

import numpy as np

if TYPE_CHECKING:
    import numpy.typing as npt

Array: TypeAlias = "npt.NDArray[Any]"


def turn_upright(pixels: Array, orientation: int) -> Array:
    """Apply an orientation tag (EXIF 2.32, 4.6.4) to stored pixels."""
    if orientation >= 5:  # stored rows are upright columns
        pixels = np.swapaxes(pixels, 0, 1)
    if orientation in (2, 3, 6, 7):
        pixels = pixels[:, ::-1]
    if orientation in (3, 4, 7, 8):
        pixels = pixels[::-1]
    return pixels


def turned_further(orientation: int, quarter: int, *, mirror: bool) -> int:
    """Return the tag of a picture that is turned by quarters clockwise, then mirrored, once upright.

    >>> turned_further(1, 1, mirror=False), turned_further(6, 3, mirror=False)
    (6, 1)
    """
    marks = np.arange(6, dtype=np.uint8).reshape(2, 3, 1)
    wanted = np.rot90(turn_upright(marks, orientation), -quarter)
    wanted = wanted[:, ::-1] if mirror else wanted
    return next(tag for tag in range(1, 9) if np.array_equal(turn_upright(marks, tag), wanted))


def as_stored(pixels: Array, orientation: int) -> Array:
    """Undo an orientation tag: upright pixels as a file with that tag stores them."""
    if orientation in (3, 4, 7, 8):
        pixels = pixels[::-1]
    if orientation in (2, 3, 6, 7):
        pixels = pixels[:, ::-1]
    return np.swapaxes(pixels, 0, 1) if orientation >= 5 else pixels


def place_stored(
    left: int, top: int, wide: int, high: int, edges: tuple[int, int], orientation: int
) -> tuple[int, int]:
    """Return left and top, as stored, of an upright rectangle in a picture of upright `edges`."""
    if orientation in (2, 3, 6, 7):
        left = edges[0] - left - wide
    if orientation in (3, 4, 7, 8):
        top = edges[1] - top - high
    return (top, left) if orientation >= 5 else (left, top)
