"""What of a photo survives all its sizes, and which sizes can't keep what must stay whole."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.geometry import Point, common, rectangle
from oak_ledge.core.keeping import keep_notes, suggest_around, whole_of
from oak_ledge.core.placements import asked_pixels, crop_of, face_of, held_at, widest
from oak_ledge.core.sizes import Size
from oak_ledge.core.units import Pixels, rounded
from oak_ledge.core.zones import Keeps


class Room(BaseModel):
    """Whether a size can keep a photo's zones whole, and by how much not."""

    model_config = ConfigDict(frozen=True)

    keeps: bool
    short: float
    """how much wider or higher the largest crop had to be, as a share of it; 0 where it is enough"""
    text: str


def surviving(outlines: Sequence[Sequence[Point]], held: Pixels) -> list[Point]:
    """Give the part of a photo that lies inside every outline, convex and clockwise; may be empty."""
    found = rectangle(*held)
    for outline in outlines:
        found = common(found, outline)
    return found


def room_for(size: Size, upright: Pixels, keeps: Keeps) -> Room:
    """Say whether the largest crop of a size, laid at its best, keeps all zones of a photo whole."""
    if not keeps.zones:
        return Room(keeps=True, short=0, text="nothing is marked that must stay whole")
    lying = suggest_around(size, upright, keeps)
    held = held_at(size, upright, lying)
    noted = {note.code for note in keep_notes(size, upright, lying, keeps) if note is not None}
    if not noted & {"keep-cut", "keep-hidden"}:
        return Room(keeps=True, short=0, text="kept whole")
    across, along = ratio = face_of(size, asked_pixels(size, held, lying))
    most = widest(size, held, ratio, 0.0)
    zone_wide, zone_high = whole_of(size, held, lying, keeps)
    seen_wide, seen_high = most, most * along / across
    short = max(zone_wide / seen_wide, zone_high / seen_high) - 1
    crop = crop_of(size, held, lying)
    wide = zone_wide / seen_wide >= zone_high / seen_high
    needs, has = (zone_wide, seen_wide) if wide else (zone_high, seen_high)
    how = "wide" if wide else "high"
    text = (
        f"what must stay whole needs {rounded(needs, 0)} px {how}, "
        f"this shape takes {rounded(has, 0)} px: {rounded(short * 100)} % short"
    )
    if short <= 0:  # it is large enough, but the photo ends
        text = f"the photo ends too near: its largest crop is {rounded(crop.width, 0)} px wide"
    return Room(keeps=False, short=max(0.0, short), text=text)


class Framed(BaseModel):
    """A size's outline inside a camera's picture, as shares of its width and height."""

    model_config = ConfigDict(frozen=True)

    name: str
    left: float
    top: float
    width: float
    height: float


def framed(name: str, face: Pixels, camera: Fraction) -> Framed:
    """Lay a size's largest outline into the middle of a camera's picture, turned as it is.

    >>> framed("5:4", (4, 5), Fraction(3, 2)).width
    0.8333333333333334
    """
    ratio = Fraction(*face)
    if (ratio < 1) != (camera < 1):
        ratio = 1 / ratio
    width, height = min(1.0, float(ratio / camera)), min(1.0, float(camera / ratio))
    return Framed(name=name, left=(1 - width) / 2, top=(1 - height) / 2, width=width, height=height)
