"""Boxes in a picture as shares of its edges, and the region that weighs most."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[Any]


class Shares(NamedTuple):
    """A box: its edges as shares of the picture's, from the left and the top."""

    left: float
    top: float
    right: float
    bottom: float

    @property
    def area(self) -> float:
        """Of the picture."""
        return max(0.0, self.right - self.left) * max(0.0, self.bottom - self.top)

    def within(self, other: Shares) -> Shares:
        """Return what of it lies in another; without area where nothing does."""
        return Shares(
            max(self.left, other.left),
            max(self.top, other.top),
            min(self.right, other.right),
            min(self.bottom, other.bottom),
        )

    def about(self, other: Shares) -> Shares:
        """Return the box about both."""
        return Shares(
            min(self.left, other.left),
            min(self.top, other.top),
            max(self.right, other.right),
            max(self.bottom, other.bottom),
        )

    def grown(self, by: float, wide: int, high: int) -> Shares:
        """Return it grown by a share of the longer edge of a picture, within the picture."""
        across, down = (by * max(wide, high) / edge for edge in (wide, high))
        return Shares(
            max(0.0, self.left - across),
            max(0.0, self.top - down),
            min(1.0, self.right + across),
            min(1.0, self.bottom + down),
        )


@dataclass(frozen=True)
class Region:
    """A part that hangs together: its `area` of the picture, its `share` of all weight, how `full` its box is."""

    mask: npt.NDArray[np.bool_]
    box: Shares
    area: float
    share: float
    full: float

    @property
    def at_edge(self) -> bool:
        """Whether it reaches an edge of the picture."""
        return min(self.box.left, self.box.top) <= 0 or max(self.box.right, self.box.bottom) >= 1


def largest_region(mask: npt.NDArray[np.bool_], weights: Floats) -> Region | None:
    """Return the region of a mask, (H, W), that weighs most; None where nothing is marked."""
    import cv2  # here: it takes its time to load, and most files are made without it

    whole = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((5, 5), np.uint8))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(whole, connectivity=8)
    if count < 2:
        return None
    held = np.bincount(labels.ravel(), weights=weights.ravel(), minlength=count)[1:]
    n = int(held.argmax()) + 1
    x, y, across, down, pixels = (int(figure) for figure in stats[n])
    high, wide = mask.shape
    box = Shares(x / wide, y / high, (x + across) / wide, (y + down) / high)
    share = float(held[n - 1] / max(held.sum(), 1e-9))
    return Region(labels == n, box, pixels / mask.size, share, pixels / (across * down))
