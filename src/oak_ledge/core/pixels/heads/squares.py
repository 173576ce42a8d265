"""Squares of a picture, turned so that a head stands upright in them."""

from __future__ import annotations

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
    step, onto = side / pixels, back.copy()
    if step >= _FINE:
        rgb = cv2.resize(rgb, None, fx=1 / step, fy=1 / step, interpolation=cv2.INTER_AREA)
        onto = onto / step
        onto[:, 2] += 0.5 / step - 0.5
    how = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    square = cv2.warpAffine(rgb, onto, (pixels, pixels), flags=how, borderMode=cv2.BORDER_REPLICATE)
    return square, back
