"""Bundles of lines drawn on beyond a photo's edge, from the photo's own pixels along them.

A pixel is copied from whole columns further in, at the row that its line has there, in the tone that
goes on at the rim. Lines are worked out on a picture of the photo; `scale` says how much larger the
photo is that they are drawn from.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np
import numpy.typing as npt

from oak_ledge.core.pixels.bands.bundle import Bundle, Piece
from oak_ledge.core.pixels.bands.pieces import pieces_of
from oak_ledge.core.pixels.bands.strip import Strip, sample, strip_of
from oak_ledge.core.pixels.bands.tones import Tones, tones_of
from oak_ledge.core.pixels.lines.rim_line import Floats
from oak_ledge.core.pixels.lines.side import Array

# Columns: what is followed less far says nothing.
_LEAST_REACH = 24

# Levels: a greater step at a seam is another thing.
_MOST_STEP = 14.0

# Of what lies beyond: so far a step is carried, in a fan and in another band.
_CARRIED = {True: 0.15, False: 0.05}

# Columns over which two pieces are blended.
_BLEND = 6

# Columns over which a band ends where its lines run together.
_ENDS = 24.0

# Levels from a band's tone: what differs by more, beside a thin thing, is another thing.
_ALIEN = 16.0


@dataclass(frozen=True)
class Band:
    """A bundle, in pixels of the picture it was found on, with all that its drawing takes."""

    bundle: Bundle
    first: float
    """the height of its first row"""
    tones: Tones
    steps: tuple[Floats, ...]
    """(n, 3) of each piece: what is left of a step where it begins"""


@dataclass(frozen=True)
class Drawn:
    """Bands drawn: colours (h, w, C), 0…255, and how much of each pixel is theirs, (h, w)."""

    colours: Floats
    share: Floats


def band_of(picture: Array, bundle: Bundle, beyond: int) -> Band | None:
    """Prepare a bundle's drawing, from the picture it was found on; None where too little is known."""
    if bundle.reach < _LEAST_REACH:
        return None
    strip = strip_of(picture, bundle)
    pieces = pieces_of(bundle, strip, beyond)
    if not pieces:
        return None
    tones = tones_of(bundle, strip, beyond)
    whole = replace(bundle, pieces=pieces)
    return Band(whole, float(strip.heights[0]), tones, _steps(whole, strip, tones))


def _steps(bundle: Bundle, strip: Strip, tones: Tones) -> tuple[Floats, ...]:
    """Return what is left of a step where each piece begins, in its tone there."""
    columns = tones.beyond.shape[1]
    shown = strip.pixels[:, :4].mean(1)
    if not bundle.fan:
        shown = np.clip(shown, tones.beyond[:, 0] - 16, tones.beyond[:, 0] + 16)
    steps = []
    for piece in bundle.pieces:
        begins, ends = piece.shift - piece.first - 1, max(0, piece.shift - piece.last)
        at = min(piece.first, columns - 1)
        own = strip.pixels[:, max(0, begins - 3) : begins + 1].mean(1)
        step = shown - (own - tones.inside[:, begins] + tones.beyond[:, at])
        step = cv2.GaussianBlur(step[:, None], (0, 0), sigmaX=0.01, sigmaY=1.5).reshape(step.shape)
        steps.append(np.clip(step, -_MOST_STEP, _MOST_STEP).astype(np.float32))
        last = min(piece.last, columns) - 1
        shown = strip.pixels[:, ends : ends + 4].mean(1) - tones.inside[:, ends]
        shown = shown + tones.beyond[:, last]
    return tuple(steps)


def drawn(
    bands: Sequence[Band], photo: Array, scale: float, above: int, rows: int, columns: int
) -> Drawn:
    """Draw bands beyond the right edge of a photo.

    Parameters
    ----------
    photo : (H, W, C) of 8 or 16 bits, `scale` times as large as what the bands were found on
    above : rows of the canvas above the photo
    rows, columns : of what is drawn, from the first column beyond the photo
    """
    colours = np.zeros((rows, columns, photo.shape[2]), np.float32)
    weights = np.zeros((rows, columns), np.float32)
    share = np.zeros((rows, columns), np.float32)
    for band in bands:
        place = _Place(band, scale, above, rows, columns)
        if not len(place.rows):
            continue
        pixels = _copied(band, photo, scale, place)
        own = place.share * ~_alien(band, pixels, place, (rows, columns))
        weight = place.share * (0.02 + _standing(band, pixels, place, scale))
        at = (place.rows, place.columns)
        colours[at] += pixels * weight[:, None]
        weights[at] += weight
        share[at] = np.maximum(share[at], own)
    colours /= np.maximum(weights, 1e-9)[..., None]
    return Drawn(np.clip(colours, 0, 255), share * share * (3 - 2 * share))


def lay_over(pixels: Array, colours: Floats, share: Floats) -> None:
    """Lay colours of 0…255, (h, w, C), over pixels of 8 or 16 bits by their share, in place."""
    unit = np.float32(257 if pixels.dtype == np.uint16 else 1)
    some = share > 0
    part = share[some][:, None]
    mixed = pixels[some] * (1 - part) + colours[some] * (part * unit)
    pixels[some] = np.clip(np.rint(mixed), 0, np.iinfo(pixels.dtype).max)


