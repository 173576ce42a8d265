"""A mark laid over a piece's pixels: in its profile, on whole pixels, nothing changed outside its box."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from io import BytesIO

import numpy as np
from PIL import Image, ImageCms

from oak_ledge.core.errors import FileError
from oak_ledge.core.marks.box import MarkBox
from oak_ledge.core.marks.mark import MarkFile, Place
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.marks.detail import detail
from oak_ledge.core.pixels.marks.open_mark import drawn_mark
from oak_ledge.core.planes.boxes import meet


def calmest(pixels: Array, boxes: Mapping[Place, MarkBox], barred: Sequence[MarkBox] = ()) -> Place:
    """Return the place with the least detail, the smallest mean gradient of lightness in its box.

    Parameters
    ----------
    pixels : (H, W, C) of all of a piece
    boxes : where the mark would lie; the first of those that are equal is taken
    barred : what it must not lie on, where another place is left
    """
    free = {
        place: box for place, box in boxes.items() if not any(meet(box, each) for each in barred)
    } or boxes
    return min(free, key=lambda place: detail_in(pixels, free[place]))


def detail_in(pixels: Array, box: MarkBox) -> float:
    """Return the mean detail in a box of a piece."""
    left, top, wide, high = box
    return float(detail(pixels[top : top + high, left : left + wide]).mean())


def with_mark(
    pixels: Array, icc: bytes | None, mark: MarkFile, box: MarkBox, opacity: int
) -> Array:
    """Lay a mark over pixels, over in their encoded values; outside its box not one changes.

    Parameters
    ----------
    pixels : (H, W, C), grey, RGB or CMYK, with or without alpha (an even number of bands but four inks)
    icc : their profile; None is sRGB
    opacity : per cent of the mark's own

    Raises
    ------
    PhotoError
        If the mark's file is damaged.
    FileError
        If the piece's profile can't take it.
    """
    left, top, wide, high = box
    drawn, own = drawn_mark(mark, (wide, high))
    inks = pixels.shape[2] == 4 and icc is not None and icc[16:20] == b"CMYK"
    alpha = not inks and pixels.shape[2] in (2, 4)
    bands = pixels.shape[2] - int(alpha)
    colours = _in_profile(drawn[..., :3], own, icc, bands).astype(np.float64)
    depth = np.iinfo(pixels.dtype).max
    colours *= depth / 255
    share = drawn[..., 3:].astype(np.float64) / 255 * (opacity / 100)
    out = pixels.copy()
    part = out[top : top + high, left : left + wide]
    if alpha:
        under = part[..., -1:].astype(np.float64) / depth
        whole = share + under * (1 - share)
        mixed = colours * share + part[..., :bands] * under * (1 - share)
        seen = np.where(whole > 0, mixed / np.maximum(whole, 1e-12), part[..., :bands])
        part[..., :bands] = np.rint(seen)
        part[..., -1:] = np.rint(whole * depth)
    else:
        part[:] = np.rint(colours * share + part * (1 - share))
    return out


def _in_profile(drawn: Array, own: bytes | None, icc: bytes | None, bands: int) -> Array:
    """Return a mark's sRGB colours, (H, W, 3), as a piece's profile has them."""
    mode = {1: "L", 3: "RGB", 4: "CMYK"}[bands]
    image = Image.fromarray(drawn, "RGB")
    if icc is None and own is None:
        return np.asarray(image.convert(mode)).reshape(*drawn.shape[:2], bands)
    srgb = ImageCms.createProfile("sRGB")
    try:
        source = srgb if own is None else ImageCms.ImageCmsProfile(BytesIO(own))
        target = srgb if icc is None else ImageCms.ImageCmsProfile(BytesIO(icc))
        laid = ImageCms.profileToProfile(image, source, target, outputMode=mode)
    except (ImageCms.PyCMSError, OSError) as exc:
        msg = "the mark can't be drawn in this file's profile; choose sRGB for the file"
        raise FileError(msg) from exc
    assert laid is not None
    return np.asarray(laid).reshape(*drawn.shape[:2], bands)
