"""A ground as its grid shows it, around a picture of its photo: soon there, the full size behind."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path

import cv2
import numpy as np
import numpy.typing as npt
import pyvips

from oak_ledge.core.photos.continued import Continued
from oak_ledge.core.pixels.fill.grid import Floats, Grid
from oak_ledge.core.pixels.open.border import reading_pixels
from oak_ledge.core.pixels.open.header import load


def sketch(
    filled: Floats,
    grid: Grid,
    ground: Continued,
    shown: Path,
    upright: tuple[int, int],
    icc: bytes | None,
) -> bytes:
    """Draw the canvas of a ground as an sRGB JPEG, the photo in it as large as it is `shown`.

    Parameters
    ----------
    filled : (h, w, 3), 0…255, the grid as it is filled
    shown : an upright sRGB picture of the photo
    upright : the photo's own width and height
    icc : the photo's profile
    """
    with reading_pixels():
        photo = load(shown).copy_memory()
        scale = photo.width / upright[0]
        wide, high = (max(1, round(edge * scale)) for edge in ground.edges)
        image = pyvips.Image.new_from_array(_enlarged(filled, grid, (wide, high), scale))
        image = image.copy(interpretation="srgb")
        if icc is not None:
            image.set_type(pyvips.GValue.blob_type, "icc-profile-data", icc)
            with suppress(pyvips.Error):  # a grey one, or a broken one: shown as it is
                image = image.icc_transform("srgb", embedded=True, intent="relative")
        left, top = round(-ground.box[0] * scale), round(-ground.box[1] * scale)
        if photo.bands == 1:
            photo = photo.colourspace("srgb")
        image = image.insert(photo, left, top)
        return bytes(image.jpegsave_buffer(Q=88, keep="none"))


def _enlarged(
    filled: Floats, grid: Grid, edges: tuple[int, int], scale: float
) -> npt.NDArray[np.uint8]:
    """Return the grid's picture at a scale of the canvas, (H, W, 3) uint8."""
    step = scale * grid.step  # pixels of the picture per block
    x, y = (lead / grid.step for lead in (grid.lead[1], grid.lead[0]))
    into = np.array([[1 / step, 0, x + 0.5 / step - 0.5], [0, 1 / step, y + 0.5 / step - 0.5]])
    drawn = cv2.warpAffine(
        filled,
        into,
        edges,
        flags=cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_REPLICATE,
    )
    pixels: npt.NDArray[np.uint8] = np.clip(drawn + 0.5, 0, 255).astype(np.uint8)
    return pixels
