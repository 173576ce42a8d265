"""Placement → exactly W × H pixels: phase-exact, filtered, one pass over the photo's rows.

Memory holds a few strips of the photo and the finished output.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeAlias

import numpy as np

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.methods import Method, Taps, choose, reached, taps
from oak_ledge.core.pixels.cut.rows import Rows, prove_whole
from oak_ledge.core.pixels.cut.strips import RUN_ACROSS, Strip, Strips, cut_up, run_down
from oak_ledge.core.pixels.open.border import reading_pixels
from oak_ledge.core.pixels.open.decoding import dtype_of
from oak_ledge.core.pixels.open.orientation import turn_upright
from oak_ledge.core.pixels.open.photo import OpenPhoto
from oak_ledge.core.placements.crop import Crop

if TYPE_CHECKING:
    import numpy.typing as npt

Array: TypeAlias = "npt.NDArray[np.uint8] | npt.NDArray[np.uint16]"


def load_shrink(crop: Crop, output: Pixels) -> int:
    """Return by how much a JPEG may be shrunk on load: the cut keeps a factor of 2 to itself.

    >>> load_shrink(Crop(0, 0, 6000, 4000), (600, 400))
    4
    """
    step = min(crop.width / output[0], crop.height / output[1])
    return next((p for p in (8, 4, 2) if step / p >= 2), 1)


def cut(
    photo: OpenPhoto, crop: Crop, output: Pixels, edges: Pixels, method: Method | None = None
) -> Array:
    """Cut a crop out of a photo and resample it to exactly `output` pixels.

    Parameters
    ----------
    photo : opened for one pass; it is used up
    crop : rectangle in photo pixels, inside the photo or up to an output pixel beyond it,
        where the photo's last pixel counts as repeated
    output : output (W, H)
    edges : the photo's (width, height), turned and unshrunk
    method : the kernel, or None to choose by scale

    Returns
    -------
    (H, W, C) array of the photo's own depth; alpha not premultiplied

    Raises
    ------
    PhotoError
        If the photo is damaged.
    """
    stored_crop, stored_asked = as_stored(crop, output, edges, photo.orientation)
    with reading_pixels():
        return turn_upright(
            _cut_stored(photo, stored_crop, stored_asked, method), photo.orientation
        )


def as_stored(crop: Crop, output: Pixels, edges: Pixels, orientation: int) -> tuple[Crop, Pixels]:
    """Undo the orientation tag: where an upright crop lies in the stored picture."""
    left, top = crop.left, crop.top
    if orientation in (2, 3, 6, 7):
        left = edges[0] - crop.right
    if orientation in (3, 4, 7, 8):
        top = edges[1] - crop.bottom
    if orientation >= 5:
        return Crop(top, left, crop.height, crop.width), (output[1], output[0])
    return Crop(left, top, crop.width, crop.height), output


def _cut_stored(photo: OpenPhoto, crop: Crop, output: Pixels, method: Method | None) -> Array:
    """Decode strip after strip here while the strips before are resampled."""
    image, p = photo.image, photo.shrink
    crop = Crop(crop.left / p, crop.top / p, crop.width / p, crop.height / p)
    W, H = output
    step = crop.height / H
    columns = taps(image.height, crop.top, crop.height, H, method or choose(step), run_down(step))
    first, last, across = _span(
        taps(image.width, crop.left, crop.width, W, method or choose(crop.width / W), RUN_ACROSS)
    )
    out = np.empty((H, W, image.bands), dtype_of(image))
    rows = Rows(photo, first, last - first)
    with Strips(
        across, out, spare=photo.spare, alpha=photo.alpha, give_back=rows.give_back
    ) as strips:
        for low, high, some in cut_up(columns, (last - first) * image.bands):
            strips.take(Strip(rows.fetch(low, high), low, some))
    prove_whole(photo)
    return out


def _span(across: Taps) -> tuple[int, int, Taps]:
    """Return the photo columns that taps reach, and the taps counted from the first of them."""
    first, last = reached(across.blocks)
    blocks = tuple((j, start - first, block) for j, start, block in across.blocks)
    return first, last, Taps(across.outputs, blocks)
