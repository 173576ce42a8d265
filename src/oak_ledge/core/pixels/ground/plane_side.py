"""The sides of a photo that are filled in the plane of what runs off them, and laid on the canvas."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from oak_ledge.core.photos.continued import Box, Side
from oak_ledge.core.pixels.bands.side_structure import Working, place_of
from oak_ledge.core.pixels.fill.grid import Floats, Grid, Mask
from oak_ledge.core.pixels.fill.solve import Solved
from oak_ledge.core.pixels.ground.plane import (
    OnPlane,
    Plane,
    draw_plane,
    on_plane,
    shown,
    solve_plane,
)
from oak_ledge.core.pixels.lines.side import Array, beyond, turned, turned_back, turned_places


@dataclass(frozen=True)
class PlaneSide:
    """A side, and how the plane is filled in which it goes on."""

    side: Side
    on: OnPlane
    solved: Solved


def laid_on_plane(working: Working, side: Side, plane: Plane) -> OnPlane:
    """Lay the picture of a photo on the plane of one of its sides."""
    return on_plane(np.ascontiguousarray(turned(working.picture, side)), plane)


def solve_side(side: Side, on: OnPlane, never: Mask, seed: int, *, even_light: bool) -> PlaneSide:
    """Fill a side in its plane; what is `never` copied, (H, W), is marked on the photo.

    Raises
    ------
    FillError
        If nothing is left to copy from.
    """
    barred = turned(never, side).astype(np.uint8)
    small = cv2.resize(barred, (on.plane.wide, on.plane.high), interpolation=cv2.INTER_AREA)
    return PlaneSide(side, on, solve_plane(on, on.marked(small > 0), seed, even_light=even_light))


def show_sides(
    picture: Floats, grid: Grid, sides: Sequence[PlaneSide], working: Working, box: Box
) -> None:
    """Show on the picture of a canvas's grid, (h, w, 3), in place, what its planes are filled with."""
    high, wide = grid.hole.shape
    step, scale = grid.step, working.scale
    columns = (np.arange(wide) + 0.5) * step - 0.5 - grid.lead[1] + box[0]
    rows = (np.arange(high) + 0.5) * step - 0.5 - grid.lead[0] + box[1]
    small = working.picture.shape[1], working.picture.shape[0]
    for side in sides:
        places = ((part + 0.5) / scale - 0.5 for part in (columns, rows))
        x, y = np.broadcast_arrays(*turned_places(side.side, small, *places))
        here = grid.hole & (x > -step / scale)
        picture[here] = shown(side.on, side.solved, x[here], y[here])


def draw_sides(
    sides: Sequence[PlaneSide], photo: Array, working: Working, box: Box
) -> dict[Box, Array]:
    """Draw sides from their planes: by top, left, height and width on the canvas, in the photo's depth."""
    edges = (photo.shape[1], photo.shape[0])
    drawn = {}
    for side in sides:
        own = np.ascontiguousarray(turned(photo, side.side))
        pixels = draw_plane(side.on, side.solved, own, working.scale, beyond(box, edges, side.side))
        place = place_of(box, edges, side.side)
        drawn[place] = np.ascontiguousarray(turned_back(pixels, side.side))
    return drawn
