"""Lines that enter a hole on one side and leave it on the other, drawn through it.

Both sides of a hole are looked at as rims. Two lines are one where each points at the other and their
contrast is alike; a curve that meets both joins them, and what lies along it is copied from both
sides and blended on the way.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np

from oak_ledge.core.pixels.bands.band import Band, Drawn, band_of, drawn
from oak_ledge.core.pixels.bands.bundles import bundles
from oak_ledge.core.pixels.bands.side_structure import Working, working_picture
from oak_ledge.core.pixels.bands.uncopied_lines import line_places
from oak_ledge.core.pixels.fill.grid import Mask
from oak_ledge.core.pixels.lines.rim_line import Curve, RimLine
from oak_ledge.core.pixels.lines.rim_lines import rim_lines
from oak_ledge.core.pixels.lines.side import Array, turned

# Rise over run by which a line may turn where it enters the hole.
_TURN = 0.2

# Of the way through: so far a line may miss the other, besides what it turns by.
_MISSED = 0.04

# Contrast of one line as a multiple of the other's.
_ALIKE = (0.4, 2.5)

# Of the strongest line's contrast: fainter ones are matter, which the fill knows better.
_FAINT = 0.3

# Of the way through: so far above and below a hole lines are looked for.
_AROUND = 0.8

# Pixels of photo beside a hole: less shows no line.
_LEAST_BESIDE = 40


@dataclass(frozen=True)
class _Place:
    """Where a hole lies on a turned photo: columns `first` to `last`, in a part of it from `top` to `foot`."""

    first: int
    last: int
    top: int
    foot: int


@dataclass(frozen=True)
class _Rim:
    """One side of a hole, turned so that the hole is at the right."""

    picture: Array
    """(H, W, C), the photo's own"""
    working: Working
    lines: tuple[RimLine, ...]
    """in the photo's pixels"""


@dataclass(frozen=True)
class Joins:
    """What runs through a hole of a photo, drawn on all of it, and where its cables lie, (H, W)."""

    drawn: Drawn
    thin: Mask


def draw_joins(photo: Array, hole: Mask) -> Joins:
    """Draw what runs through a hole of a photo, (H, W, C), from left to right and from top to foot."""
    high, wide = hole.shape
    whole = Drawn(
        np.zeros((high, wide, photo.shape[2]), np.float32), np.zeros((high, wide), np.float32)
    )
    thin = np.zeros((high, wide), np.bool_)
    for side in ("right", "bottom"):
        place = _place_of(turned(hole, side))
        part = np.s_[place.top : place.foot]
        own, beyond = turned(photo, side)[part], place.last - place.first
        if min(place.first, own.shape[1] - place.last) < _LEAST_BESIDE or beyond < 2:
            continue
        near = _rim(own[:, : place.first], place)
        far = _rim(own[:, place.last :][:, ::-1], place)
        here = turned(hole, side)[part, place.first : place.last]
        pairs = _pairs(near.lines, far.lines, here)
        if not pairs:
            continue
        one, along = _drawn(near, [_joined(a, b, beyond) for a, b in pairs], beyond)
        other, away = _drawn(far, [_joined(b, a, beyond) for a, b in pairs], beyond)
        seen = [turned(picture, side)[part] for picture in (whole.colours, whole.share)]
        _lay(Drawn(*seen), place, one, Drawn(other.colours[:, ::-1], other.share[:, ::-1]))
        marked = turned(thin, side)[part]
        marked[:, : place.first] |= along
        marked[:, place.last :] |= away[:, ::-1]
    return Joins(whole, thin)


def _place_of(hole: Mask) -> _Place:
    rows, columns = np.flatnonzero(hole.any(1)), np.flatnonzero(hole.any(0))
    first, last = int(columns[0]), int(columns[-1]) + 1
    above = round(_AROUND * (last - first))
    top, foot = max(0, int(rows[0]) - above), min(len(hole), int(rows[-1]) + 1 + above)
    return _Place(first, last, top, foot)


def _rim(picture: Array, place: _Place) -> _Rim:
    """Find the lines that reach the right edge of a picture, at the hole's height or about it."""
    own = np.ascontiguousarray(picture)
    working = working_picture(own)
    scale = working.scale
    beyond = round((place.last - place.first) / scale)
    lines = [line.scaled(scale) for line in rim_lines(working.picture, beyond)]
    kept = [line for line in lines if not line.flaw]
    return _Rim(own, working, tuple(kept))


