"""A picture of a place that is retouched, with enough around it to judge it by."""

from __future__ import annotations

from contextlib import suppress
from typing import Any

import numpy as np
import numpy.typing as npt
import pyvips

from oak_ledge.core.pixels.open.border import reading_pixels
from oak_ledge.core.pixels.open.layers import Patch
from oak_ledge.core.pixels.open.photo import on_white
from oak_ledge.core.pixels.retouch.area import Box

# Of the place's longer edge is shown around it.
AROUND = 0.6

# Of the photo's longer edge.
LEAST_AROUND = 0.05


def spot_around(place: Box, upright: tuple[int, int]) -> Box:
    """Return the part of a photo that is shown with a place."""
    by = max(AROUND * max(place[2] - place[0], place[3] - place[1]), LEAST_AROUND * max(upright))
    return (
        max(0, int(place[0] - by)),
        max(0, int(place[1] - by)),
        min(upright[0], int(place[2] + by)),
        min(upright[1], int(place[3] + by)),
    )


def draw_spot(
    photo: npt.NDArray[Any], patch: Patch, icc: bytes | None, interpretation: str, edge: int
) -> bytes:
    """Draw the part of a photo around a patch, with it, as an sRGB JPEG of at most `edge` pixels.

    Parameters
    ----------
    photo : (H, W, C) upright, what lies under the patch
    """
    high, wide = patch.pixels.shape[:2]
    place = (patch.left, patch.top, patch.left + wide, patch.top + high)
    left, top, right, bottom = spot_around(place, (photo.shape[1], photo.shape[0]))
    part = photo[top:bottom, left:right].copy()
    at = (patch.top - top, patch.left - left)
    if patch.cuts:
        part = _on_squares(part.shape, patch, at)
    else:
        part[at[0] : at[0] + high, at[1] : at[1] + wide] = patch.pixels
    with reading_pixels():
        image = pyvips.Image.new_from_array(np.ascontiguousarray(part))
        image = on_white(image.copy(interpretation=interpretation))
        scale = min(1.0, edge / max(image.width, image.height))
        image = image.resize(scale) if scale < 1 else image
        if icc is not None:
            image = image.copy()
            image.set_type(pyvips.GValue.blob_type, "icc-profile-data", icc)
            with suppress(pyvips.Error):  # a broken profile: shown as it is
                image = image.icc_transform("srgb", embedded=True, intent="relative")
        elif image.format == "ushort":
            image = image.cast("uchar", shift=True)
        return bytes(image.jpegsave_buffer(Q=90, keep="none"))


def _on_squares(shape: tuple[int, ...], patch: Patch, at: tuple[int, int]) -> npt.NDArray[Any]:
    """Lay a thing cut out on squares of two tones, where clear parts are told from white ones."""
    high, wide, bands = shape
    top = np.iinfo(patch.pixels.dtype).max
    edge = max(4, max(high, wide) // 40)
    rows, columns = np.arange(high) // edge, np.arange(wide) // edge
    odd = (rows[:, None] + columns) % 2
    out = np.repeat(np.where(odd, 0.93, 0.80)[..., None] * top, bands, axis=2)
    colours = patch.pixels[..., :-1]
    if bands in (2, 4):
        out[..., -1] = top
        colours = np.dstack([colours, np.full(colours.shape[:2], top, colours.dtype)])
    shares = patch.pixels[..., -1:] / top
    place = out[at[0] : at[0] + colours.shape[0], at[1] : at[1] + colours.shape[1]]
    place[:] = colours * shares + place * (1 - shares)
    rounded: npt.NDArray[Any] = np.rint(out).astype(patch.pixels.dtype)
    return rounded
