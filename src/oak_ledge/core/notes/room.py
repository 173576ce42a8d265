"""Which sizes can't keep what must stay whole."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.notes.zones import keep_notes
from oak_ledge.core.photos.keep_zones import Keeps
from oak_ledge.core.placements.crop import face_of
from oak_ledge.core.placements.fit import widest
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.zones.around import suggest_around, whole_of
from oak_ledge.core.sizes.size import Size


class Room(BaseModel):
    """Whether a size can keep a photo's zones whole, and how far short it falls."""

    model_config = ConfigDict(frozen=True)

    keeps: bool
    short: float
    """how much wider or higher the largest crop had to be, as a share of it; 0 where it is enough"""
    text: str


def room_for(size: Size, upright: Pixels, keeps: Keeps) -> Room:
    """Return whether the largest crop of a size, laid at its best, keeps all zones of a photo whole."""
    if not keeps.zones:
        return Room(keeps=True, short=0, text="nothing is marked that must stay whole")
    lying = lying_on(size, upright, suggest_around(size, upright, keeps))
    noted = {note.code for note in keep_notes(lying, keeps) if note is not None}
    if not noted & {"keep-cut", "keep-hidden"}:
        return Room(keeps=True, short=0, text="kept whole")
    across, along = ratio = face_of(size, lying.asked)
    most = widest(size, lying.surface, ratio, 0.0)
    zone_wide, zone_high = whole_of(lying, keeps)
    seen_wide, seen_high = most, most * along / across
    short = max(zone_wide / seen_wide, zone_high / seen_high) - 1
    wide = zone_wide / seen_wide >= zone_high / seen_high
    needs, has = (zone_wide, seen_wide) if wide else (zone_high, seen_high)
    how = "wide" if wide else "high"
    text = (
        f"what must stay whole needs {rounded(needs, 0)} px {how}, "
        f"this shape takes {rounded(has, 0)} px: {rounded(short * 100)} % short"
    )
    if short <= 0:  # it is large enough, but the photo ends
        text = (
            f"the photo ends too near: its largest crop is {rounded(lying.crop.width, 0)} px wide"
        )
    return Room(keeps=False, short=max(0.0, short), text=text)
