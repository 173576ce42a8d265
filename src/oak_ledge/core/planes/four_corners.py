"""Four corners of a tilted rectangle → the plane they define, and its true proportions.

Zhang & He, *Whiteboard scanning and image enhancement*, Digital Signal Processing 17, 2007, section
3: with square pixels and the principal point at the photo's centre, the picture of a rectangle gives
the focal length, and that gives width to height.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import exp, hypot, log
from typing import Literal

import numpy as np

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.planes.matrices import check_quad
from oak_ledge.core.planes.points import Point

How = Literal["perspective", "focal", "sides"]


# Photo pixels a hand may be off; standard deviations that cover 9 of 10.
OFF, SURE = 0.5, 1.65


# Of the longer edge; no lens for flat things is wider.
LEAST_FOCAL = 0.2


# Photo pixels: nearer corners lie within what a hand may be off.
NARROWEST = 8


# A vanishing line turned by less than this gives no focal length worth the name.
FLAT = 0.02


@dataclass(frozen=True)
class TrueRatio:
    """A plane's true width ÷ height, how it was found, and within what factor it is known."""

    ratio: float
    how: How
    uncertain: float


@lru_cache(maxsize=256)  # a placement asks for the same several times a gesture
def true_ratio(corners: tuple[Point, ...], photo: Pixels, focal: float | None = None) -> TrueRatio:
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
    if min(_sides(corners)) < NARROWEST:
        msg = f"the corners lie too near together; set them at least {NARROWEST} px apart"
        raise PlacementError(msg)
    measured_ratio, how = _found(corners, photo, focal)
    uncertain = _spread(corners) if how == "sides" else 1.0
    drift = 0.0
    for n in range(4):
        for dx, dy in ((OFF, 0.0), (0.0, OFF)):
            moved = [(x + dx * (m == n), y + dy * (m == n)) for m, (x, y) in enumerate(corners)]
            ratio, as_before = _found(moved, photo, focal)
            drift += log(ratio / measured_ratio) ** 2 if as_before == how else 1.0
    return TrueRatio(measured_ratio, how, uncertain * exp(SURE * drift**0.5))


def _found(corners: Sequence[Point], photo: Pixels, focal: float | None) -> tuple[float, How]:
    middle = (photo[0] / 2, photo[1] / 2)
    unit = float(max(photo))  # keeps the numbers near 1
    nw, ne, se, sw = (
        np.array([(x - middle[0]) / unit, (y - middle[1]) / unit, 1.0]) for x, y in corners
    )
    diagonal = np.cross(nw, se)
    across = np.dot(diagonal, sw) / np.dot(np.cross(ne, se), sw) * ne - nw
    along = np.dot(diagonal, ne) / np.dot(np.cross(sw, se), ne) * sw - nw
    if min(abs(across[2]), abs(along[2])) > FLAT:
        square = -(across[0] * along[0] + across[1] * along[1]) / (across[2] * along[2])
        if square > LEAST_FOCAL**2:
            return _ratio(across, along, square), "perspective"
    if focal is not None:
        return _ratio(across, along, (focal / unit) ** 2), "focal"
    top, right, bottom, left = _sides(corners)
    return (top + bottom) / (left + right), "sides"


def _ratio(across: np.ndarray, along: np.ndarray, square: float) -> float:
    """Width ÷ height, given the square of the focal length."""
    wide = (across[0] ** 2 + across[1] ** 2) / square + across[2] ** 2
    high = (along[0] ** 2 + along[1] ** 2) / square + along[2] ** 2
    return float((wide / high) ** 0.5)


def _spread(corners: Sequence[Point]) -> float:
    """Within what factor opposite sides agree: nothing else is known of a plain tilt."""
    top, right, bottom, left = _sides(corners)
    return max(max(top, bottom) / min(top, bottom), max(left, right) / min(left, right))


def square_words(true: TrueRatio, size_ratio: float) -> str:
    """Return the true proportions in words, how sure they are, and what a size makes of them.

    `size_ratio` is the width ÷ height of the plane the size imposes.
    """
    how = {
        "perspective": "from its perspective",
        "focal": "by the lens's focal length",
        "sides": "guessed from opposite sides, as it is tilted one way only",
    }[true.how]
    share = (true.uncertain - 1) * 100
    within = f"± {rounded(share, 0 if share >= 2 else 1)} %"
    words = f"True ratio {rounded(true.ratio, 3)} : 1, {within}, {how}."
    off = size_ratio / true.ratio - 1
    if abs(off) < 0.005:
        return words
    more = f"{rounded(abs(off if off > 0 else 1 / (1 + off) - 1) * 100)} %"
    return f"{words} The size draws it {more} {'wider' if off > 0 else 'taller'}."


def _sides(corners: Sequence[Point]) -> tuple[float, float, float, float]:
    nw, ne, se, sw = corners
    ends = ((nw, ne), (ne, se), (sw, se), (nw, sw))
    top, right, bottom, left = (hypot(b[0] - a[0], b[1] - a[1]) for a, b in ends)
    return top, right, bottom, left


def plane_of(corners: Sequence[Point], ratio: float) -> Pixels:
    """Return the plane's extent in pixels: the longer of each pair of sides, made larger to a ratio.

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
