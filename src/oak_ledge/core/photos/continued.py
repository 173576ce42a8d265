"""Continued ground: what one is made from, for a box around the photo (rules, section 6)."""

from __future__ import annotations

from pydantic import Field

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.keep_zones import MOST_ZONES, Zone
from oak_ledge.core.photos.retouches import Tried
from oak_ledge.core.photos.strokes import Polygons, Strokes
from oak_ledge.core.values import Value

Box = tuple[int, int, int, int]

# Places of one ground.
MOST_OVER = 60


class BrushedOver(Value):
    """A place that is brushed over at once, in the photo's own upright pixels, beyond it."""

    strokes: Strokes = ()
    polygons: Polygons = ()


class Continued(Tried):
    """One continued ground: all that it is made from, besides the photo.

    `box` is left, top, right, bottom in the photo's own upright pixels, around the whole photo.
    What lies in `avoid` is never copied; where `take_from` says something, nothing else is. Each place
    of `over` is filled once more from what surrounds it.
    """

    box: Box
    avoid: tuple[Zone, ...] = Field(default=(), max_length=2 * MOST_ZONES)
    take_from: Strokes = ()
    over: tuple[BrushedOver, ...] = Field(default=(), max_length=MOST_OVER)

    @property
    def edges(self) -> Pixels:
        """Width and height of the canvas."""
        left, top, right, bottom = self.box
        return right - left, bottom - top
