"""Lines that go on together: edges of one thing, or lines that run towards one point."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import inf

import numpy as np

from oak_ledge.core.pixels.lines.rim_line import Floats, RimLine
from oak_ledge.core.pixels.lines.segments import Doubles


@dataclass(frozen=True)
class Piece:
    """Columns `first` to `last` beyond the rim are copied from `shift` columns further left."""

    first: int
    last: int
    shift: int


@dataclass(frozen=True)
class Bundle:
    """Lines in the order of their height, and the band around them that is drawn on along them."""

    lines: tuple[RimLine, ...]
    margin: float
    """pixels across that are drawn beyond the outermost lines"""
    fan: bool
    """whether what lies between the lines goes on in proportion, too"""
    reach: int
    """columns of the photo in which they are followed"""
    pieces: tuple[Piece, ...] = ()

    @property
    def heights(self) -> Doubles:
        """Where the lines meet the rim."""
        return np.array([line.at for line in self.lines])

    @property
    def stretch(self) -> float:
        """Pixels along it for each column."""
        return float(np.hypot(1, np.mean([line.slope for line in self.lines])))

    @property
    def width(self) -> int:
        """Pixels of the coarsest picture that one of its lines was found on."""
        return max(line.width for line in self.lines)

    @property
    def thin(self) -> bool:
        """Whether its lines are the edges of one thin thing, as of a cable."""
        first, last = self.lines[0], self.lines[-1]
        near = len(self.lines) > 1 and last.at - first.at < self.margin
        return not self.fan and near and -2 < first.contrast / (last.contrast or 1e-9) < -0.5

    def end(self, beyond: int) -> float:
        """Return the column, of so many beyond the rim, where its lines run together; inf where nowhere."""
        x = np.arange(beyond + 1, dtype=np.float64)
        rows = np.stack([line.y(x) for line in self.lines])
        together = (np.diff(rows, axis=0) < 1.0).any(0)
        return float(x[together.argmax()]) if together.any() else inf

    def rows(self, heights: Floats, x: Floats) -> Doubles:
        """Return the rows, at columns x, of what is so high at the rim: between lines in proportion."""
        at, x = self.heights, np.asarray(x, np.float64)
        heights, x = np.broadcast_arrays(np.asarray(heights, np.float64), x)
        lines = np.stack([line.y(x) for line in self.lines])
        if len(at) == 1:
            shifted: Doubles = lines[0] + (heights - at[0])
            return shifted
        above = np.clip(np.searchsorted(at, heights) - 1, 0, len(at) - 2)
        share = (heights - at[above]) / np.maximum(at[above + 1] - at[above], 1e-6)
        upper = np.take_along_axis(lines, above[None], 0)[0]
        lower = np.take_along_axis(lines, above[None] + 1, 0)[0]
        between: Doubles = upper + share * (lower - upper)
        outside = np.where(
            heights < at[0], lines[0] + (heights - at[0]), lines[-1] + (heights - at[-1])
        )
        return np.where((heights < at[0]) | (heights > at[-1]), outside, between)

    def heights_at(self, y: Floats, x: Floats) -> Doubles:
        """Return how high at the rim what lies at rows y, columns x is: the inverse of `rows`."""
        at, x = self.heights, np.asarray(x, np.float64)
        lines = [line.y(x) for line in self.lines]
        heights: Doubles = np.where(y < lines[0], at[0] + (y - lines[0]), at[-1] + (y - lines[-1]))
        for n in range(len(at) - 1):
            upper, lower = lines[n], lines[n + 1]
            share = (y - upper) / np.maximum(lower - upper, 1e-6)
            between = at[n] + share * (at[n + 1] - at[n])
            heights = np.where((y >= upper) & (y <= lower), between, heights)
        return heights

    def scaled(self, scale: float) -> Bundle:
        """Return it on a picture `scale` times as large."""
        pieces = []
        for piece in self.pieces:
            first, last, shift = (round(n * scale) for n in (piece.first, piece.last, piece.shift))
            pieces.append(Piece(first, last, max(shift, last)))
        return replace(
            self,
            lines=tuple(line.scaled(scale) for line in self.lines),
            margin=self.margin * scale,
            reach=int(self.reach * scale),
            pieces=tuple(pieces),
        )
