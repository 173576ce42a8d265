"""A thing of a photo cut out: found within what was pointed at, its edge a matte, all else clear."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from oak_ledge.core.errors import FillError
from oak_ledge.core.photos.retouches import Retouch
from oak_ledge.core.photos.strokes import Stroke
from oak_ledge.core.pixels.cut_out.matte import followed, matte
from oak_ledge.core.pixels.cut_out.segment import (
    SMALL,
    WAYS,
    Bytes,
    Mask,
    Seeds,
    Way,
    clearness,
    everywhere,
    segment,
    steps_of,
)
from oak_ledge.core.pixels.open.layers import Patch
from oak_ledge.core.pixels.retouch.area import area_of
from oak_ledge.core.pixels.tries.ranking import Look

# Of a box that was pointed at: so much around it the thing may lie too.
_AROUND = 0.06

# Pixels of the square tries are compared on.
_THUMB = 240

# Of the place it may lie in: a thing that fills less of it is less likely the one that was meant.
_FILLS = 0.3

# How much it counts that several ways tell the same thing.
_AGREED = 6

# Of the edge: where colours tell less of it, it wants a look.
UNSURE = 0.25


@dataclass(frozen=True)
class CutOut:
    """A thing cut out: its patch, whose last band is alpha, and what orders it among its tries."""

    patch: Patch
    look: Look


def cut_out(photo: npt.NDArray[Any], retouch: Retouch, *, alpha: bool = False) -> CutOut:
    """Cut a thing out of a photo, by the try a retouch names: the first is the clearest of all.

    Parameters
    ----------
    photo : (H, W, C) upright, 8 or 16 bits; with `alpha` its last band is that
    retouch : its polygons say where the thing lies, its strokes what is it and what is not

    Raises
    ------
    FillError
        If nothing can be told from its ground.
    """
    colours = photo[..., :-1] if alpha else photo
    high, wide = colours.shape[:2]
    small = _small(colours)
    seeds = _seeds(retouch, (wide, high), small)
    steps = steps_of(small)
    ways = WAYS if retouch.attempt == 1 else (_OTHERS[retouch.attempt],)
    with ThreadPoolExecutor() as pool:
        things = list(pool.map(partial(segment, small, seeds), ways))
    likely = [_likely(thing, seeds, steps, way) for thing, way in zip(things, ways, strict=True)]
    agreed = [
        one * _agreement(thing, things) ** _AGREED
        for one, thing in zip(likely, things, strict=True)
    ]
    best = int(np.argmax(agreed))
    thing = things[best]
    if not thing.any():
        msg = "nothing stands out from its ground there. Brush over the thing, or mark it with a keep zone first"
        raise FillError(msg)
    place = _place(thing, (wide, high))
    rows, columns = _on_small(place, thing.shape, (wide, high))
    part = np.ascontiguousarray(colours[place])
    patch, unsure = _with_edge(photo, place, followed(part, thing[rows, columns]), alpha=alpha)
    return CutOut(patch, _look(patch, likely[best], unsure))


def cut_by_mask(photo: npt.NDArray[Any], mask: Mask, *, alpha: bool = False) -> Patch:
    """Cut out what is light in a mask, (H, W), as large as the photo; its edge is made a matte.

    Raises
    ------
    FillError
        If nothing in it is light.
    """
    if not mask.any():
        msg = "the mask is dark all over: what is to be kept must be light in it"
        raise FillError(msg)
    place = _place(mask, (mask.shape[1], mask.shape[0]))
    return _with_edge(photo, place, mask[place], alpha=alpha)[0]


def _with_edge(
    photo: npt.NDArray[Any], place: tuple[slice, slice], thing: Mask, *, alpha: bool
) -> tuple[Patch, float]:
    """Make a patch of a thing, (H, W) of a place of the photo; and how much of its edge is unsure."""
    part = np.ascontiguousarray((photo[..., :-1] if alpha else photo)[place])
    told = matte(part, thing)
    top = photo[place][..., -1] if alpha else np.iinfo(photo.dtype).max
    shares = np.rint(told.shares * top).astype(photo.dtype)
    pixels = np.dstack([told.colours, shares])
    return Patch(place[1].start, place[0].start, pixels, cuts=True), told.unsure


# The other tries: each by one way alone.
_OTHERS = {2: WAYS[0], 3: WAYS[2], 4: WAYS[3]}


def _small(colours: npt.NDArray[Any]) -> Bytes:
    """Return an 8-bit picture of three bands, its longer edge small."""
    high, wide = colours.shape[:2]
    scale = min(1.0, SMALL / max(high, wide))
    size = (max(8, round(wide * scale)), max(8, round(high * scale)))
    seen: npt.NDArray[Any] = cv2.resize(colours, size, interpolation=cv2.INTER_AREA).reshape(
        size[1], size[0], -1
    )
    if seen.dtype == np.uint16:
        seen = (seen >> 8).astype(np.uint8)
    return np.ascontiguousarray(np.repeat(seen, 3, axis=2) if seen.shape[2] == 1 else seen[..., :3])


def _seeds(retouch: Retouch, upright: tuple[int, int], small: Bytes) -> Seeds:
    """Return what is known of a thing on a small picture: where it lies, what is it and what is not."""
    high, wide = small.shape[:2]
    across, along = wide / upright[0], high / upright[1]
    within = np.zeros((high, wide), np.bool_)
    for polygon in retouch.polygons:
        xs, ys = [x * across for x, _ in polygon], [y * along for _, y in polygon]
        room = max(2.0, _AROUND * max(max(xs) - min(xs), max(ys) - min(ys)))
        left, top = max(1, int(min(xs) - room)), max(1, int(min(ys) - room))
        right, bottom = min(wide - 1, int(max(xs) + room)), min(high - 1, int(max(ys) + room))
        within[top:bottom, left:right] = True
    if not within.any():
        within = everywhere((high, wide))
    strokes = [_scaled(stroke, across, along) for stroke in retouch.strokes]
    thing, ground = np.zeros((high, wide), np.bool_), np.zeros((high, wide), np.bool_)
    for stroke in strokes:
        brushed = area_of((stroke.model_copy(update={"away": False}),), (), (0, 0, wide, high))
        mine, other = (ground, thing) if stroke.away else (thing, ground)
        mine |= brushed
        other &= ~brushed
    return Seeds(within | thing, thing, ground)


def _scaled(stroke: Stroke, across: float, along: float) -> Stroke:
    points = tuple((x * across, y * along) for x, y in stroke.points)
    radius = max(0.5, stroke.radius * (across + along) / 2)
    return stroke.model_copy(update={"points": points, "radius": radius})


def _likely(thing: Mask, seeds: Seeds, steps: npt.NDArray[np.float32], way: Way) -> float:
    """Return how likely a thing is the one that was meant: told clearly, and filling its place."""
    if not thing.any():
        return -1.0
    fills = min(1.0, thing.sum() / (_FILLS * max(1, seeds.within.sum())))
    return float(clearness(steps, thing) * fills**0.5 * (1.0 if way.holes else 0.9))


def _agreement(thing: Mask, things: list[Mask]) -> float:
    """Return how much a thing is the same as the other ways tell it: what both hold, of what either does."""
    others = [other for other in things if other is not thing]
    if not others:
        return 1.0
    same = [float((thing & other).sum() / max(1, (thing | other).sum())) for other in others]
    return sum(same) / len(same)


def _place(thing: Mask, upright: tuple[int, int]) -> tuple[slice, slice]:
    """Return the rows and columns of the photo a thing lies on, with room for its edge."""
    wide, high = upright
    ys, xs = np.flatnonzero(thing.any(axis=1)), np.flatnonzero(thing.any(axis=0))
    across, along = wide / thing.shape[1], high / thing.shape[0]
    left, right = max(0, xs[0] - 4), min(thing.shape[1], xs[-1] + 5)
    top, bottom = max(0, ys[0] - 4), min(thing.shape[0], ys[-1] + 5)
    return (
        slice(round(top * along), min(high, round(bottom * along))),
        slice(round(left * across), min(wide, round(right * across))),
    )


def _on_small(
    place: tuple[slice, slice], shape: tuple[int, int], upright: tuple[int, int]
) -> tuple[slice, slice]:
    along, across = shape[0] / upright[1], shape[1] / upright[0]
    rows, columns = place
    return (
        slice(
            round(rows.start * along), max(round(rows.stop * along), round(rows.start * along) + 1)
        ),
        slice(
            round(columns.start * across),
            max(round(columns.stop * across), round(columns.start * across) + 1),
        ),
    )


def _look(patch: Patch, likely: float, unsure: float) -> Look:
    unit = np.float32(255 / np.iinfo(patch.pixels.dtype).max)
    square = cv2.resize(
        patch.pixels.astype(np.float32) * unit, (_THUMB, _THUMB), interpolation=cv2.INTER_AREA
    )
    shares = square[..., -1:] / 255
    shown = square[..., :-1] * shares + 255 * (1 - shares)
    shown = np.repeat(shown, 3, axis=2) if shown.shape[2] == 1 else shown
    return Look(likely, unsure, shown[..., :3], np.ones((_THUMB, _THUMB), np.float32))
