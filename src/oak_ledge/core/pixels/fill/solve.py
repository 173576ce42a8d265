"""A hole filled on the small grid, several ways: what is shown, where it came from, what it looks like."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from oak_ledge.core.errors import FillError
from oak_ledge.core.pixels.fill.directions import slanted
from oak_ledge.core.pixels.fill.falloff import falloff
from oak_ledge.core.pixels.fill.grid import Floats, Grid, Mask, blurred
from oak_ledge.core.pixels.fill.guide import rays, rows
from oak_ledge.core.pixels.fill.matches import Matches, Places
from oak_ledge.core.pixels.fill.pieces import carry_outward, carry_under, pieces
from oak_ledge.core.pixels.fill.seam import carried_step
from oak_ledge.core.pixels.fill.show import Forbidden, Showing, eight_bit, show
from oak_ledge.core.pixels.fill.uncopied import smooth_rim

# Of the longer edge: so far a step at the rim is carried into the fill.
REACH = 0.12

# Blocks: what is coarser than this is as shown, what is finer as copied.
TRUE_TONE = 2.0

# Of the grid must be left to copy from.
LEAST_USABLE = 0.02

# Of the photo must be left to be mirrored, or its mirror isn't copied at all.
LEAST_MIRRORED = 0.1


@dataclass(frozen=True)
class Variant:
    """One way to fill a hole."""

    name: str
    radius: int
    guide: Literal["none", "rows", "rays"]
    mirror: bool
    megapixels: float
    """of the grid"""
    seed: int
    """added to the one asked for, so that ways that are alike don't make the same"""
    around: float | None = None
    """how much of the photo is looked at: so many times the hole's longer edge around it; None: all"""


@dataclass(frozen=True)
class Laid:
    """What is drawn in a hole before it is filled: `colours` (h, w, 3), 0…255, where `mask` is set."""

    colours: Floats
    mask: Mask


@dataclass(frozen=True)
class Terms:
    """On what terms a hole is filled."""

    uncopied: Mask
    """(h, w) what is better not copied"""
    never: Mask
    """(h, w) what must not be"""
    even_light: bool = False
    """divide the lens's fall-off out where the rim is smooth"""
    own_tone: bool = False
    """what is copied keeps its tone: a person said where it is to come from"""
    laid: Laid | None = None
    guide: Floats | None = None
    """(h, w) that a way led by a guide takes instead of its own"""


@dataclass(frozen=True)
class Solved:
    """A hole filled on the grid.

    `from_y`, `from_x` : (h, w) place in the grid, or from column w on in its mirror; -1 outside the
    hole. `colours` : (h, w, 3), the grid with its fill, in values ÷ `light` × `gain`; `light` : (h, w)
    share of the light that the photo has there, or None; `strays` is how far what is copied lies from
    where its guide leads, or its row, as a share of the height.
    """

    from_y: Places
    from_x: Places
    colours: Floats
    light: Floats | None
    gain: float
    strays: float

    @property
    def picture(self) -> Floats:
        """The grid filled, (h, w, 3), 0…255."""
        lit = self.colours if self.light is None else self.colours * self.light[..., None]
        colours: Floats = np.clip(lit / np.float32(self.gain), 0, 255)
        return colours


def solve(grid: Grid, variant: Variant, seed: int, terms: Terms) -> Solved:
    """Fill the hole of a grid.

    Raises
    ------
    FillError
        If nothing is left to copy from.
    """
    known = grid.known
    usable = known & ~terms.never
    if usable.sum() < max(64, LEAST_USABLE * grid.hole.size):
        msg = "there is nothing left of the photo to fill it from. Leave more of it free"
        raise FillError(msg)
    laid = np.zeros_like(known) if terms.laid is None else terms.laid.mask & grid.hole
    hole = grid.hole & ~laid
    light = falloff(grid) if terms.even_light and smooth_rim(grid) else None
    photo = grid.colours
    if terms.laid is not None:
        photo = np.where(laid[..., None], terms.laid.colours, photo)
    photo = photo if light is None else photo / light[..., None]
    gain = float(min(1.0, 255 / max(1.0, np.percentile(photo[known], 99.9))))
    photo = (photo * np.float32(gain) * ~hole[..., None]).astype(np.float32)
    lead = _lead(grid, variant, seed, terms.guide)
    upright = slanted(grid.colours, known)  # what must not be mirrored
    if (known & ~upright).sum() < LEAST_MIRRORED * known.sum():
        upright[:] = True
    rng = np.random.default_rng(seed + variant.seed)
    drawn = show(
        eight_bit(photo),
        hole,
        Forbidden(terms.uncopied, laid | (known & ~usable), upright),
        Showing(variant.radius, lead, variant.mirror and not upright.all(), seed + variant.seed),
    )
    shown = np.where(hole[..., None], drawn.astype(np.float32), photo)
    matches = _matched(shown, hole, usable, upright, rng)
    from_y, from_x = pieces(matches)
    carry_outward(from_y, from_x, hole, matches.atlas)
    filled = photo.copy()
    filled[hole] = matches.atlas.colours[from_y[hole] * matches.atlas.columns + from_x[hole]]
    if not terms.own_tone:
        filled += _true_tone(shown, filled, hole)
    reach = REACH * max(hole.shape)
    filled += carried_step(matches.atlas, photo, hole, from_y, from_x, reach)
    strays = _strays(lead if lead is not None else rows(grid), hole, from_y, from_x)
    carry_under(from_y, from_x, hole, laid, matches.atlas)
    return Solved(from_y, from_x, filled, light, gain, strays)


def _lead(grid: Grid, variant: Variant, seed: int, guide: Floats | None) -> Floats | None:
    """Return what leads a way: its own guide, unless one is given."""
    if variant.guide == "none":
        return None
    if guide is not None:
        return guide
    return rows(grid) if variant.guide == "rows" else rays(grid, seed)


def _strays(lead: Floats, hole: Mask, from_y: Places, from_x: Places) -> float:
    high, wide = hole.shape
    x = np.where(from_x[hole] >= wide, 2 * wide - 1 - from_x[hole], from_x[hole])
    return float(np.abs(lead[from_y[hole], x] - lead[hole]).mean() / high)


def _matched(
    shown: Floats, hole: Mask, usable: Mask, upright: Mask, rng: np.random.Generator
) -> Matches:
    """Find where what is shown came from, at half the size first."""
    half = (hole.shape[1] // 2, hole.shape[0] // 2)

    def small(values: Floats) -> Floats:
        halved: Floats = cv2.resize(values, half, interpolation=cv2.INTER_AREA)
        return halved

    less = small(hole.astype(np.float32)) > 0.5
    free = small(usable.astype(np.float32)) > 0.99
    whole = Matches(shown, hole, usable, rng, unmirrored=upright)
    if less.any() and free.any() and min(half) > 16:
        mirrored = small(upright.astype(np.float32)) > 0.3
        coarse = Matches(small(shown), less, free, rng, unmirrored=mirrored)
        coarse.search(rng, 4)
        whole.begin_from(coarse.maps())
    whole.search(rng, 2, (4, 1))
    return whole


def _true_tone(shown: Floats, filled: Floats, hole: Mask) -> Floats:
    """Return what brings a fill's tones to those shown, without touching its detail."""
    differ = np.where(hole[..., None], shown - filled, np.float32(0))
    tone: Floats = blurred(differ, TRUE_TONE, hole.astype(np.float32)) * hole[..., None]
    return tone
