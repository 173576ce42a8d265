"""The point that what runs off a side meets in: by its lines, or by the directions of what is near it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from oak_ledge.core.pixels.fill.grid import around_photo, step_for
from oak_ledge.core.pixels.fill.guide import lines_near, meeting
from oak_ledge.core.pixels.lines.rim_line import RimLine
from oak_ledge.core.pixels.lines.segments import Doubles
from oak_ledge.core.pixels.lines.side import Array
from oak_ledge.core.pixels.lines.vanishing import vanishing_point

# Lines that meet; of the longer edge, how far apart at the rim two are to be two: a cable has two edges.
_LINES, _APART = 4, 0.015

# Of the grid that directions are looked for on.
_MEGAPIXELS = 0.25


def plane_point(picture: Array, lines: Sequence[RimLine], beyond: int) -> Doubles | None:
    """Return the point (x, y, w), x from the rim; None where nothing meets.

    `picture` is the turned photo, (h, w, 3) uint8, `lines` its lines, of which `beyond` columns go on.
    """
    high, wide = picture.shape[:2]
    useful = sorted((line for line in lines if not line.flaw), key=lambda line: line.at)
    met = vanishing_point(useful, wide)
    if met is not None:
        point, members = met
        heights = np.sort([useful[n].at for n in members])
        apart = 1 + int((np.diff(heights) > _APART * max(high, wide)).sum())
        return point if apart >= _LINES else None
    step = step_for(wide + beyond, high, _MEGAPIXELS)
    grid = around_photo(picture, (0, 0), (0, beyond), step)
    near = lines_near(grid, np.random.default_rng(0))
    found = None if near is None else meeting(near, np.random.default_rng(0))
    if found is None:
        return None
    return np.array([found[0] * step - wide * found[2], found[1] * step, found[2]])
