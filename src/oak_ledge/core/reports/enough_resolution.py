"""Enough resolution? What a photo's own detail and an eye's sight ask for (rules, section 5)."""

from __future__ import annotations

from collections.abc import Sequence
from math import ceil
from typing import TYPE_CHECKING, TypeAlias

import numpy as np
from pydantic import BaseModel, ConfigDict

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.reports.tally import Tally
from oak_ledge.core.sizes.file.ppi_range import PpiRange
from oak_ledge.core.sizes.size import Size

if TYPE_CHECKING:
    import numpy.typing as npt

# Ppi · inches at which a pixel is one arcminute: 1 ÷ tan(1/60°).
SIGHT = 3438.0


# Inches: no print is looked at closer for long.
NEAREST = 12.0


ANY_RECEIVER = PpiRange(low=150, high=360)


# Of the whole range, RMS over the crop: a loss under it is not seen.
VISIBLE = 0.006


# The same in the busiest tiles.
VISIBLE_BUSY = 0.015


# Candidates between a receiver's lowest and highest.
STEPS = 8


Light: TypeAlias = "npt.NDArray[np.float64]"


class CurvePoint(BaseModel):
    """How much of the crop's detail a resolution carries, 0 to 1."""

    model_config = ConfigDict(frozen=True)

    ppi: int
    kept: float


class Advice(BaseModel):
    """How much resolution is enough for one crop on one print, and why."""

    model_config = ConfigDict(frozen=True)

    ppi: int | None
    """what is advised; None without a printed size"""
    real: float | None
    """photo pixels per printed inch, as it lies"""
    sight: int | None
    """what an eye could tell apart from where such a print is looked at"""
    curve: tuple[CurvePoint, ...]
    text: str


def viewing_distance(printed: tuple[float, float]) -> float:
    """Return the usual distance in inches: 1.5 times the print's diagonal, 12 in at least."""
    return max(NEAREST, 1.5 * float(np.hypot(*printed)))


def lost(tiles: Sequence[Light], cutoff: float, noise: float = 0.0) -> npt.NDArray[np.float64]:
    """Return the detail each tile loses when nothing finer than a cutoff is carried.

    Parameters
    ----------
    tiles : lightness, 0 to 1, at the photo's own pixels
    cutoff : cycles per photo pixel that still pass, on either axis; 0.5 passes all
    noise : standard deviation of the photo's noise, 0 to 1, which is no detail to lose

    Returns
    -------
    RMS per tile, by Parseval's theorem on the windowed tile's spectrum.
    """
    losses = []
    for tile in tiles:
        window = np.outer(np.hanning(tile.shape[0]), np.hanning(tile.shape[1]))
        power = np.abs(np.fft.fft2((tile - tile.mean()) * window)) ** 2 / tile.size
        power /= (window**2).sum()
        fy, fx = (np.abs(np.fft.fftfreq(edge)) for edge in tile.shape)
        beyond = (fy[:, None] > cutoff) | (fx[None, :] > cutoff)
        energy = power[beyond].sum() - noise**2 * beyond.mean()
        losses.append(max(0.0, float(energy)) ** 0.5)
    return np.array(losses)


def advise(
    size: Size, tally: Tally, extent: Pixels, tiles: Sequence[Light], noise: float
) -> Advice:
    """Advise the lowest resolution of the receiver's range that loses nothing to be seen.

    Parameters
    ----------
    size, tally : of the placement
    extent : the photo's (width, height), turned
    tiles : parts of the crop's lightness, 0 to 1, at the photo's own pixels
    noise : standard deviation of the photo's noise, 0 to 1
    """
    if tally.real_ppi is None or tally.printed is None:
        text = (
            "Without a resolution there is no print to judge. Relabel, or ask for a printed size."
        )
        return Advice(ppi=None, real=None, sight=None, curve=(), text=text)
    real, receiver = tally.real_ppi, size.receiver or ANY_RECEIVER
    distance = viewing_distance(tally.printed)
    sight = ceil(SIGHT / distance)
    whole = max(1e-9, float(np.sqrt(np.mean(lost(tiles, 0.0, noise) ** 2))))
    curve, chosen, why = [], None, ""
    for ppi in np.unique(np.linspace(receiver.low, receiver.high, STEPS).round().astype(int)):
        each = lost(tiles, min(0.5, 0.5 * float(ppi) / real), noise)
        over = float(np.sqrt(np.mean(each**2)))
        busy = float(np.sort(each)[-max(1, len(each) // 6) :].mean())
        curve.append(CurvePoint(ppi=int(ppi), kept=max(0.0, 1 - over / whole)))
        if chosen is None and over <= VISIBLE and busy <= VISIBLE_BUSY:
            chosen = int(ppi)
        elif chosen is None:
            why = "fine detail all over" if over > VISIBLE else "fine lines in a few places"
    advised = receiver.high if chosen is None else chosen
    text = _words(advised, why, real, sight, distance, receiver)
    if real < receiver.low:
        text += f" {_what_would_do(tally, receiver.low, extent)}"
    elif max(receiver.low, sight) < advised:
        advised = max(receiver.low, sight)
        text += f" Seen from there {advised} ppi is enough."
    return Advice(ppi=advised, real=real, sight=sight, curve=tuple(curve), text=text)


def _words(ppi: int, why: str, real: float, sight: int, distance: float, receiver: PpiRange) -> str:
    words = f"{why}: {ppi} ppi." if why else f"nothing to be seen is lost at {ppi} ppi."
    if real < receiver.low:
        words = f"the photo shows {rounded(real, 0)} ppi here, and no more pixels show more of it."
    reach = f"The receiver takes {receiver.low} to {receiver.high}."
    eye = f"At {rounded(distance, 0)} inches away the eye sees about {sight} ppi."
    return f"{words[0].upper()}{words[1:]} {reach} {eye} This crop has {rounded(real, 0)}."


def _what_would_do(tally: Tally, low: int, extent: Pixels) -> str:
    """Return what a photo, or a scan, would have to bring for the receiver's lowest resolution."""
    width, height = tally.printed or (0.0, 0.0)
    pixels = f"{ceil(width * low)} × {ceil(height * low)} photo pixels"
    share = tally.crop[2] / extent[0]
    original = (
        f"a scan of an original of {rounded(width, 1)} × {rounded(height, 1)} in at {low} ppi"
    )
    more = rounded(width * low / tally.crop[2], 2)
    return (
        f"The crop needs {pixels}, {more} times as many on each edge as it has now "
        f"({rounded(share * 100, 0)} % of the photo's width), or {original}."
    )
