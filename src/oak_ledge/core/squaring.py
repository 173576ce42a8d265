"""Four corners of a tilted rectangle → the plane they define, and its true proportions.

Zhang & He, *Whiteboard scanning and image enhancement*, Digital Signal Processing 17, 2007, section
3: with square pixels and the principal point at the photo's centre, the picture of a rectangle gives
the focal length, and that gives width to height.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot
from typing import Literal

import numpy as np

from oak_ledge.core.geometry import Point, check_quad
from oak_ledge.core.units import Pixels

How = Literal["perspective", "focal", "sides"]
FLAT = 0.02  # a vanishing line turned by less than this gives no focal length worth the name


@dataclass(frozen=True)
class Squared:
    """A plane's true width ÷ height, how it was found, and within what factor it is known."""

    ratio: float
    how: How
    uncertain: float


def true_ratio(corners: Sequence[Point], photo: Pixels, focal: float | None = None) -> Squared:
    """Work out a rectangle's proportions from the picture of its corners.

    Parameters
    ----------
    corners : photo pixels, clockwise from the rectangle's own top left
    photo : (width, height); its centre is taken as the principal point
    focal : focal length in photo pixels, where it is known and the picture can't give it

    Returns
    -------
    `perspective` where both pairs of sides converge; `focal` by the length given; `sides` is
    the mean of opposite sides, known only as well as those agree.

    Raises
    ------
    PlacementError
        If the corners are no picture of a rectangle.
    """
    check_quad(corners)
    middle = (photo[0] / 2, photo[1] / 2)
    unit = float(max(photo))  # keeps the numbers near 1
    nw, ne, se, sw = (
        np.array([(x - middle[0]) / unit, (y - middle[1]) / unit, 1.0]) for x, y in corners
    )
    diagonal = np.cross(nw, se)
    across = np.dot(diagonal, sw) / np.dot(np.cross(ne, se), sw) * ne - nw
    along = np.dot(diagonal, ne) / np.dot(np.cross(sw, se), ne) * sw - nw
    length = None if focal is None else focal / unit
    if min(abs(across[2]), abs(along[2])) > FLAT:
        square = -(across[0] * along[0] + across[1] * along[1]) / (across[2] * along[2])
        if square > 0:
            return Squared(_ratio(across, along, square), "perspective", 1.03)
    if length is not None:
        return Squared(_ratio(across, along, length**2), "focal", 1.05)
    return _by_sides(corners)


def _ratio(across: np.ndarray, along: np.ndarray, square: float) -> float:
    """Width ÷ height, given the square of the focal length."""
    wide = (across[0] ** 2 + across[1] ** 2) / square + across[2] ** 2
    high = (along[0] ** 2 + along[1] ** 2) / square + along[2] ** 2
    return float((wide / high) ** 0.5)


def _by_sides(corners: Sequence[Point]) -> Squared:
    top, right, bottom, left = _sides(corners)
    spread = max(max(top, bottom) / min(top, bottom), max(left, right) / min(left, right))
    return Squared((top + bottom) / (left + right), "sides", spread)


def _sides(corners: Sequence[Point]) -> tuple[float, float, float, float]:
    nw, ne, se, sw = corners
    ends = ((nw, ne), (ne, se), (sw, se), (nw, sw))
    top, right, bottom, left = (hypot(b[0] - a[0], b[1] - a[1]) for a, b in ends)
    return top, right, bottom, left


def plane_of(corners: Sequence[Point], ratio: float) -> Pixels:
    """Give the plane's extent in pixels: the longer of each pair of sides, made larger to a ratio.

    >>> plane_of([(0, 0), (300, 0), (300, 200), (0, 200)], 1.0)
    (300, 300)
    """
    top, right, bottom, left = _sides(corners)
    width, height = max(top, bottom), max(left, right)
    if width / height < ratio:
        width = height * ratio
    else:
        height = width / ratio
    return max(1, round(width)), max(1, round(height))
