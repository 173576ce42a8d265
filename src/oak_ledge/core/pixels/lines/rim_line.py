"""A line that reaches a photo's edge: where it runs, and what was measured along it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import numpy.typing as npt
from typing_extensions import override

Floats = npt.NDArray[Any]


@dataclass(frozen=True)
class Curve:
    """A line, straight or gently bent: y = at + slope · x + bend · x².

    x and y count pixels' middles, x from the first column beyond the photo.
    """

    at: float
    slope: float
    bend: float
    ragged: float
    """root of its mean squared distance from the edge it follows, in pixels"""

    def y(self, x: Floats | float) -> Any:
        """Return where it runs, for one x or many."""
        return self.at + self.slope * x + self.bend * x * x

    def on(self, scale: float) -> Curve:
        """Return it on a picture `scale` times as large; middles of pixels stay middles."""
        first = 0.5 / scale - 0.5
        at = self.at + self.slope * first + self.bend * first * first
        slope = self.slope + 2 * self.bend * first
        return Curve(scale * at + 0.5 * scale - 0.5, slope, self.bend / scale, self.ragged * scale)

    @property
    def stretch(self) -> float:
        """How many pixels along it one column is, at the rim."""
        return float(np.hypot(1, self.slope))


@dataclass(frozen=True)
class RimLine(Curve):
    """An edge of light and dark that reaches the rim."""

    length: float
    """pixels along it, inside the photo"""
    contrast: float
    """levels across it, above 0 where it is lighter below"""
    stands_out: float
    """contrast as a multiple of what is usual beside it"""
    evenness: float
    """contrast of its far half as a multiple of that near the rim"""
    width: int = 1
    """pixels of the picture it was found on: a soft edge is found on a coarser one"""
    flaw: str = ""
    """why it is not continued; nothing where it is"""
    joint: Curve | None = None
    """where it runs beyond the rim, where it is joined to a line on the other side"""

    @property
    def columns(self) -> float:
        """Columns of the photo it crosses."""
        return self.length / self.stretch

    @override
    def y(self, x: Floats | float) -> Any:
        """Return where it runs, for one x or many."""
        own = super().y(x)
        return own if self.joint is None else np.where(np.asarray(x) > 0, self.joint.y(x), own)

    def scaled(self, scale: float) -> RimLine:
        """Return it on a picture `scale` times as large; middles of pixels stay middles."""
        own = self.on(scale)
        return replace(
            self,
            at=own.at,
            slope=own.slope,
            bend=own.bend,
            ragged=own.ragged,
            length=self.length * scale,
            width=max(1, round(self.width * scale)),
            joint=None if self.joint is None else self.joint.on(scale),
        )
