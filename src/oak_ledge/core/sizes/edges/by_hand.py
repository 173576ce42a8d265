"""An outline drawn by hand: a closed line made smooth, and its points, to be dragged afterwards."""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from oak_ledge.core.errors import SizeError

Point = tuple[float, float]

# Points a line is kept by; fewer than the least enclose nothing.
LEAST, MOST = 3, 40

# Of the piece's edges: what a hand strays by is left out, more of it where points are too many.
_STRAY = 0.012

# Of the way to its neighbours: how far a bend reaches (uniform Catmull-Rom spline).
_BEND = 1 / 6

_NUMBER = re.compile(r"\d*\.?\d+")
_BY_HAND = re.compile(r"M[\d. ]+(C[\d. ]+)+Z")


def smoothed(points: Sequence[Point], *, thin: bool = True) -> str:
    """Return path data of the smooth closed line through points, in shares of the piece.

    Of a line as a hand drew it few points are kept, unless it is not to be made `thin`.

    Raises
    ------
    SizeError
        If they are fewer than three, or enclose next to nothing.
    """
    line = np.clip(np.array(points, np.float64).reshape(-1, 2), 0, 1)
    kept = _thinned(line) if thin else line
    if len(kept) < LEAST or _area(kept) < 1e-3:
        msg = "the line encloses nothing: draw all around what shall be seen"
        raise SizeError(msg)
    before, after = np.roll(kept, 1, axis=0), np.roll(kept, -1, axis=0)
    bend = (after - before) * _BEND
    leaving, coming = np.clip(kept + bend, 0, 1), np.clip(np.roll(kept - bend, -1, axis=0), 0, 1)
    bends = [
        f"C{_said(one)} {_said(two)} {_said(end)}"
        for one, two, end in zip(leaving, coming, after, strict=True)
    ]
    return f"M{_said(kept[0])}{''.join(bends)}Z"


def points_of(path: str) -> tuple[Point, ...]:
    """Return the points of a path that was drawn by hand; none of any other.

    >>> points_of(smoothed([(0.1, 0.1), (0.9, 0.1), (0.5, 0.9)], thin=False))
    ((0.1, 0.1), (0.9, 0.1), (0.5, 0.9))
    """
    if not _BY_HAND.fullmatch(path):
        return ()
    figures = [float(number) for number in _NUMBER.findall(path)]
    first, rest = (figures[0], figures[1]), figures[2:]
    if len(rest) % 6:
        return ()
    ends = [(rest[n + 4], rest[n + 5]) for n in range(0, len(rest), 6)]
    return (first, *ends[:-1])


def _thinned(line: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """Leave out points that lie nearly on the way between others (Douglas & Peucker, 1973)."""
    stray = _STRAY
    while True:
        far = int(np.argmax(((line - line[0]) ** 2).sum(axis=1)))
        halves = (line[: far + 1], np.concatenate([line[far:], line[:1]]))
        kept = np.concatenate([_between(half, stray)[:-1] for half in halves])
        if len(kept) <= MOST:
            return kept
        stray *= 1.5


def _between(line: npt.NDArray[np.float64], stray: float) -> npt.NDArray[np.float64]:
    if len(line) < 3:
        return line
    way = line[-1] - line[0]
    length = float(np.hypot(*way))
    off = line - line[0]
    away = np.abs(off[:, 0] * way[1] - off[:, 1] * way[0]) / length if length else np.hypot(*off.T)
    farthest = int(np.argmax(away))
    if away[farthest] <= stray:
        return line[[0, -1]]
    halves = (_between(line[: farthest + 1], stray), _between(line[farthest:], stray))
    return np.concatenate([halves[0][:-1], halves[1]])


def _area(line: npt.NDArray[np.float64]) -> float:
    x, y = line.T
    return float(abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2)


def _said(point: npt.NDArray[np.float64]) -> str:
    return " ".join(f"{share:.3f}".rstrip("0").rstrip(".") or "0" for share in point)
