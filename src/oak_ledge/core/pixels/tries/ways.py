"""The ways to fill: for a ground beyond the photo's edges, and for a hole within the photo."""

from __future__ import annotations

from oak_ledge.core.pixels.fill.solve import Variant

# Megapixels of a ground's grid that are to be filled: they are what takes time.
MOST_FILLED = 0.06

# A ground's ways, the best first: on 28 marked sides this order put one within a mark of the best
# first in 27, and no fitted measure did better. The first is filled in the plane of what runs off a
# side; where nothing meets in one there is none, and all others move up.
GROUNDS = (
    Variant("plane", 3, "rows", mirror=False, megapixels=0.22, seed=0),
    Variant("plain", 3, "rows", mirror=False, megapixels=0.22, seed=2),
    Variant("rays", 3, "rays", mirror=False, megapixels=0.25, seed=1),
    Variant("rows", 3, "rows", mirror=True, megapixels=0.28, seed=0),
    Variant("large", 5, "none", mirror=True, megapixels=0.12, seed=3),
)

# Within a plane all that runs off its side is level.
PLANE = Variant("in the plane", 3, "rows", mirror=True, megapixels=0.25, seed=0)

HOLES = (
    Variant("near", 3, "none", mirror=True, megapixels=0.35, seed=0, around=1.2),
    Variant("rows", 3, "rows", mirror=True, megapixels=0.3, seed=2, around=1.2),
    Variant("rays", 3, "rays", mirror=False, megapixels=0.3, seed=4, around=1.2),
    Variant("wide", 3, "none", mirror=True, megapixels=0.35, seed=1),
)


def way_of_ground(attempt: int, *, in_plane: bool) -> Variant:
    """Return the way of a ground's try, counted from 1; `in_plane` where a side has a plane."""
    return GROUNDS[attempt - 1 if in_plane else attempt]
