"""A mark by itself: drawn small to be chosen, and how light it is."""

from __future__ import annotations

from io import BytesIO

import numpy as np
from PIL import Image

from oak_ledge.core.marks.laid import MarkFile
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.marks.lay import LUMA
from oak_ledge.core.pixels.marks.open_mark import drawn_mark

# Pixels: enough to tell how light a mark is.
_SMALL = 200


def mark_alone(mark: MarkFile, edge: int) -> bytes:
    """Return a mark as a PNG with alpha, its longer edge `edge` pixels.

    Raises
    ------
    PhotoError
        If its file is damaged.
    """
    drawn, icc = _drawn(mark, edge)
    out = BytesIO()
    Image.fromarray(drawn, "RGBA").save(out, "PNG", icc_profile=icc)
    return out.getvalue()


def lightness_of(mark: MarkFile) -> float:
    """Return how light a mark is where it is not clear, 0 black to 1 white.

    Raises
    ------
    PhotoError
        If its file is damaged.
    """
    drawn, _ = _drawn(mark, _SMALL)
    shares = drawn[..., 3].astype(np.float64)
    if not shares.any():
        return 0.5
    return float(((drawn[..., :3] / 255) @ LUMA * shares).sum() / shares.sum())


def _drawn(mark: MarkFile, edge: int) -> tuple[Array, bytes | None]:
    """Draw a mark with its longer edge so many pixels."""
    scale = edge / max(mark.shape)
    wide, high = (max(1, round(side * scale)) for side in mark.shape)
    return drawn_mark(mark, (wide, high))
