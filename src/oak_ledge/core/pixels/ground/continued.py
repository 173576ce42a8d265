"""More of the scene around a photo: solved on a grid, then drawn from the photo at full size."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

from oak_ledge.core.photos.continued import Continued
from oak_ledge.core.pixels.fill.draw import draw
from oak_ledge.core.pixels.fill.grid import Grid, Mask, around_photo, cover, step_for
from oak_ledge.core.pixels.fill.solve import Solved, solve
from oak_ledge.core.pixels.fill.uncopied import smooth_rim, subject
from oak_ledge.core.pixels.fill.ways import GROUNDS
from oak_ledge.core.pixels.open.layers import Patch
from oak_ledge.core.pixels.retouch.area import area_of

Array = npt.NDArray[Any]

# Megapixels of a grid that are to be filled: they are what takes time.
MOST_FILLED = 0.06

# Of the grid's pixels are enough where the photo's rim is smooth.
SMOOTH = 0.55

# How much of the step is taken up.
_GROWN = tuple(0.85 * (1 - row / 7) ** 2 for row in range(7))


def grid_of(photo: Array, ground: Continued) -> Grid:
    """Lay a photo, (H, W, C) upright, on the grid its ground is searched on.

    Smooth grounds need a coarser one, and there the search takes longest.
    """
    before, after = _beyond(photo, ground)
    share = 1 - photo.shape[0] * photo.shape[1] / (ground.edges[0] * ground.edges[1])
    megapixels = min(GROUNDS[ground.attempt - 1].megapixels, MOST_FILLED / max(share, 1e-6))
    grid = around_photo(photo, before, after, step_for(*ground.edges, megapixels))
    if not smooth_rim(grid):
        return grid
    return around_photo(photo, before, after, step_for(*ground.edges, megapixels * SMOOTH))


def solve_ground(photo: Array, ground: Continued, grid: Grid) -> Solved:
    """Fill what lies around a photo on its grid.

    Raises
    ------
    FillError
        If nothing is left to copy from.
    """
    variant = GROUNDS[ground.attempt - 1]
    never = _never(photo, ground, grid)
    chosen = bool(ground.take_from)
    return solve(
        grid,
        variant,
        ground.seed,
        uncopied=subject(grid),
        never=never,
        even_light=not chosen,
        own_tone=chosen,
    )


def draw_ground(photo: Array, ground: Continued, grid: Grid, solved: Solved) -> list[Patch]:
    """Draw what lies around a photo at full size: up to four rectangles."""
    (above, before), (below, after) = _beyond(photo, ground)
    high, wide = photo.shape[:2]
    left, top = ground.box[:2]
    across = before + wide + after
    boxes = [
        (0, 0, above, across),
        (above + high, 0, below, across),
        (above, 0, high, before),
        (above, before + wide, high, after),
    ]
    drawn = [draw(solved, grid, photo, (above, before), box) for box in boxes]
    over = np.s_[before : before + wide]
    _join(drawn[0][::-1, over], photo[0])
    _join(drawn[1][:, over], photo[-1])
    _join(drawn[2][:, ::-1].swapaxes(0, 1), photo[:, 0])
    _join(drawn[3].swapaxes(0, 1), photo[:, -1])
    return [
        Patch(left + box[1], top + box[0], pixels)
        for box, pixels in zip(boxes, drawn, strict=True)
        if pixels.size
    ]


def _join(ground: Array, edge: Array) -> None:
    """Blend a ground, (rows outward, along, C), out of the photo's edge, (along, C), in place.

    The grain of a photo goes on from pixel to pixel; two grains side by side would be seen as a line.
    """
    rows = min(len(ground), len(_GROWN))
    if not rows or not ground.size:
        return
    top = np.iinfo(ground.dtype).max
    step = edge.astype(np.float32) - ground[0]
    for row in range(rows):
        mixed = ground[row] + step * np.float32(_GROWN[row])
        ground[row] = np.clip(np.rint(mixed), 0, top)


def _beyond(photo: Array, ground: Continued) -> tuple[tuple[int, int], tuple[int, int]]:
    """Return (rows, columns) of ground before the photo and after it."""
    left, top, right, bottom = ground.box
    return (-top, -left), (bottom - photo.shape[0], right - photo.shape[1])


def _never(photo: Array, ground: Continued, grid: Grid) -> Mask:
    """Mark what must not be copied: keep zones, and all but what `take_from` brushes."""
    high, wide = photo.shape[:2]
    never = np.zeros((high, wide), np.bool_)
    for zone in ground.avoid:
        left, top = max(0, int(zone.left)), max(0, int(zone.top))
        right, bottom = int(zone.left + zone.width) + 1, int(zone.top + zone.height) + 1
        never[top : max(top, bottom), left : max(left, right)] = True
    if ground.take_from:
        never |= ~area_of(ground.take_from, (), (0, 0, wide, high))
    out = np.zeros(grid.hole.shape, np.bool_)
    out[grid.known] = (cover(never, grid.step) > 0).ravel()
    return out
