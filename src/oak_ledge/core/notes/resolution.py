"""Notes on resolution: enlarged, short of what the receiver wants."""

from __future__ import annotations

from math import ceil, sqrt

from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.notes.note import Level, Note
from oak_ledge.core.reports.tally import Tally
from oak_ledge.core.sizes.size import Size


def enlarged(size: Size, tally: Tally) -> Note | None:
    """Remark on enlarging to 1.5, look to 2, stop beyond unless the size allows it (rule 5)."""
    scale = tally.scale
    if scale <= 1 + 1e-9:
        return None
    most = max(2.0, float(size.greatest_enlargement))
    level: Level = "fine" if scale <= 1.5 else "look" if scale <= most else "stop"
    feel = {"fine": "slightly softer", "look": "soft", "stop": "soft and blocky"}[level]
    if tally.squared:
        text = (
            f"Squared up, the most slanted part is enlarged ×{rounded(scale, 2)} and will look "
            f"{feel}. It needs a photo taken more from the front, or fewer pixels."
        )
        return Note(level=level, code="enlarged", text=text)
    need = f"Needs {ceil(tally.width - 1e-6)} × {ceil(tally.height - 1e-6)} photo pixels"
    scan = "" if tally.ppi is None else f", or a scan at {rounded(tally.ppi, 0)} ppi"
    crop = f"{rounded(tally.crop[2])} × {rounded(tally.crop[3])}"
    return Note(
        level=level,
        code="enlarged",
        text=(
            f"The photo is enlarged ×{rounded(scale, 2)} and will look {feel}: "
            f"{crop} px become {tally.width} × {tally.height}. {need}{scan}."
        ),
    )


def short_of_ppi(size: Size, tally: Tally) -> Note | None:
    """Compare real resolution with the lowest the receiver takes: look, under half of it stop."""
    if size.receiver is None or tally.real_ppi is None or tally.real_ppi >= size.receiver.low:
        return None
    low = size.receiver.low
    level: Level = "stop" if tally.real_ppi < low / 2 else "look"
    need = ceil(tally.crop[2] * low / tally.real_ppi - 1e-6)
    most = tally.crop[2] / sqrt(tally.kept)
    if need <= most + 1e-6:
        way = f"Loosen the crop to {need} px wide."
    else:
        way = f"Needs a crop {need} px wide; this photo holds {rounded(most, 0)} px of this shape."
    return Note(
        level=level,
        code="short-of-ppi",
        text=(
            f"The crop has {rounded(tally.real_ppi, 0)} real ppi here; the receiver wants "
            f"{low} or more. {way}"
        ),
    )
