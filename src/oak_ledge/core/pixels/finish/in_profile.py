"""Colours drawn by others, a mark's or a photo's behind a piece, as the piece's profile has them."""

from __future__ import annotations

from io import BytesIO

import numpy as np
from PIL import Image, ImageCms

from oak_ledge.core.errors import FileError
from oak_ledge.core.pixels.cut.cut import Array


def in_profile(drawn: Array, own: bytes | None, icc: bytes | None, bands: int) -> Array:
    """Return colours, (H, W, 3) of 8 bits, as another profile has them; None is sRGB.

    Raises
    ------
    FileError
        If that can't take them.
    """
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
        msg = "it can't be drawn in this file's profile; choose sRGB for the file"
        raise FileError(msg) from exc
    assert laid is not None
    return np.asarray(laid).reshape(*drawn.shape[:2], bands)
