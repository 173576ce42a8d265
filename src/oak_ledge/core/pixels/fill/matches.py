"""Where a fill came from: for each block of the hole, the block of the photo that it repeats.

A search by PatchMatch (show.py names it) over descriptors of patches: their greatest principal
components, and their means. Places are counted in an atlas, the grid with its mirror at its right.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from oak_ledge.core.pixels.fill.grid import Floats, Mask

RADIUS, COMPONENTS = 3, 12

_SAMPLES = 3000

# Squared distance below which no better match is looked for.
_VERBATIM = 8.0

# Whole numbers.
Places = npt.NDArray[Any]


@dataclass(frozen=True)
class Atlas:
    """The grid and its mirror, to copy from: `wide` is the grid's own width, columns are twice that."""

    colours: Floats
    """(h × 2w, 3)"""
    usable: Mask
    """(h × 2w)"""
    descriptors: Floats
    """(h × 2w, n)"""
    high: int
    wide: int

    @property
    def columns(self) -> int:
        """Columns of the atlas."""
        return 2 * self.wide

    def within(self, ys: Places, xs: Places) -> Mask:
        """Return which places may be copied from."""
        inside = (ys >= 0) & (xs >= 0) & (ys < self.high) & (xs < self.columns)
        inside[inside] = self.usable[ys[inside] * self.columns + xs[inside]]
        return inside

    def at(self, ys: Places, xs: Places) -> Places:
        """Return the numbers of places; those outside count as the nearest inside."""
        places: Places = ys.clip(0, self.high - 1) * self.columns + xs.clip(0, self.columns - 1)
        return places


