"""Continued ground: what one is made from, for a box around the photo (rules, section 6)."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.keep_zones import MOST_ZONES, Zone
from oak_ledge.core.photos.retouches import Tried
from oak_ledge.core.photos.strokes import Polygons, Strokes
from oak_ledge.core.values import Value, says_nothing

Box = tuple[int, int, int, int]

Side = Literal["left", "top", "right", "bottom"]

OUTWARD: dict[Side, tuple[float, float]] = {
    "left": (-1, 0), "top": (0, -1), "right": (1, 0), "bottom": (0, 1),
}  # fmt: skip

# Places of one ground.
MOST_OVER = 60


class BrushedOver(Value):
    """A place that is brushed over at once, in the photo's own upright pixels, beyond it.

    It is filled from what surrounds it, or only from `take_from`.
    """

    strokes: Strokes = ()
    polygons: Polygons = ()
    take_from: Strokes = Field(default=(), exclude_if=says_nothing)


class SideSource(Value):
    """What alone is copied beyond one side of the photo."""

    side: Side
    take_from: Strokes = Field(min_length=1)


class Continued(Tried):
    """One continued ground: all that it is made from, besides the photo.

    `box` is left, top, right, bottom in the photo's own upright pixels, around the whole photo.
    What lies in `avoid` is never copied; where `take_from` says something, nothing else is, but beyond
    a side that has a source of its own. Each place of `over` is filled once more.
    """

    box: Box
    avoid: tuple[Zone, ...] = Field(default=(), max_length=2 * MOST_ZONES)
    take_from: Strokes = ()
    side_sources: tuple[SideSource, ...] = Field(default=(), max_length=4, exclude_if=says_nothing)
    over: tuple[BrushedOver, ...] = Field(default=(), max_length=MOST_OVER)

    @property
    def edges(self) -> Pixels:
        """Width and height of the canvas."""
        left, top, right, bottom = self.box
        return right - left, bottom - top

    def source_of(self, side: Side) -> Strokes:
        """Return what alone is copied beyond a side; nothing where all of the photo may be."""
        own = (source.take_from for source in self.side_sources if source.side == side)
        return next(own, self.take_from)
