"""The sides of a stretched canvas around its face: mirrored, drawn out or of one colour, folds marked."""

from __future__ import annotations

from fractions import Fraction
from io import BytesIO
from pathlib import Path
from typing import TYPE_CHECKING, cast

import numpy as np
from PIL import Image

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.ground.fills import FILLERS

if TYPE_CHECKING:
    import numpy.typing as npt

# Inches: a fold mark is 3 mm long, a quarter of a point thin.
LONG, THIN = 3 / 25.4, 0.25 / 72


def with_sides(
    face: Array, file: Pixels, ground: str, tone: npt.NDArray[np.float64] | None
) -> Array:
    """Lay sides around a face, (H, W, C), so that it is as large as its file; an odd pixel is right and below.

    Parameters
    ----------
    face : the picture as it is seen; not one value of it changes
    file : width and height with the sides
    ground : `mirror`, `edge`, or a colour
    tone : that colour as a pixel of the face
    """
    high, wide = face.shape[:2]
    left, top = (file[0] - wide) // 2, (file[1] - high) // 2
    around = ((top, file[1] - high - top), (left, file[0] - wide - left), (0, 0))
    filler = FILLERS.get(ground)
    if filler is not None and filler.canvas is None:
        return cast("Array", np.pad(face, around, mode=filler.pad))
    out = np.empty((file[1], file[0], face.shape[2]), face.dtype)
    out[:] = 0 if tone is None else np.rint(tone)
    out[top : top + high, left : left + wide] = face
    return out


def with_border(
    picture: Array, around: tuple[int, int, int, int], tone: npt.NDArray[np.float64] | None
) -> Array:
    """Lay paper around a picture, (H, W, C), of which not one value changes.

    `around` are the pixels at the left, top, right and bottom, `tone` the paper's colour as a pixel
    of the picture; None is clear.
    """
    left, top, right, bottom = around
    high, wide, bands = picture.shape
    out = np.zeros((top + high + bottom, left + wide + right, bands), picture.dtype)
    if tone is not None:
        out[:] = np.rint(tone)
    out[top : top + high, left : left + wide] = picture
    return out


def preview_with_sides(face: Path, share: tuple[float, float], ground: str) -> bytes:
    """Draw a face's preview with its sides, for the screen: `share` of its width and height on each side."""
    with Image.open(face) as image:
        pixels = np.asarray(image.convert("RGB"))
    high, wide = pixels.shape[:2]
    file = (wide + 2 * max(1, round(wide * share[0])), high + 2 * max(1, round(high * share[1])))
    colour = ground.startswith("#")
    tone = np.array([int(ground[at : at + 2], 16) for at in (1, 3, 5)], float) if colour else None
    out = BytesIO()
    Image.fromarray(with_sides(pixels, file, ground, tone)).save(out, "JPEG", quality=88)
    return out.getvalue()


def with_fold_marks(pixels: Array, face: Pixels, ppi: Fraction) -> Array:
    """Mark the folds at the outer edge, where the canvas will lie on the bars' back: dark beside light."""
    out, (high, wide) = pixels.copy(), pixels.shape[:2]
    left, top = (wide - face[0]) // 2, (high - face[1]) // 2
    long = min(max(2, round(LONG * float(ppi))), left, top)
    thin, most = max(1, round(THIN * float(ppi))), np.iinfo(out.dtype).max
    for value, shift in ((most, thin), (0, 0)):
        for x in (left + shift, left + face[0] - thin - shift):
            out[:long, x : x + thin] = out[high - long :, x : x + thin] = value
        for y in (top + shift, top + face[1] - thin - shift):
            out[y : y + thin, :long] = out[y : y + thin, wide - long :] = value
    return out