class Matches:
    """The match of every block of a hole, `ys`, `xs`: rows and columns of the atlas, and its cost."""

    def __init__(
        self,
        shown: Floats,
        hole: Mask,
        usable: Mask,
        rng: np.random.Generator,
        *,
        unmirrored: Mask | None = None,
    ) -> None:
        """Begin with matches anywhere; `shown` is the grid with its fill, (h, w, 3).

        What is `usable` may be copied, and its mirror too, unless it is `unmirrored`.
        """
        high, wide = hole.shape
        basis = _components(shown, hole, rng)
        mirrored = np.ascontiguousarray(shown[:, ::-1])
        mirrored_usable = usable if unmirrored is None else usable & ~unmirrored
        own = _described(shown, basis)
        both = np.hstack([own, _described(mirrored, basis)])
        self.atlas = Atlas(
            np.hstack([shown, mirrored]).reshape(-1, 3),
            np.hstack([usable, mirrored_usable[:, ::-1]]).ravel(),
            both.reshape(high * 2 * wide, -1),
            high,
            wide,
        )
        self.hole = hole
        self.ys, self.xs = (places.astype(np.int32) for places in np.nonzero(hole))
        self._wanted = own[hole]
        self._number = np.full(hole.shape, -1, np.int32)
        self._number[hole] = np.arange(len(self.ys), dtype=np.int32)
        free = np.flatnonzero(self.atlas.usable)
        first = free[rng.integers(0, len(free), len(self.ys))]
        self.from_y = (first // self.atlas.columns).astype(np.int32)
        self.from_x = (first % self.atlas.columns).astype(np.int32)
        self.costs = self.distance(np.arange(len(self.ys)), first)

    def distance(self, which: npt.NDArray[np.intp], places: Places) -> Floats:
        """Return how much what is shown differs from what is there, as a squared distance."""
        differ = self._wanted[which] - self.atlas.descriptors[places]
        squares: Floats = np.einsum("ij,ij->i", differ, differ)
        return squares

    def offer(self, which: npt.NDArray[np.intp], ys: Places, xs: Places) -> None:
        """Take what is offered where it is better."""
        may = self.atlas.within(ys, xs)
        which, ys, xs = which[may], ys[may], xs[may]
        costs = self.distance(which, ys * self.atlas.columns + xs)
        better = costs < self.costs[which]
        which = which[better]
        self.costs[which] = costs[better]
        self.from_y[which], self.from_x[which] = ys[better], xs[better]

    def begin_from(self, coarse: tuple[Places, Places]) -> None:
        """Offer the matches found on a grid of half the size."""
        from_y, from_x = coarse
        high, wide = from_y.shape
        y, x = np.minimum(self.ys // 2, high - 1), np.minimum(self.xs // 2, wide - 1)
        above, left = from_y[y, x], from_x[y, x]
        down, right = self.ys - 2 * y, self.xs - 2 * x
        flipped = self.atlas.columns - 1 - (2 * (2 * wide - 1 - left) + 1 - right)
        column = np.where(left >= wide, flipped, 2 * left + right)
        there = np.flatnonzero(above >= 0)
        row = (2 * above + down).astype(np.int32)
        self.offer(there, row[there], column[there].astype(np.int32))

    def search(
        self, rng: np.random.Generator, rounds: int, steps: tuple[int, ...] = (8, 4, 2, 1)
    ) -> None:
        """Offer each block what its neighbours have, and places at random, ever nearer."""
        for _ in range(rounds):
            for step in steps:
                for down, right in ((0, step), (0, -step), (step, 0), (-step, 0)):
                    self._pass_on(down, right)
            reach = float(self.atlas.columns)
            poor = np.flatnonzero(self.costs > _VERBATIM)
            while reach > 1.5 and len(poor):
                by = (rng.random((2, len(poor)), np.float32) * 2 - 1) * reach
                ys = (self.from_y[poor] + by[0] + 0.5).astype(np.int32)
                self.offer(poor, ys, (self.from_x[poor] + by[1] + 0.5).astype(np.int32))
                reach /= 3

    def _pass_on(self, down: int, right: int) -> None:
        high, wide = self.hole.shape
        y, x = self.ys - down, self.xs - right
        inside = (y >= 0) & (x >= 0) & (y < high) & (x < wide)
        beside = np.where(inside, self._number[y.clip(0, high - 1), x.clip(0, wide - 1)], -1)
        which = np.flatnonzero(beside >= 0)
        beside = beside[which]
        ys, xs = self.from_y[beside] + down, self.from_x[beside] + right
        other = (ys != self.from_y[which]) | (xs != self.from_x[which])
        self.offer(which[other], ys[other], xs[other])

    def maps(self) -> tuple[Places, Places]:
        """Return rows and columns of the atlas as (h, w), -1 outside the hole."""
        from_y, from_x = np.full((2, *self.hole.shape), -1, np.int32)
        from_y[self.hole], from_x[self.hole] = self.from_y, self.from_x
        return from_y, from_x


def _components(shown: Floats, hole: Mask, rng: np.random.Generator) -> Floats:
    """Return the greatest principal components of the photo's patches, as filters."""
    high, wide = hole.shape
    span = range(-RADIUS, RADIUS + 1)
    ys, xs = np.nonzero(~hole)
    some = rng.integers(0, len(ys), _SAMPLES)
    ys = ys[some].clip(RADIUS, high - RADIUS - 1)
    xs = xs[some].clip(RADIUS, wide - RADIUS - 1)
    patches = np.stack([shown[ys + a, xs + b] for a in span for b in span], 1)
    flat = (patches - patches.mean(1, keepdims=True)).reshape(len(ys), -1)
    edge = 2 * RADIUS + 1
    basis = np.linalg.eigh(flat.T @ flat)[1][:, ::-1][:, :COMPONENTS].T
    components: Floats = basis.reshape(-1, edge, edge, 3).astype(np.float32)
    return components


def _described(colours: Floats, basis: Floats) -> Floats:
    """Describe every patch: its components, its means; squared distances as of a mean pixel."""
    edge = 2 * RADIUS + 1
    out = np.empty((*colours.shape[:2], len(basis) + 3), np.float32)
    bands = [np.ascontiguousarray(colours[..., band]) for band in range(3)]
    for number, axis in enumerate(basis):
        parts = [
            cv2.filter2D(
                band, cv2.CV_32F, np.ascontiguousarray(axis[..., k]), borderType=cv2.BORDER_REFLECT
            )
            for k, band in enumerate(bands)
        ]
        out[..., number] = sum(parts) / np.float32(edge)
    out[..., len(basis) :] = cv2.blur(colours, (edge, edge), borderType=cv2.BORDER_REFLECT)
    return out
