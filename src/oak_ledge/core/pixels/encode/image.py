"""Arrays as pictures of the image library."""

from __future__ import annotations

from typing import Any

import numpy as np
import pyvips

from oak_ledge.core.pixels.cut.cut import Array


def image_of(pixels: Array, icc: bytes | None = None) -> Any:
    """Return (H, W, C) pixels as an image of the library; four bands are RGBA, or CMYK by the profile."""
    deep = pixels.dtype == np.uint16
    if icc is not None and pixels.shape[2] == 4 and icc[16:20] == b"CMYK":
        image = pyvips.Image.new_from_array(np.ascontiguousarray(pixels))
        return image.copy(interpretation="cmyk")
    colour = pixels.shape[2] > 2
    kind = {(False, False): "b-w", (False, True): "grey16", (True, False): "srgb"}.get(
        (colour, deep), "rgb16"
    )
    return pyvips.Image.new_from_array(np.ascontiguousarray(pixels), interpretation=kind)


def with_icc(image: Any, icc: bytes) -> Any:
    """Return an image that carries a profile."""
    image = image.copy()
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", icc)
    return image
