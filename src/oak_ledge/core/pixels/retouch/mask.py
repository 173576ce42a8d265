"""A picture that says what is painted over: light is, dark is not."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import numpy.typing as npt

from oak_ledge.core.errors import FillError, PhotoError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.retouches import Retouch
from oak_ledge.core.pixels.containers.truncation import refuse_cut_short
from oak_ledge.core.pixels.open.border import reading_file
from oak_ledge.core.pixels.open.header import load, orientation_of, upright_size
from oak_ledge.core.pixels.open.layers import Patch
from oak_ledge.core.pixels.open.orientation import turn_upright
from oak_ledge.core.pixels.retouch.paint_over import check_mask, painted

Mask = npt.NDArray[np.bool_]

# Of white: from so light on it is painted over.
FROM = 0.5


def read_mask(path: Path, edges: Pixels) -> Mask:
    """Read a mask, (H, W), for a photo of upright `edges`; what is clear in it is dark.

    Raises
    ------
    FillError
        If it is no picture, or not as large as the photo.
    """
    if not path.is_file():
        msg = f"there is no mask {path.name}. Name a picture as large as the photo"
        raise FillError(msg)
    try:
        with reading_file():
            refuse_cut_short(path)
            size = upright_size(path)
            if size != edges:
                msg = (
                    f"the mask is {size[0]} × {size[1]} px, the photo {edges[0]} × {edges[1]} px "
                    "upright. Make it as large as the photo"
                )
                raise FillError(msg)
            image = load(path)
            tag = orientation_of(image)
            if image.hasalpha():
                image = image.flatten(background=[0])
            grey = image.colourspace("grey16" if image.format == "ushort" else "b-w")
            values = grey.numpy().reshape(grey.height, grey.width, -1)[..., 0]
    except PhotoError as exc:
        msg = f"the mask {path.name} can't be read: {exc}"
        raise FillError(msg) from exc
    light: Mask = turn_upright(values, tag) >= FROM * np.iinfo(values.dtype).max
    return light


def paint_mask(photo: npt.NDArray[np.generic], mask: Mask, attempt: int) -> Patch:
    """Paint over what a mask says on a photo, (H, W, C) upright.

    Raises
    ------
    FillError
        If it says nothing, or nearly everything.
    """
    check_mask(mask, mask.size)
    rows, columns = np.flatnonzero(mask.any(1)), np.flatnonzero(mask.any(0))
    place = (int(columns[0]), int(rows[0]), int(columns[-1]) + 1, int(rows[-1]) + 1)
    part = mask[place[1] : place[3], place[0] : place[2]]
    how = Retouch(kind="paint_over", attempt=attempt)
    return painted(photo, place, part, how).patch
