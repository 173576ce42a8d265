"""Texture copied from another spot of the photo, under a brush with a soft edge."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

from oak_ledge.core.photos.retouches import Retouch
from oak_ledge.core.pixels.open.layers import Patch
from oak_ledge.core.pixels.retouch.area import Box, Floats, area_of, away_from, within

Array = npt.NDArray[Any]


def copy_texture(photo: Array, retouch: Retouch) -> Patch:
    """Copy what lies `offset` away, whole pixels of it, to what a retouch brushes.

    Parameters
    ----------
    photo : (H, W, C) upright, with what was retouched under it before

    Returns
    -------
    A patch; where the spot copied from lies beyond the photo, the photo stays.
    """
    place = within(retouch.box, (photo.shape[1], photo.shape[0]))
    weight = weights(retouch, place)
    was = photo[place[1] : place[3], place[0] : place[2]]
    across, along = (round(step) for step in retouch.offset or (0.0, 0.0))
    from_y = np.arange(place[1], place[3]) + along
    from_x = np.arange(place[0], place[2]) + across
    high, wide = photo.shape[:2]
    there = ((from_y >= 0) & (from_y < high))[:, None] & ((from_x >= 0) & (from_x < wide))[None]
    copied = photo[from_y.clip(0, high - 1)][:, from_x.clip(0, wide - 1)]
    share = (weight * there)[..., None]
    mixed = np.rint(copied * share + was * (1 - share)).astype(photo.dtype)
    return Patch(place[0], place[1], np.where(share > 0, mixed, was))


def weights(retouch: Retouch, place: Box) -> Floats:
    """Return how much each pixel takes of what is copied, 0 to 1: 1 in the middle of the brush."""
    weight = area_of((), retouch.polygons, place).astype(np.float32)
    for stroke in retouch.strokes:
        edge = max(stroke.radius * retouch.soft, 0.5)
        inside = np.clip((stroke.radius - away_from(stroke, place)) / edge, 0, 1)
        soft = (inside * inside * (3 - 2 * inside)).astype(np.float32)  # no step at either end
        weight = np.minimum(weight, 1 - soft) if stroke.away else np.maximum(weight, soft)
    return weight
