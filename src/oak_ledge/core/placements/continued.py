"""Continued ground: the box around a photo for which more of the scene is made (rules, section 6)."""

from __future__ import annotations

from math import ceil, floor

import numpy as np
from pydantic import Field

from oak_ledge.core.errors import FillError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.keep_zones import MOST, Zone
from oak_ledge.core.photos.retouches import Tried
from oak_ledge.core.photos.strokes import Strokes
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.planes.matrices import at, inverse
from oak_ledge.core.planes.surface import Squared, Surface, Upright, turns_of

ROOM = 0.01  # of the canvas: so much more is made where it reaches beyond, so that a crop can be nudged

MOST_TIMES = 6  # the photo's own pixels: a larger canvas would be nearly all made up

Box = tuple[int, int, int, int]


class Continued(Tried):
    """One continued ground: all that it is made from, besides the photo.

    `box` is left, top, right, bottom in the photo's own upright pixels, around the whole photo.
    What lies in `avoid` is never copied; where `take_from` says something, nothing else is.
    """

    box: Box
    avoid: tuple[Zone, ...] = Field(default=(), max_length=2 * MOST)
    take_from: Strokes = ()

    @property
    def edges(self) -> Pixels:
        """Width and height of the canvas."""
        left, top, right, bottom = self.box
        return right - left, bottom - top


def box_needed(surface: Surface, crop: Crop, upright: Pixels) -> Box | None:
    """Give the box around a photo and a crop, in whole upright pixels; None where it stays inside."""
    needed = _around(surface, crop, upright)
    return None if needed == (0, 0, *upright) else needed


def box_made(needed: Box, upright: Pixels) -> Box:
    """Give the box that is made for one that is needed: a little more where it reaches beyond.

    Raises
    ------
    FillError
        If it is so large that nearly all of it would be made up.
    """
    left, top, right, bottom = needed
    room = ceil(max(right - left, bottom - top) * ROOM)
    made = (
        left - room if left < 0 else 0,
        top - room if top < 0 else 0,
        right + room if right > upright[0] else upright[0],
        bottom + room if bottom > upright[1] else upright[1],
    )
    wide, high = made[2] - made[0], made[3] - made[1]
    if wide * high > MOST_TIMES * upright[0] * upright[1]:
        msg = (
            f"a ground of {wide} × {high} px is more than {MOST_TIMES} times the photo. Take the crop "
            "nearer to the photo, or choose another ground"
        )
        raise FillError(msg)
    return made


def holds(box: Box, needed: Box | None) -> bool:
    """Say whether a box that was made is enough."""
    return needed is None or (
        box[0] <= needed[0] and box[1] <= needed[1] and box[2] >= needed[2] and box[3] >= needed[3]
    )


def _around(surface: Surface, crop: Crop, upright: Pixels) -> Box:
    corners = surface.to_photo(crop.corners())
    points = at(inverse(turns_of(surface)), np.array(corners, np.float64))
    left, top = points.min(axis=0)
    right, bottom = points.max(axis=0)
    dust = 1e-6
    return (
        min(0, floor(left + dust)),
        min(0, floor(top + dust)),
        max(upright[0], ceil(right - dust)),
        max(upright[1], ceil(bottom - dust)),
    )


def on_canvas(surface: Surface, crop: Crop, box: Box) -> tuple[Surface, Crop]:
    """Give surface and crop as they lie on the canvas of a box, turned as the photo is."""
    wide, high = box[2] - box[0], box[3] - box[1]
    canvas = (wide, high) if surface.quarter % 2 == 0 else (high, wide)
    bare = Upright(surface.photo, surface.quarter, surface.mirror)
    (x, y), (x1, y1) = at(
        turns_of(bare), np.array([(box[0], box[1]), (box[2], box[3])], np.float64)
    )
    left, top = min(x, x1), min(y, y1)
    if isinstance(surface, Squared):
        corners = tuple((x - left, y - top) for x, y in surface.corners)
        return Squared(surface.extent, corners, canvas, surface.quarter, surface.mirror), crop
    moved = Crop(crop.left - left, crop.top - top, crop.width, crop.height, crop.angle)
    return Upright(canvas, surface.quarter, surface.mirror), moved
