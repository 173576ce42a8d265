"""A mark laid over a piece's pixels: in its profile, on whole pixels, nothing changed outside its box."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from oak_ledge.core.marks.laid import LaidMark, MarkFile
from oak_ledge.core.marks.mark import Place
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.finish.in_profile import in_profile
from oak_ledge.core.pixels.marks.detail import detail
from oak_ledge.core.pixels.marks.open_mark import drawn_mark
from oak_ledge.core.placements.zones.mark_box import MarkBox
from oak_ledge.core.planes.boxes import meet

# Red, green and blue in how light a colour is (ITU-R BT.709).
LUMA = np.array([0.2126, 0.7152, 0.0722])


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


def lay_mark(
    pixels: Array,
    icc: bytes | None,
    mark: LaidMark,
    boxes: Mapping[Place, MarkBox],
    barred: Sequence[MarkBox] = (),
) -> Array:
    """Lay a mark over a piece's pixels, in the calmest place where that is asked.

    Raises
    ------
    PhotoError, FileError
        If its file is damaged, or the piece's profile can't take it.
    """
    place, file = lies_at(pixels, icc, mark, boxes, barred)
    return with_mark(pixels, icc, file, boxes[place], mark.how.opacity)


def lies_at(
    pixels: Array,
    icc: bytes | None,
    mark: LaidMark,
    boxes: Mapping[Place, MarkBox],
    barred: Sequence[MarkBox] = (),
) -> tuple[Place, MarkFile]:
    """Return at which of the nine places a mark lies, and which of its pictures is laid there."""
    place = mark.how.place
    if place == "calm":
        place = calmest(pixels, boxes, barred)
    dark = mark.on_dark is not None and lightness_in(pixels, icc, boxes[place]) < 0.5
    return place, mark.on_dark if dark and mark.on_dark is not None else mark.file


def lightness_in(pixels: Array, icc: bytes | None, box: MarkBox) -> float:
    """Return how light a box of a piece is, 0 black to 1 white, by its encoded values (luma of BT.709)."""
    left, top, wide, high = box
    part = pixels[top : top + high, left : left + wide]
    means = part.reshape(-1, pixels.shape[2]).mean(axis=0) / np.iinfo(pixels.dtype).max
    if has_inks(pixels, icc):
        means = np.maximum(0, 1 - means[:3] - means[3])
    if len(means) < 3:
        return float(means[0])
    return float(means[:3] @ LUMA)


def has_inks(pixels: Array, icc: bytes | None) -> bool:
    """Return whether pixels are four inks, by their profile's colour space."""
    return pixels.shape[2] == 4 and icc is not None and icc[16:20] == b"CMYK"


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
    alpha = not has_inks(pixels, icc) and pixels.shape[2] in (2, 4)
    bands = pixels.shape[2] - int(alpha)
    colours = in_profile(drawn[..., :3], own, icc, bands).astype(np.float64)
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
