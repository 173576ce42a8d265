"""What lies outside a piece's outline made clear, every pixel on it by its true area."""

from __future__ import annotations

from fractions import Fraction
from typing import TYPE_CHECKING, Any, TypeAlias, cast

import numpy as np

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.sizes.edges.outline import Outline, outline_on
from oak_ledge.core.sizes.edges.polygon import Polygon

if TYPE_CHECKING:
    import numpy.typing as npt

Floats: TypeAlias = "npt.NDArray[np.float64]"


def covered(polygon: Polygon, output: Pixels) -> npt.NDArray[np.float32]:
    """Return the share, 0 to 1, of every pixel, (H, W), that a closed polygon covers, exactly.

    Each edge is cut at the lines between pixels, and adds the signed area between it and the right
    end of its row; sums along the rows give the areas.
    """
    wide, high = output
    sums = np.zeros((high, wide + 2))
    for (x0, y0), (x1, y1) in zip(polygon, np.roll(polygon, -1, axis=0), strict=True):
        _add_edge(sums, float(x0), float(y0), float(x1), float(y1))
    turns = np.abs(np.cumsum(sums, axis=1)[:, :wide])
    share: Floats = 1 - np.abs(1 - turns % 2)  # even-odd, as it is drawn
    return share.astype(np.float32)


def _add_edge(sums: Floats, x0: float, y0: float, x1: float, y1: float) -> None:
    """Add one edge, cut where it crosses from pixel to pixel."""
    if y0 == y1:
        return
    high, wide = sums.shape[0], sums.shape[1] - 2
    rows = np.arange(np.ceil(min(y0, y1)), np.floor(max(y0, y1)) + 1)
    columns = np.arange(np.ceil(min(x0, x1)), np.floor(max(x0, x1)) + 1)
    cuts = [np.array((0.0, 1.0)), (rows - y0) / (y1 - y0)]
    if x0 != x1:
        cuts.append((columns - x0) / (x1 - x0))
    along = np.unique(np.concatenate(cuts).clip(0, 1))
    x, y = x0 + (x1 - x0) * along, y0 + (y1 - y0) * along
    middle_x, middle_y = ((axis[:-1] + axis[1:]) / 2 for axis in (x, y))
    row = np.floor(middle_y).astype(np.intp)
    falls = np.diff(y)
    inside = (row >= 0) & (row < high)
    row, falls, middle_x = row[inside], falls[inside], middle_x[inside].clip(0, wide)
    column = np.floor(middle_x).astype(np.intp)
    right = middle_x - column
    np.add.at(sums, (row, column), falls * (1 - right))
    np.add.at(sums, (row, column + 1), falls * right)


def outlined(
    pixels: Array,
    outline: Outline,
    ppi: Fraction | None,
    *,
    whole: Pixels,
    bleed: float = 0.0,
    alpha: bool,
    tone: npt.NDArray[np.float64] | None,
) -> Array:
    """Make clear what is outside, or lay it on a tone.

    Parameters
    ----------
    pixels : (H, W, C)
    whole : the piece's own output pixels, where fewer are drawn of it
    bleed : of these, how many reach beyond the trimmed piece on every side
    alpha : whether their last band is
    tone : what is outside instead of nothing, or None; as a pixel of `pixels`

    Returns
    -------
    (H, W, C) on a tone, else with an alpha band, not premultiplied
    """
    high, wide = pixels.shape[:2]
    polygon = outline_on(outline, whole, ppi, bleed) * (wide / whole[0], high / whole[1])
    share = covered(polygon, (wide, high))[..., None]
    top = np.iinfo(pixels.dtype).max
    if tone is not None:
        mixed = pixels * share + tone.astype(np.float32) * (1 - share)
        return cast("Array", np.rint(mixed).astype(pixels.dtype))
    if alpha:
        clear = np.rint(pixels[..., -1:] * share).astype(pixels.dtype)
        rest: npt.NDArray[Any] = pixels[..., :-1]
    else:
        clear, rest = np.rint(share * top).astype(pixels.dtype), pixels
    return cast("Array", np.concatenate([rest, clear], axis=2).astype(pixels.dtype, copy=False))


def emptied(pixels: Array) -> Array:
    """Take the picture away where it is clear: white there, so that what was cut away is in no file.

    `pixels` are (H, W, C); with an even number of bands the last is alpha, and else nothing is done.
    """
    if pixels.shape[2] % 2:
        return pixels
    clear = pixels[..., -1] == 0
    if not clear.any():
        return pixels
    emptied_pixels = pixels.copy()
    emptied_pixels[clear, :-1] = np.iinfo(pixels.dtype).max
    return emptied_pixels
