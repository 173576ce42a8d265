"""Notes on resolution: enlarged, short of what the receiver wants."""

from __future__ import annotations

from math import ceil, sqrt

from oak_ledge.core.measures.numbers import rounded, scale_words
from oak_ledge.core.notes.note import Note, Severity
from oak_ledge.core.placements.fit import on_pixels
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.reports.enough_resolution import SIGHT
from oak_ledge.core.reports.tally import Tally
from oak_ledge.core.sizes.size import Size

# Fewer are seen as blocks from an arm's length: never offered.
LEAST_PPI = 100

# Times as large: what is enlarged by less looks no softer.
SEEN = 1.01


def enlarged(size: Size, tally: Tally) -> Note | None:
    """Remark on enlarging to 1.5, look to 2, stop beyond unless the size allows it (rule 5)."""
    scale = tally.scale
    if scale < SEEN:
        return None
    most = max(2.0, float(size.greatest_enlargement))
    level: Severity = "fine" if scale <= 1.5 else "look" if scale <= most else "stop"
    feel = {"fine": "slightly softer", "look": "soft", "stop": "soft and blocky"}[level]
    fewer = None if level == "fine" else enough_ppi(size, tally)
    take = None if fewer is None else f"Take {fewer} ppi"
    if tally.squared:
        text = (
            f"Squared up, the most slanted part is enlarged {scale_words(scale)} and will look "
            f"{feel}. It needs a photo taken more from the front, or fewer pixels."
        )
        return Note(level=level, code="enlarged", text=text, way=take)
    need = f"Needs {ceil(tally.width - 1e-6)} × {ceil(tally.height - 1e-6)} photo pixels"
    scan = "" if tally.ppi is None else f", or a scan at {rounded(tally.ppi, 0)} ppi"
    crop = f"{rounded(tally.crop[2])} × {rounded(tally.crop[3])}"
    return Note(
        level=level,
        code="enlarged",
        text=(
            f"The photo is enlarged {scale_words(scale)} and will look {feel}: "
            f"{crop} px become {tally.width} × {tally.height}. {need}{scan}.{_honest(tally, level)}"
        ),
        way=take,
    )


def _honest(tally: Tally, level: Severity) -> str:
    """Return in words how large the photo prints without enlarging, and from where this print looks fine."""
    if level == "fine" or tally.printed is None or not tally.real_ppi:
        return ""
    wide, high = (rounded(edge / tally.scale, 1) for edge in tally.printed)
    away = ceil(SIGHT / tally.real_ppi)
    return f" Largest honest print {wide} × {high} in; this one is fine from {away} inches away."


def resampled_unscaled(lying: Lying, tally: Tally) -> Note | None:
    """Note that a crop is resampled though it is not scaled: its pixels are not whole photo pixels."""
    if abs(tally.scale - 1) > 1e-9 or tally.copied or tally.squared or tally.stretch:
        return None
    if lying.crop.angle % 90:
        why, way = "it is turned", None
    elif lying.crop.angle or on_pixels(lying) == lying:
        return None
    else:
        why, way = "its crop lies between photo pixels", "Put it on whole pixels"
    text = f"Nothing is scaled here, but {why}: every pixel is mixed from its neighbours."
    return Note(level="fine", code="resampled-unscaled", text=text, way=way)


def enough_ppi(size: Size, tally: Tally) -> int | None:
    """Return a lower resolution at which an enlargement is a remark at most, or a look.

    Half as many again as the crop really has, in tens, or the lowest the receiver takes. None where
    that is no less than what is asked, too few for any print, or still enlarges to more than twice.
    """
    if tally.ppi is None or tally.real_ppi is None:
        return None
    low = 0 if size.receiver is None else size.receiver.low
    ppi = max(low, int(tally.real_ppi * 1.5 / 10) * 10)
    return ppi if LEAST_PPI <= ppi < tally.ppi and ppi <= 2 * tally.real_ppi else None


def short_of_ppi(size: Size, tally: Tally) -> Note | None:
    """Compare real resolution with the lowest the receiver takes: look, under half of it stop."""
    if size.receiver is None or tally.real_ppi is None or tally.real_ppi >= size.receiver.low:
        return None
    low = size.receiver.low
    level: Severity = "stop" if tally.real_ppi < low / 2 else "look"
    need = ceil(tally.crop[2] * low / tally.real_ppi - 1e-6)
    most = tally.crop[2] / sqrt(tally.kept)
    loosen = need <= most + 1e-6
    holds = "" if loosen else f"; this photo holds {rounded(most, 0)} px of this shape"
    return Note(
        level=level,
        code="short-of-ppi",
        text=(
            f"The crop has {rounded(tally.real_ppi, 0)} real ppi here; the receiver wants "
            f"{low} or more. Needs a crop {need} px wide{holds}."
        ),
        way=f"Loosen to {low} ppi" if loosen else None,
    )


def loosened(size: Size, tally: Tally) -> float | None:
    """Return how many times as wide the crop must be for what the receiver takes; None where it can't."""
    if size.receiver is None or tally.real_ppi is None:
        return None
    factor = ceil(tally.crop[2] * size.receiver.low / tally.real_ppi - 1e-6) / tally.crop[2]
    return factor if factor <= 1 / sqrt(tally.kept) + 1e-6 else None