class _Place:
    """The pixels of a canvas that a band covers."""

    def __init__(self, band: Band, scale: float, above: int, rows: int, columns: int) -> None:
        bundle = band.bundle
        x = ((np.arange(columns) + 0.5) / scale - 0.5)[None]
        y = ((np.arange(rows) - above + 0.5) / scale - 0.5)[:, None]
        heights = bundle.heights_at(y, x)
        first, last = bundle.heights[0], bundle.heights[-1]
        away = np.maximum(np.maximum(first - heights, heights - last), 0) / bundle.stretch
        inner = 2.5 * bundle.width
        share = np.clip((bundle.margin - away) / max(bundle.margin - inner, 1), 0, 1)
        share = share * np.clip((bundle.end(band.tones.beyond.shape[1]) - x) / _ENDS, 0, 1)
        self.rows, self.columns = np.nonzero(share > 0)
        self.share = share[self.rows, self.columns].astype(np.float32)
        self.away = away[self.rows, self.columns]
        self.heights = heights[self.rows, self.columns]
        self.x = np.broadcast_to(x, share.shape)[self.rows, self.columns]
        self.down = self.heights - band.first
        """rows of the band's strip"""


def _copied(band: Band, photo: Array, scale: float, place: _Place) -> Floats:
    """Copy a band's pixels, (n, C), in the tones that go on."""
    columns = place.columns
    out = np.zeros((len(columns), photo.shape[2]), np.float32)
    bundle, former = band.bundle, None
    for piece, step in zip(bundle.pieces, band.steps, strict=True):
        first, last, shift = (round(n * scale) for n in (piece.first, piece.last, piece.shift))
        if piece is bundle.pieces[-1]:
            last = max(last, int(columns.max()) + 1)
        shift = max(shift, last)
        in_piece = (columns >= first) & (columns < last)
        if not in_piece.any():
            former = Piece(first, last, shift)
            continue
        pixels = _of_piece(band, photo, scale, place, in_piece, shift)
        fades = np.exp(
            -(columns[in_piece] - first)
            / (_CARRIED[bundle.fan] * scale * band.tones.beyond.shape[1])
        )
        carried = sample(step[:, None], np.zeros(int(in_piece.sum())), place.down[in_piece])
        _add(pixels, carried * fades[:, None].astype(np.float32))
        out[in_piece] = pixels
        seam = in_piece & (columns < first + _BLEND) & (columns < (former.shift if former else 0))
        if former is not None and seam.any():
            other = _of_piece(band, photo, scale, place, seam, former.shift)
            share = ((columns[seam] - first + 1) / (_BLEND + 1.0))[:, None]
            out[seam] = other * (1 - share) + out[seam] * share
        former = Piece(first, last, shift)
    return out


def _of_piece(
    band: Band,
    photo: Array,
    scale: float,
    place: _Place,
    which: npt.NDArray[np.bool_],
    shift: int,
) -> Floats:
    """Copy pixels from `shift` columns further left, in the tones that go on where they are put."""
    from_column = place.columns[which] - shift
    x = (from_column + 0.5) / scale - 0.5
    rows = (band.bundle.rows(place.heights[which], x) + 0.5) * scale - 0.5
    pixels = sample(photo, from_column + photo.shape[1], rows, cubic=True)
    if photo.dtype == np.uint16:
        pixels /= np.float32(257)
    tones, down = band.tones, place.down[which]
    _add(pixels, sample(tones.beyond, place.x[which], down) - sample(tones.inside, -1 - x, down))
    return pixels


def _add(pixels: Floats, tones: Floats) -> None:
    """Add tones of three colours to pixels, in place; of a grey photo their mean, never to alpha."""
    if pixels.shape[1] < 3:
        pixels[:, 0] += tones.mean(1)
    else:
        pixels[:, :3] += tones


def _colours(pixels: Floats) -> Floats:
    return pixels[:, :3] if pixels.shape[1] >= 3 else pixels[:, :1]


def _alien(
    band: Band, pixels: Floats, place: _Place, edges: tuple[int, int]
) -> npt.NDArray[np.bool_]:
    """Return which pixels beside a thin thing show another thing: they are left to the fill."""
    none = np.zeros(len(pixels), np.bool_)
    bundle = band.bundle
    if bundle.fan:
        return none
    usual = sample(band.tones.beyond, place.x, place.down)
    unlike = np.abs(_colours(pixels) - _colours(usual)).max(1) > _ALIEN
    unlike &= place.away > 3 * bundle.width + 4
    if not unlike.any():
        return none
    where: Array = np.zeros(edges, np.uint8)
    where[place.rows, place.columns] = unlike
    where = cv2.morphologyEx(where, cv2.MORPH_OPEN, np.ones((2, 2), np.uint8))
    where = cv2.dilate(where, np.ones((7, 7), np.uint8))
    alien: npt.NDArray[np.bool_] = where[place.rows, place.columns] > 0
    alien &= place.away > 3 * bundle.width + 1
    return alien


def _standing(band: Band, pixels: Floats, place: _Place, scale: float) -> Floats:
    """Return how much pixels count where bands cross: their middles, and what stands out in them."""
    bundle = band.bundle
    strength = max(abs(line.contrast) for line in bundle.lines)
    middle = place.away <= 2.0 * bundle.width
    if bundle.fan:
        stands = np.full(len(pixels), 0.3)
    else:
        sides = band.tones.beyond[[0, -1]].mean(0)[None]
        usual = sample(np.ascontiguousarray(sides), place.x, np.zeros(len(pixels)))
        unlike = np.abs(_colours(pixels) - _colours(usual)).max(1)
        stands = np.clip(unlike / max(2 * strength, 8.0), 0, 1)
    weights: Floats = middle * (0.15 + stands) ** 2 * (1 + 0.01 * strength)
    return weights
