"""Placement → exactly W × H pixels: phase-exact, filtered, one pass over the photo's rows.

Separable filter taps are applied as dense blocks along the band of the resampling matrix, in
float32, strip by strip: memory holds one strip of the photo and the finished output.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt
import pyvips

from oak_ledge.core.errors import FileError
from oak_ledge.core.pixels.methods import Method, Taps, choose, taps
from oak_ledge.core.pixels.photos import OpenPhoto, reading_pixels
from oak_ledge.core.placements import Crop
from oak_ledge.core.units import Pixels

Array = npt.NDArray[np.uint8] | npt.NDArray[np.uint16]
MOST_OUTPUT_PIXELS = 2**29
_STRIP_VALUES = 4_000_000  # float32 values of the photo held at once, about 16 MB


def load_shrink(crop: Crop, asked: Pixels) -> int:
    """Say by how much a JPEG may be shrunk on load: the cut keeps a factor of 2 to itself.

    >>> load_shrink(Crop(0, 0, 6000, 4000), (600, 400))
    4
    """
    step = min(crop.width / asked[0], crop.height / asked[1])
    return next((p for p in (8, 4, 2) if step / p >= 2), 1)


def cut(photo: OpenPhoto, crop: Crop, asked: Pixels, held: Pixels) -> Array:
    """Cut a crop out of a photo and resample it to exactly `asked` pixels.

    Parameters
    ----------
    photo : opened for one pass; it is used up
    crop : rectangle in photo pixels as held, inside the photo
    asked : output (W, H)
    held : the photo's (width, height) as held, unshrunk

    Returns
    -------
    (H, W, C) array of the photo's own depth; alpha not premultiplied

    Raises
    ------
    FileError
        If the output is larger than this program makes.
    PhotoError
        If the photo is damaged.
    """
    if asked[0] * asked[1] > MOST_OUTPUT_PIXELS:
        msg = (
            f"{asked[0]} × {asked[1]} px is {asked[0] * asked[1] / 1e6:.0f} megapixels; "
            f"at most {MOST_OUTPUT_PIXELS / 1e6:.0f} can be made. Ask for fewer ppi"
        )
        raise FileError(msg)
    stored_crop, stored_asked = _as_stored(crop, asked, held, photo.orientation)
    with reading_pixels():
        return upright(_cut_stored(photo, stored_crop, stored_asked), photo.orientation)


def upright(pixels: Array, orientation: int) -> Array:
    """Apply an orientation tag (EXIF 2.32, 4.6.4) to stored pixels."""
    if orientation >= 5:  # stored rows are upright columns
        pixels = np.swapaxes(pixels, 0, 1)
    if orientation in (2, 3, 6, 7):
        pixels = pixels[:, ::-1]
    if orientation in (3, 4, 7, 8):
        pixels = pixels[::-1]
    return pixels


def _as_stored(crop: Crop, asked: Pixels, held: Pixels, orientation: int) -> tuple[Crop, Pixels]:
    """Undo the orientation tag: where an upright crop lies in the stored picture."""
    left, top = crop.left, crop.top
    if orientation in (2, 3, 6, 7):
        left = held[0] - crop.right
    if orientation in (3, 4, 7, 8):
        top = held[1] - crop.bottom
    if orientation >= 5:
        return Crop(top, left, crop.height, crop.width), (asked[1], asked[0])
    return Crop(left, top, crop.width, crop.height), asked


def _cut_stored(photo: OpenPhoto, crop: Crop, asked: Pixels) -> Array:
    image, p = photo.image, photo.shrink
    crop = Crop(crop.left / p, crop.top / p, crop.width / p, crop.height / p)
    W, H = asked
    dtype = np.uint16 if image.format == "ushort" else np.uint8
    top = np.iinfo(dtype).max
    method: Method = choose(crop.width / W)
    down = taps(image.height, crop.top, crop.height, H, method)
    first, last = _span(taps(image.width, crop.left, crop.width, W, method))
    across = taps(last - first, crop.left - first, crop.width, W, method)
    out = np.empty((H, W, image.bands), dtype)
    rows = _Rows(image, first, last - first, dtype)
    alpha = photo.alpha
    for group in _groups(down, (last - first) * image.bands):
        low = min(start for _, start, _ in group)
        high = max(start + block.shape[1] for _, start, block in group)
        strip = rows.fetch(low, high).astype(np.float32)
        if alpha:
            strip[..., :-1] *= strip[..., -1:] / top
        flat = strip.reshape(high - low, -1)
        for j, start, block in group:
            tall = block @ flat[start - low : start - low + block.shape[1]]
            wide = _across(tall.reshape(len(block), last - first, -1), across)
            if alpha:
                wide[..., :-1] *= top / np.maximum(wide[..., -1:], 1e-3)
            out[j : j + len(block)] = np.clip(np.rint(wide), 0, top)
    rows.prove_whole()
    return out


def _across(rows: npt.NDArray[np.float32], across: Taps) -> npt.NDArray[np.float32]:
    """Resample (rows, photo columns, C) along its columns to (rows, outputs, C)."""
    planes = np.ascontiguousarray(rows.transpose(2, 0, 1))
    out = np.empty((*planes.shape[:2], across.outputs), np.float32)
    for j, start, block in across.blocks:
        np.matmul(
            planes[..., start : start + block.shape[1]], block.T, out=out[..., j : j + len(block)]
        )
    return out.transpose(1, 2, 0)


def _span(across: Taps) -> tuple[int, int]:
    return (
        min(start for _, start, _ in across.blocks),
        max(start + block.shape[1] for _, start, block in across.blocks),
    )


def _groups(down: Taps, row_values: int) -> list[list[tuple[int, int, npt.NDArray[np.float32]]]]:
    """Gather blocks of output rows so that their photo rows fit the strip."""
    groups: list[list[tuple[int, int, npt.NDArray[np.float32]]]] = []
    for block in down.blocks:
        rows = block[1] + block[2].shape[1] - (groups[-1][0][1] if groups else 0)
        if not groups or rows * row_values > _STRIP_VALUES:
            groups.append([])
        groups[-1].append(block)
    return groups


class _Rows:
    """Hands out the photo's rows from top to bottom, keeping those still needed."""

    def __init__(self, image: pyvips.Image, left: int, width: int, dtype: npt.DTypeLike) -> None:
        self._region, self._height = pyvips.Region.new(image), image.height
        self._left, self._width, self._bands, self._dtype = left, width, image.bands, dtype
        self._kept = np.empty((0, width, image.bands), dtype)
        self._first = 0

    def fetch(self, low: int, high: int) -> Array:
        """Give rows low…high; never goes back before the last `low`."""
        end = self._first + len(self._kept)
        parts = [self._kept[max(0, low - self._first) :]]
        if high > end:
            start = max(low, end)
            data = self._region.fetch(self._left, start, self._width, high - start)
            parts.append(np.frombuffer(data, self._dtype).reshape(-1, self._width, self._bands))
        self._kept = np.concatenate(parts)
        self._first = low
        return self._kept[: high - low]

    def prove_whole(self) -> None:
        """Read on to the last row, so that a file cut short below the crop is still found."""
        self._region.fetch(0, self._height - 1, 1, 1)
