"""Sides of a photo that a person said a source for: what may be copied there, and their fills."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from oak_ledge.core.photos.continued import Box, Continued, Side
from oak_ledge.core.photos.strokes import Stroke
from oak_ledge.core.pixels.fill.grid import Array, Grid, Mask, cover
from oak_ledge.core.pixels.fill.solve import Solved
from oak_ledge.core.pixels.retouch.area import area_of


@dataclass(frozen=True)
class OwnSide:
    """A side, and how the canvas is filled from its own source; that side alone is drawn of it."""

    side: Side
    solved: Solved


def boxes_around(photo: Array, ground: Continued) -> dict[Side, Box]:
    """Return top, left, height and width, on the canvas, of what lies beyond each side of a photo.

    Those above and below take the corners in.
    """
    left, top, right, bottom = ground.box
    high, wide = photo.shape[:2]
    return {
        "top": (0, 0, -top, right - left),
        "bottom": (high - top, 0, bottom - high, right - left),
        "left": (-top, 0, high, -left),
        "right": (-top, wide - left, high, right - wide),
    }


def with_own_source(photo: Array, ground: Continued) -> list[Side]:
    """Return the sides that have a source of their own and ground beyond them."""
    named = {source.side for source in ground.side_sources}
    boxes = boxes_around(photo, ground).items()
    return [side for side, box in boxes if side in named and box[2] and box[3]]


def in_box(grid: Grid, box: Box) -> Mask:
    """Mark the hole's blocks whose middle lies in a rectangle of the canvas."""
    high, wide = grid.hole.shape
    rows = (np.arange(high)[:, None] + 0.5) * grid.step - grid.lead[0]
    columns = (np.arange(wide) + 0.5) * grid.step - grid.lead[1]
    down = (rows >= box[0]) & (rows < box[0] + box[2])
    across = (columns >= box[1]) & (columns < box[1] + box[3])
    within: Mask = grid.hole & down & across
    return within


def never_copied(photo: Array, ground: Continued, take_from: Sequence[Stroke]) -> Mask:
    """Mark, on the photo, what must not be copied: keep zones, and all but what `take_from` brushes."""
    high, wide = photo.shape[:2]
    never = np.zeros((high, wide), np.bool_)
    for zone in ground.avoid:
        left, top = max(0, int(zone.left)), max(0, int(zone.top))
        right, bottom = int(zone.left + zone.width) + 1, int(zone.top + zone.height) + 1
        never[top : max(top, bottom), left : max(left, right)] = True
    if take_from:
        never |= ~area_of(take_from, (), (0, 0, wide, high))
    return never


def on_blocks(mask: Mask, grid: Grid) -> Mask:
    """Return the blocks of a grid that a mask of the photo touches."""
    out = np.zeros(grid.hole.shape, np.bool_)
    out[grid.known] = (cover(mask, grid.step) > 0).ravel()
    return out
