"""Colour profiles: keep a photo's own, or convert what was cut to another (rules, section 7)."""

from __future__ import annotations

from typing import Any

import numpy as np
import pyvips

from oak_ledge.core.pixels.cut import Array
from oak_ledge.core.pixels.files import image_of, with_icc
from oak_ledge.core.sizes import Profile


def converted(pixels: Array, icc: bytes | None, profile: Profile) -> tuple[Array, bytes | None]:
    """Convert (H, W, C) pixels to a profile, relative colorimetric with black-point compensation.

    Parameters
    ----------
    pixels : 8 or 16 bits; alpha is carried along
    icc : their profile; None is taken as sRGB
    profile : `keep` changes nothing; `grey` gives one channel with the tone curve of sRGB

    Returns
    -------
    The pixels and the profile to embed; grey carries none.
    """
    if profile == "keep":
        return pixels, icc
    image = image_of(pixels)
    depth = 16 if pixels.dtype == np.uint16 else 8
    way = {
        "embedded": icc is not None,
        "input_profile": "srgb",
        "intent": "relative",
        "black_point_compensation": True,
        "depth": depth,
    }
    if icc is not None:
        image = with_icc(image, icc)
    elif pixels.shape[2] <= 2:
        image = image.colourspace("rgb16" if depth == 16 else "srgb")
    try:
        image = image.icc_transform("p3" if profile == "p3" else "srgb", **way)
    except pyvips.Error:  # a profile that is broken, or of another kind of colour: as it is
        image = image.copy().colourspace("rgb16" if depth == 16 else "srgb")
    if profile == "grey":
        return _array(image.colourspace("grey16" if depth == 16 else "b-w"), pixels.dtype), None
    return _array(image, pixels.dtype), bytes(image.get("icc-profile-data"))


def _array(image: Any, dtype: Any) -> Array:
    """Read an image into (H, W, C)."""
    found: Array = image.numpy().reshape(image.height, image.width, image.bands).astype(dtype)
    return found
