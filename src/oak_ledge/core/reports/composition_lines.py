"""Composition lines in the crop's own frame, as paths in the unit square (rules, section 9)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import sqrt
from typing import Literal

from oak_ledge.core.planes.points import Point

PHI = (1 + sqrt(5)) / 2


# Cells of the n × n grid on each edge.
GRID = 6


# The share of the shorter edge that margins keep free.
MARGIN = 0.1


# Of the height, from the top: no crown of a portrait or a group lies higher, where its eyes lie on the third.
CROWNS = 1 / 12


# Quarter turns; the next would be smaller than anything seen.
SPIRAL_TURNS = 9


@dataclass(frozen=True)
class Path:
    """One line: its points as shares of the crop; `curved` runs through Bézier handles (C)."""

    points: tuple[Point, ...]
    curved: bool = False

    def svg(self) -> str:
        """Return it as SVG path data in the unit square."""
        first, *rest = (f"{x:.5f} {y:.5f}" for x, y in self.points)
        return f"M{first}{'C' if self.curved else 'L'}{' '.join(rest)}"


def _line(*points: Point) -> Path:
    return Path(points)


def thirds(_ratio: float) -> list[Path]:
    """Draw lines at a third and two thirds, across and along."""
    return _crossing((1 / 3, 2 / 3))


def grid(_ratio: float) -> list[Path]:
    """Draw an even grid."""
    return _crossing(tuple(n / GRID for n in range(1, GRID)))


def golden(_ratio: float) -> list[Path]:
    """Draw the golden section, from either side of both edges: 1/φ and 1 − 1/φ."""
    return _crossing((1 - 1 / PHI, 1 / PHI))


def centre(_ratio: float) -> list[Path]:
    """Draw a cross through the middle."""
    return _crossing((0.5,))


def headroom(_ratio: float) -> list[Path]:
    """Draw the upper third, on which eyes lie, and above it where crowns leave a group its headroom."""
    return [_line((0, 1 / 3), (1, 1 / 3)), _line((0, CROWNS), (1, CROWNS))]


def diagonals(ratio: float) -> list[Path]:
    """Draw one diagonal, and the lines from the other corners that meet it at right angles.

    The foot of the perpendicular from a corner divides the diagonal as the squares of the edges.
    """
    share = ratio * ratio / (1 + ratio * ratio)
    return [
        _line((0, 1), (1, 0)),
        _line((0, 0), (1 - share, share)),
        _line((1, 1), (share, 1 - share)),
    ]


def both_diagonals(_ratio: float) -> list[Path]:
    """Draw both diagonals."""
    return [_line((0, 1), (1, 0)), _line((0, 0), (1, 1))]


def spiral(_ratio: float) -> list[Path]:
    """Draw the golden spiral: quarter turns in squares cut off one φ rectangle after the other.

    The φ rectangle is scaled to the crop; a quarter circle is a cubic with handles of 0.5523
    (Goldapp, *Approximation of circular arcs by cubic polynomials*, CAGD 8, 1991).
    """
    left, top, wide, high = 0.0, 0.0, PHI, 1.0
    k = 4 / 3 * (sqrt(2) - 1)
    points: list[Point] = []
    for turn in range(SPIRAL_TURNS):
        side = min(wide, high)
        if turn % 4 == 0:  # the square at the left; the arc from its foot to its top right
            start, end, corner = (left, top + side), (left + side, top), (left, top)
            left, wide = left + side, wide - side
        elif turn % 4 == 1:  # at the top
            start, end, corner = (left, top), (left + side, top + side), (left + side, top)
            top, high = top + side, high - side
        elif turn % 4 == 2:  # at the right
            start = (left + wide, top)
            end, corner = (left + wide - side, top + side), (left + wide, top + side)
            wide -= side
        else:  # at the foot
            start = (left + side, top + high)
            end, corner = (left, top + high - side), (left, top + high)
            high -= side
        near, two = _toward(start, corner, k), _toward(end, corner, k)
        points += [near, two, end] if points else [start, near, two, end]
    return [Path(tuple((x / PHI, y) for x, y in points), curved=True)]


def margins(ratio: float) -> list[Path]:
    """Draw a frame within the crop, the same width on every side."""
    x, y = (MARGIN / ratio, MARGIN) if ratio > 1 else (MARGIN, MARGIN * ratio)
    return [_line((x, y), (1 - x, y), (1 - x, 1 - y), (x, 1 - y), (x, y))]


@dataclass(frozen=True)
class Lines:
    """A kind of composition lines, and how many turns and mirrors of it differ."""

    name: str
    draw: Callable[[float], list[Path]]
    ways: int = 1


LineKind = Literal[
    "thirds", "headroom", "golden", "diagonals", "both", "spiral", "centre", "grid", "margins"
]


KINDS: dict[LineKind, Lines] = {
    "thirds": Lines("thirds", thirds),
    "headroom": Lines("headroom, eyes on a third", headroom),
    "golden": Lines("golden section", golden),
    "diagonals": Lines("diagonal and perpendiculars", diagonals, 2),
    "both": Lines("both diagonals", both_diagonals),
    "spiral": Lines("golden spiral", spiral, 8),
    "centre": Lines("centre", centre),
    "grid": Lines("grid", grid),
    "margins": Lines("margins", margins),
}


def lines(kind: LineKind, ratio: float, way: int = 0) -> list[str]:
    """Return the lines of a kind as SVG paths in the unit square.

    Parameters
    ----------
    kind : one of `KINDS`
    ratio : the crop's width ÷ height
    way : 0 to 7, taken modulo those that differ: the four quarter turns, then those mirrored
    """
    kind_lines = KINDS[kind]
    way %= kind_lines.ways
    quarter, mirror = (way % 4, way >= 4) if kind_lines.ways == 8 else (0, bool(way))
    drawn = kind_lines.draw(1 / ratio if quarter % 2 else ratio)
    return [
        Path(
            tuple(_placed(point, quarter, mirror=mirror) for point in path.points), path.curved
        ).svg()
        for path in drawn
    ]


def _placed(point: Point, quarter: int, *, mirror: bool) -> Point:
    x, y = point
    for _ in range(quarter):
        x, y = 1 - y, x
    return (1 - x, y) if mirror else (x, y)


def _toward(point: Point, corner: Point, share: float) -> Point:
    return (
        point[0] + share * (corner[0] - point[0]),
        point[1] + share * (corner[1] - point[1]),
    )


def _crossing(shares: tuple[float, ...]) -> list[Path]:
    return [
        *(_line((share, 0), (share, 1)) for share in shares),
        *(_line((0, share), (1, share)) for share in shares),
    ]
