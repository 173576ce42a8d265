"""A place of a photo filled from what surrounds it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from oak_ledge.core.errors import FillError
from oak_ledge.core.photos.retouches import Retouch
from oak_ledge.core.photos.strokes import Stroke
from oak_ledge.core.pixels.bands.band import Drawn, lay_over
from oak_ledge.core.pixels.bands.joins import draw_joins
from oak_ledge.core.pixels.fill.draw import draw
from oak_ledge.core.pixels.fill.grid import Grid, blocks, cover, step_for, whole_blocks, with_hole
from oak_ledge.core.pixels.fill.likeness import like_the_thing
from oak_ledge.core.pixels.fill.solve import Terms, Variant, solve
from oak_ledge.core.pixels.fill.uncopied import unique_matter
from oak_ledge.core.pixels.open.layers import Patch
from oak_ledge.core.pixels.retouch.area import Box, Mask, area_of, within
from oak_ledge.core.pixels.tries.ranking import Look, look
from oak_ledge.core.pixels.tries.ways import HOLES

# Pixels inside the painted area in which its own edge is blended.
FEATHER = 2

# Of the photo may be painted over at once.
MOST_SHARE = 0.6

# Of the photo's longer edge: the least that is looked at around a place.
_SMALLEST = 0.06

# Of what may be copied: where more is like the thing, likeness says nothing.
_MOST_ALIKE = 0.6

# Times as far is looked, where too little is left around.
_WIDER = 2.0

Array = npt.NDArray[Any]


@dataclass(frozen=True)
class Painted:
    """A place painted over: the patch, and what orders it among its tries."""

    patch: Patch
    look: Look


def paint_over(photo: Array, retouch: Retouch, others: Sequence[Retouch] = ()) -> Painted:
    """Fill what a retouch brushes, by the way its try names.

    Parameters
    ----------
    photo : (H, W, C) upright, 8 or 16 bits, with what was retouched under it before
    others : other retouches of the photo, whose places are not copied

    Raises
    ------
    FillError
        If nothing is brushed, or so much that too little is left to fill it from.
    """
    upright = (photo.shape[1], photo.shape[0])
    place = within(retouch.box, upright)
    mask = area_of(retouch.strokes, retouch.polygons, place)
    return painted(photo, place, mask, retouch, others)


def painted(
    photo: Array, place: Box, mask: Mask, how: Retouch, others: Sequence[Retouch] = ()
) -> Painted:
    """Fill a mask, that lies at a place of the photo, as a retouch says."""
    check_mask(mask, photo.shape[0] * photo.shape[1])
    variant = HOLES[how.attempt - 1]
    around = _looked_at(photo, place, variant, mask)
    part = np.ascontiguousarray(photo[around[1] : around[3], around[0] : around[2]])
    through = _through(photo, place, mask)
    hole = through.thin[around[1] : around[3], around[0] : around[2]].copy()
    at = (place[1] - around[1], place[0] - around[0])
    hole[at[0] : at[0] + mask.shape[0], at[1] : at[1] + mask.shape[1]] |= mask
    grid = with_hole(part, hole, step_for(part.shape[1], part.shape[0], variant.megapixels))
    never = _on_blocks(_never(around, hole.shape, others, how.take_from), grid)
    if not how.take_from:
        alike = like_the_thing(blocks(whole_blocks(part, grid.step), grid.step), grid.hole)
        usable = grid.known & ~never
        never |= alike if (alike & usable).sum() < _MOST_ALIKE * usable.sum() else False
    terms = Terms(unique_matter(grid), never, own_tone=bool(how.take_from))
    solved = solve(grid, variant, how.seed, terms)
    filled = draw(solved, grid, part, (0, 0), (*at, *mask.shape), mask)
    lay_over(filled, through.drawn.colours, through.drawn.share)
    was = photo[place[1] : place[3], place[0] : place[2]]
    return Painted(Patch(place[0], place[1], feathered(was, filled, mask)), look(solved, grid))


@dataclass(frozen=True)
class _Through:
    """What runs through a place: drawn on its mask, and those of it that are thin, (H, W) of the photo.

    The rest is filled as if these were not there: a cable's end would be made up once more beside it.
    """

    drawn: Drawn
    thin: Mask


def _through(photo: Array, place: Box, mask: Mask) -> _Through:
    """Draw the lines that run through a place."""
    around = _looked_at(photo, place, HOLES[0], mask)
    part = photo[around[1] : around[3], around[0] : around[2]]
    hole = np.zeros(part.shape[:2], np.bool_)
    top, left = place[1] - around[1], place[0] - around[0]
    here = np.s_[top : top + mask.shape[0], left : left + mask.shape[1]]
    hole[here] = mask
    seen = draw_joins(part, hole)
    thin = np.zeros(photo.shape[:2], np.bool_)
    thin[around[1] : around[3], around[0] : around[2]] = seen.thin
    return _Through(Drawn(seen.drawn.colours[here], seen.drawn.share[here] * mask), thin)


def _on_blocks(part: Mask, grid: Grid) -> Mask:
    """Return the blocks of a grid that a mask, (H, W), touches."""
    below, right = (
        edge * grid.step - size for edge, size in zip(grid.hole.shape, part.shape, strict=True)
    )
    return cover(np.pad(part, ((0, below), (0, right)), mode="edge"), grid.step) > 0.02


def check_mask(mask: Mask, pixels: int) -> None:
    """Refuse a mask that says nothing, or nearly everything, of a photo of so many pixels.

    Raises
    ------
    FillError
        With what to do.
    """
    share = mask.sum() / pixels
    if share == 0:
        msg = "nothing is painted over. Brush over the thing that should go"
        raise FillError(msg)
    if share > MOST_SHARE:
        msg = (
            f"{share * 100:.0f} % of the photo is painted over, which leaves too little to fill it "
            f"from. Paint over {MOST_SHARE * 100:.0f} % at most"
        )
        raise FillError(msg)


def _looked_at(photo: Array, place: Box, variant: Variant, mask: Mask) -> Box:
    """Return the part of a photo that a place is filled from."""
    high, wide = photo.shape[:2]
    if variant.around is None:
        return 0, 0, wide, high
    reach = max(place[2] - place[0], place[3] - place[1], _SMALLEST * max(high, wide))
    times = variant.around
    while True:
        by = int(times * reach)
        box = (
            max(0, place[0] - by),
            max(0, place[1] - by),
            min(wide, place[2] + by),
            min(high, place[3] + by),
        )
        whole = (box[2] - box[0]) * (box[3] - box[1])
        if box == (0, 0, wide, high) or whole > 3 * mask.sum():
            return box
        times *= _WIDER


def _never(
    around: Box, shape: tuple[int, ...], others: Sequence[Retouch], take_from: Sequence[Stroke]
) -> Mask:
    """Mark, of a part of the photo, what must not be copied: other retouched places, and what is not chosen."""
    never = np.zeros(shape, np.bool_)
    for other in others:
        never |= area_of(other.strokes, other.polygons, around)
    if take_from:
        never |= ~area_of(take_from, (), around)
    return never


def feathered(was: Array, filled: Array, mask: Mask) -> Array:
    """Lay a fill over what was, blended over a few pixels inside its own edge; outside all stays."""
    bordered = np.pad(mask, 1, constant_values=True)  # the photo's own edge is none of the mask's
    inside = cv2.distanceTransform(bordered.astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1]
    weight = np.clip(inside / (FEATHER + 1), 0, 1)[..., None]
    blended = np.rint(filled * weight + was * (1 - weight)).astype(was.dtype)
    pixels: Array = np.where(mask[..., None], blended, was)
    return pixels
