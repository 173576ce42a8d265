"""Colour profiles: keep a photo's own, or convert what was cut to another (rules, section 7)."""

from __future__ import annotations

from pathlib import Path
from tempfile import TemporaryDirectory
from typing import TYPE_CHECKING, Any

import numpy as np
import pyvips
from PIL import ImageCms

from oak_ledge.core.errors import FileError
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.encode.image import image_of, with_icc
from oak_ledge.core.pixels.open.photo import on_white
from oak_ledge.core.sizes.file.file_settings import FileSettings, may_lose_colours
from oak_ledge.core.sizes.file.profile_file import grey_profile

if TYPE_CHECKING:
    import numpy.typing as npt

SRGB = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()


GREY = grey_profile("Grey, sRGB tone curve")


# CIEDE2000: seen without a comparison at hand, over the steps of a profile's tables.
SEEN = 3.0


# Pixels of one pair of stripes, light or dark, and as many left as they are.
_STRIPE = 6


def converted(pixels: Array, icc: bytes | None, file: FileSettings) -> tuple[Array, bytes | None]:
    """Convert (H, W, C) pixels to a profile, relative colorimetric with black-point compensation.

    Parameters
    ----------
    pixels : 8 or 16 bits; alpha is carried along, but stands on white where a CMYK file is asked
    icc : their profile; None is taken as sRGB
    file : says the profile: `keep` changes nothing; `grey` gives one channel with the tone curve
        of sRGB; `receiver` is the receiver's own profile file

    Returns
    -------
    The pixels and the profile to embed.

    Raises
    ------
    FileError
        If the receiver's profile can't be used.
    """
    if file.profile == "keep":
        return pixels, icc
    deep = pixels.dtype == np.uint16
    image = _known(pixels, icc)
    if file.icc is not None and file.icc.colours == "CMYK":
        image = on_white(image)
    try:
        image = _into(image, file, intent="relative")
    except pyvips.Error as exc:
        if file.icc is not None:
            msg = f"the profile {file.icc.name} can't be used; ask the receiver for another copy"
            raise FileError(msg) from exc
        # the photo's own is broken, or of another kind of colour: its pixels are taken as they are
        image = image.copy().colourspace("rgb16" if deep else "srgb")
    if file.profile == "grey":
        return _array(image.colourspace("grey16" if deep else "b-w"), pixels.dtype), GREY
    return _array(image, pixels.dtype), bytes(image.get("icc-profile-data"))


def beyond(pixels: Array, icc: bytes | None, file: FileSettings) -> npt.NDArray[np.bool_] | None:
    """Mark the (H, W) pixels whose colours a file's profile cannot hold; None if it holds all.

    They are taken there and back: what then differs by more than `SEEN` (CIEDE2000) was out of
    its reach. A grey file is not asked: every colour is beyond it.
    """
    if not may_lose_colours(file) or pixels.shape[2] < 3:
        return None
    try:
        image = on_white(_known(pixels, icc))
        before = image.icc_import(embedded=True, intent="relative")
        there = _into(image, file, intent="relative", black_point=False)
        after = there.icc_import(embedded=True, intent="relative")
        lost = before.dE00(after).numpy() > SEEN
    except pyvips.Error:
        return None
    return lost if lost.any() else None


def marked(pixels: Array, lost: npt.NDArray[np.bool_]) -> Array:
    """Lay slanting stripes over marked pixels, dark and light, so that they show on any colour."""
    rows, columns = np.indices(lost.shape)
    phase = (rows + columns) % (2 * _STRIPE)
    out = pixels.copy()
    top = np.iinfo(pixels.dtype).max
    out[lost & (phase < _STRIPE // 2)] = top
    out[lost & (phase >= _STRIPE) & (phase < _STRIPE + _STRIPE // 2)] = 0
    return out


def _known(pixels: Array, icc: bytes | None) -> Any:
    """Return an image that carries its profile, sRGB where it has none."""
    image = image_of(pixels, icc)
    if icc is None and pixels.shape[2] <= 2:
        image = image.colourspace("rgb16" if pixels.dtype == np.uint16 else "srgb")
    return with_icc(image, SRGB if icc is None else icc)


def _into(image: Any, file: FileSettings, *, intent: str, black_point: bool = True) -> Any:
    """Convert an image that carries a profile to that of a file."""
    with TemporaryDirectory() as folder:  # the image library takes a profile by its file
        if file.icc is not None:
            target = str(Path(folder) / "receiver.icc")
            Path(target).write_bytes(file.icc.icc)
        else:
            target = "p3" if file.profile == "p3" else "srgb"
        return image.icc_transform(
            target,
            embedded=True,
            intent=intent,
            black_point_compensation=black_point,
            depth=16 if image.format == "ushort" else 8,
        ).copy_memory()


def _array(image: Any, dtype: Any) -> Array:
    """Read an image into (H, W, C)."""
    array: Array = image.numpy().reshape(image.height, image.width, image.bands).astype(dtype)
    return array