def _pairs(
    near: Sequence[RimLine], far: Sequence[RimLine], hole: Mask
) -> list[tuple[RimLine, RimLine]]:
    """Return which lines are one through a hole, (h, w), the best first; each is used once."""
    beyond, likely = hole.shape[1], []
    for line in near:
        for other in far:
            alike = line.contrast / other.contrast if other.contrast else 0.0
            way = (other.at - line.at) / beyond
            turns = (abs(way - line.slope), abs(way + other.slope))
            joins = _ALIKE[0] < alike < _ALIKE[1] and max(turns) < _TURN + _MISSED
            if joins and _crosses(_joined(line, other, beyond), hole):
                likely.append((sum(turns), line, other))
    strongest = max((abs(line.contrast) for _, line, _ in likely), default=0.0)
    likely = [pair for pair in likely if abs(pair[1].contrast) > _FAINT * strongest]
    pairs: list[tuple[RimLine, RimLine]] = []
    for _, line, other in sorted(likely, key=lambda pair: pair[0]):
        if not any(line is a or other is b for a, b in pairs):
            pairs.append((line, other))
    return _uncrossed(pairs)


def _crosses(line: RimLine, hole: Mask) -> bool:
    """Return whether a joined line runs through a hole: also one that cuts its corner."""
    columns = np.arange(hole.shape[1])
    rows = np.rint(line.y(columns)).astype(np.intp)
    within = (rows >= 0) & (rows < len(hole))
    return bool(hole[rows[within], columns[within]].any())


def _uncrossed(pairs: Sequence[tuple[RimLine, RimLine]]) -> list[tuple[RimLine, RimLine]]:
    """Leave out pairs that would cross a better one: lines of one picture that do are rare."""
    kept: list[tuple[RimLine, RimLine]] = []
    for line, other in pairs:
        if all((line.at - a.at) * (other.at - b.at) > 0 for a, b in kept):
            kept.append((line, other))
    return kept


def _joined(line: RimLine, other: RimLine, beyond: int) -> RimLine:
    """Join a line to one that comes from the other side: by the parabola that meets both.

    It turns as much from the one as from the other.
    """
    way = (other.at - line.at) / beyond
    bend = (-other.slope - line.slope) / (2 * beyond)
    return replace(line, joint=Curve(line.at, way - bend * beyond, bend, 0.0))


def _drawn(rim: _Rim, lines: Sequence[RimLine], beyond: int) -> tuple[Drawn, Mask]:
    """Draw joined lines from one rim, and mark where the thin ones lie on its picture."""
    scale, columns = rim.working.scale, round(beyond / rim.working.scale)
    small = {line.scaled(1 / scale).at: line.scaled(1 / scale) for line in lines}
    plain = [replace(line, joint=None) for line in small.values()]
    bands: list[Band] = []
    for bundle in bundles(plain, rim.working.picture, columns):
        joined = tuple(
            replace(line, joint=small[line.at].joint) for line in bundle.lines if line.at in small
        )
        band = (
            band_of(rim.working.picture, replace(bundle, lines=joined), columns) if joined else None
        )
        if band is not None:
            bands.append(band)
    seen = drawn(bands, rim.picture, scale, 0, len(rim.picture), beyond)
    thin = [band.bundle for band in bands if band.bundle.thin]
    places = line_places(rim.working.picture, thin)
    edges = (rim.picture.shape[1], rim.picture.shape[0])
    large = cv2.resize(places.astype(np.uint8), edges, interpolation=cv2.INTER_NEAREST)
    return seen, large > 0


def _lay(whole: Drawn, place: _Place, one: Drawn, other: Drawn) -> None:
    """Lay what is drawn from both rims on a whole picture, in place: each counts most at its own."""
    beyond = one.share.shape[1]
    way = (np.arange(beyond, dtype=np.float32) + 0.5) / beyond
    way = way * way * (3 - 2 * way)
    near, far = one.share * (1 - way), other.share * way
    share = near + far
    weights = np.maximum(share, 1e-6)[..., None]
    colours = (one.colours * near[..., None] + other.colours * far[..., None]) / weights
    shares, pixels = (part[:, place.first : place.last] for part in (whole.share, whole.colours))
    more = share > shares
    pixels[more], shares[more] = colours[more], share[more]
