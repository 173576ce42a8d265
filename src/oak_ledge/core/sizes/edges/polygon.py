"""A closed polygon, and how near it lies to the curve it stands for."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeAlias

if TYPE_CHECKING:
    import numpy as np
    import numpy.typing as npt

# (n, 2) of x, y, closed without saying its first point again.
Polygon: TypeAlias = "npt.NDArray[np.float64]"

# Pixels: so near a curve the pieces that stand for it lie.
STRAY = 0.004
