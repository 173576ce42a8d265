"""What a fill could show: PatchMatch (Barnes, Shechtman, Finkelstein & Goldman, SIGGRAPH 2009).

The package that does it takes 8-bit colours, tells no progress, can't be stopped and keeps its seed
for the whole process: it is called under a lock, in a process that can be ended.
"""

from __future__ import annotations

from dataclasses import dataclass
from threading import Lock

import numpy as np

from oak_ledge.core.pixels.fill.grid import Array, Floats, Mask, away

_CALL = Lock()

# What a guide spans over the height of a grid.
_HALF = 0.5

# Of the guide against what patches differ by.
_WEIGHT = 0.003


@dataclass(frozen=True)
class Forbidden:
    """What a fill is not copied from, as masks (h, w)."""

    uncopied: Mask
    """except along the rim, which the fill must fit to"""
    never: Mask
    """of the rim so little is seen that no patch of it can be"""
    unmirrored: Mask
    """in the photo's mirror"""


@dataclass(frozen=True)
class Showing:
    """How a fill is shown."""

    radius: int
    """of the compared patches, in blocks"""
    guide: Floats | None
    """(h, w) coordinate by which the fill is led, in blocks"""
    mirror: bool
    """whether the photo's mirror is copied from too"""
    seed: int
    """the same call with the same seed gives the same colours"""


def show(colours: Array, hole: Mask, forbidden: Forbidden, how: Showing) -> Array:
    """Show the hole of a grid, (h, w, 3) uint8, filled, as the same."""
    import patchmatch  # here: it loads a library of its own, which only fills need

    high, wide = hole.shape
    inside = away(~hole)
    radius, guide = how.radius, how.guide
    hidden = forbidden.uncopied & (inside >= 2 * radius + 6)
    hidden |= forbidden.never & (inside >= radius)
    atlas, gone, never = colours, hole, hidden & ~hole
    columns = np.flatnonzero((~hole).any(0))
    known = np.s_[:, columns[0] : columns[-1] + 1]
    gap = np.zeros((high, 2 * radius + 2), np.bool_)
    if how.mirror:
        flipped = colours[known][:, ::-1]
        atlas = np.hstack([colours, np.zeros((*gap.shape, 3), np.uint8), flipped])
        gone = np.hstack([hole, gap, np.zeros(flipped.shape[:2], np.bool_)])
        unmirrored = hole | forbidden.uncopied | forbidden.never | forbidden.unmirrored
        never = np.hstack([never, ~gap, unmirrored[known][:, ::-1]])
    atlas = np.ascontiguousarray(atlas)
    with _CALL:
        patchmatch.set_random_seed(how.seed)
        if guide is None:
            out = patchmatch.inpaint(atlas, gone, global_mask=never, patch_size=radius)
        else:
            lead = np.zeros(atlas.shape, np.float32)
            lead[:, :wide, 0] = guide / high * _HALF
            if how.mirror:
                lead[:, wide + gap.shape[1] :, 0] = lead[:, :wide, 0][known][:, ::-1]
            out = patchmatch.inpaint_regularity(
                atlas, gone, lead, global_mask=never, patch_size=radius, guide_weight=_WEIGHT
            )
    filled: Array = out[:, :wide]
    return filled


def eight_bit(colours: Floats) -> Array:
    """Return colours of 0…255 as whole numbers."""
    rounded: Array = np.clip(colours + 0.5, 0, 255).astype(np.uint8)
    return rounded
