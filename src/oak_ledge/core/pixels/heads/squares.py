"""Squares of a picture, turned so that a head stands upright in them."""

from __future__ import annotations

from math import sqrt

import numpy as np

from oak_ledge.core.pixels.heads.networks import Grid

# Times larger than the square from which a picture is made smaller first, so that nothing aliases.
_FINE = 1.5


def square_at(rgb: Grid, centre: Grid, side: float, down: Grid, pixels: int) -> tuple[Grid, Grid]:
    """Cut a square of `side` picture pixels about a centre, turned so that the unit step `down` points down.

    Returns
    -------
    The square, `pixels` on an edge, and the 2 × 3 matrix from its pixels (their middles) back to the picture's.
    """
    import cv2

    back = np.column_stack([(down[1], -down[0]), down]) * (side / pixels)
    back = np.column_stack([back, centre - back @ np.full(2, (pixels - 1) / 2)])
    left, top, rgb = _around(rgb, centre, side)
    step = min(side / pixels, *rgb.shape[:2])  # no edge of it comes to nothing
    onto = back - ((0, 0, left), (0, 0, top))
    if step >= _FINE:
        rgb = cv2.resize(rgb, None, fx=1 / step, fy=1 / step, interpolation=cv2.INTER_AREA)
        onto = onto / step
        onto[:, 2] += 0.5 / step - 0.5
    how = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    square = cv2.warpAffine(rgb, onto, (pixels, pixels), flags=how, borderMode=cv2.BORDER_REPLICATE)
    return square, back


def smaller(rgb: Grid, edge: int) -> Grid:
    """Return a picture no larger than an edge."""
    import cv2

    by = max(rgb.shape[:2]) / edge
    if by <= 1:
        return rgb
    high, wide = (max(1, round(length / by)) for length in rgb.shape[:2])
    return np.asarray(cv2.resize(rgb, (wide, high), interpolation=cv2.INTER_AREA))


def _around(rgb: Grid, centre: Grid, side: float) -> tuple[int, int, Grid]:
    """Return what of a picture a square may show, however it is turned, and where that begins; never nothing."""
    high, wide = rgb.shape[:2]
    reach = side * sqrt(0.5) + 2
    left, top = (
        min(max(0, int(middle - reach)), edge - 1)
        for middle, edge in zip(centre, (wide, high), strict=True)
    )
    right, bottom = (int(middle + reach) + 2 for middle in centre)
    return (
        left,
        top,
        np.ascontiguousarray(rgb[top : max(top + 1, bottom), left : max(left + 1, right)]),
    )
