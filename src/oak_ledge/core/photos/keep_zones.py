"""What of a photo must stay whole: keep zones, and lines that must not be cut.

They are said once per photo, in its own upright pixels, and known to all its placements.
"""

from __future__ import annotations

from pydantic import Field

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.strokes import Polygon
from oak_ledge.core.values import Coordinate, Extent, Value

# Zones, and lines, of one photo.
MOST_ZONES = 60


class Zone(Value):
    """A rectangle that must stay whole, in photo pixels, upright."""

    left: Coordinate
    top: Coordinate
    width: Extent
    height: Extent
    sure: float | None = Field(default=None, ge=0, le=1, description="of a found one: how sure")
    eyes: tuple[Coordinate, Coordinate] | None = Field(
        default=None, description="of a face: the point between the eyes"
    )

    @property
    def corners(self) -> Polygon:
        """Its corners, clockwise from top left."""
        right, bottom = self.left + self.width, self.top + self.height
        return ((self.left, self.top), (right, self.top), (right, bottom), (self.left, bottom))


class UncutLine(Value):
    """A line that must not be cut, such as a joint, lettering or a pole; photo pixels, upright."""

    x0: Coordinate
    y0: Coordinate
    x1: Coordinate
    y1: Coordinate


class Keeps(Value):
    """All that must stay whole of one photo."""

    zones: tuple[Zone, ...] = Field(default=(), max_length=MOST_ZONES)
    marks: tuple[UncutLine, ...] = Field(default=(), max_length=MOST_ZONES)


NOTHING = Keeps()


def within(keeps: Keeps, upright: Pixels) -> Keeps:
    """Cut what must be kept to the photo; what lies wholly beyond it goes."""
    wide, high = upright
    zones = []
    for zone in keeps.zones:
        left, top = max(0.0, zone.left), max(0.0, zone.top)
        right, bottom = min(wide, zone.left + zone.width), min(high, zone.top + zone.height)
        if right - left >= 1 and bottom - top >= 1:
            cut = {"left": left, "top": top, "width": right - left, "height": bottom - top}
            zones.append(zone.model_copy(update=cut))
    marks = [
        mark
        for mark in keeps.marks
        if max(mark.x0, mark.x1) > 0 and min(mark.x0, mark.x1) < wide
        and max(mark.y0, mark.y1) > 0 and min(mark.y0, mark.y1) < high
    ]  # fmt: skip
    return Keeps(zones=tuple(zones), marks=tuple(marks))
