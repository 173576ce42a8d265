"""Many pieces laid where there is room, the first free place for each; what lies there stays.

A row in which a piece of some size found no place has none for the next of that size either, as a
sheet only fills up: so each row is looked through once. Lengths are counted in whole steps of their
common denominator, which is exact and far quicker than fractions.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from math import lcm

from oak_ledge.core.sheets.canvas import Rect

# Left, top, right and bottom in whole steps.
Steps = tuple[int, int, int, int]

Edges = tuple[Fraction, Fraction]


@dataclass
class _Page:
    taken: list[Steps] = field(default_factory=list)
    full: dict[tuple[int, int], set[int]] = field(default_factory=dict)
    """of each size, the rows in which it has no place"""


class FreePlaces:
    """The pages of a sheet, on which one place after another is taken.

    Parameters
    ----------
    pages : what is taken on each page
    room : what may be laid on, on every page
    gap : left free between two pieces
    edges : of all pieces that will be asked for, with those they have turned
    """

    def __init__(
        self, pages: Sequence[Sequence[Rect]], room: Rect, gap: Fraction, edges: Iterable[Edges]
    ) -> None:
        lengths = [gap, *room, *(length for pair in edges for length in pair)]
        lengths += [length for page in pages for rect in page for length in rect]
        self._step = Fraction(1, lcm(*(length.denominator for length in lengths)))
        self._gap = self._count(gap)
        self._room = self._steps_of(room)
        self._pages = [_Page([self._steps_of(rect) for rect in page]) for page in pages]

    def take(self, edges: Sequence[Edges]) -> tuple[int, Fraction, Fraction, int] | None:
        """Take the first free place for a piece that may lie one of several ways.

        Returns its page, its top left corner and which of the ways; None where it is larger than the
        room. Where no page has room a new one is begun.
        """
        ways = [(self._count(width), self._count(height)) for width, height in edges]
        left, top, right, bottom = self._room
        if not any(width <= right - left and height <= bottom - top for width, height in ways):
            return None
        for number in range(len(self._pages) + 1):
            if number == len(self._pages):
                self._pages.append(_Page())
            page = self._pages[number]
            for way, (width, height) in enumerate(ways):
                spot = self._spot(page, width, height)
                if spot is not None:
                    x, y = spot
                    page.taken.append((x, y, x + width, y + height))
                    return number, x * self._step, y * self._step, way
        return None

    def _spot(self, page: _Page, width: int, height: int) -> tuple[int, int] | None:
        left, top, right, bottom = self._room
        full = page.full.setdefault((width, height), set())
        rows = {top, *(taken[3] + self._gap for taken in page.taken)}
        for y in sorted(row for row in rows - full if top <= row <= bottom - height):
            x = left
            for begin, end in self._in_the_way(page, y, height):
                if x + width + self._gap <= begin:
                    break
                x = max(x, end + self._gap)
            if x + width <= right:
                return x, y
            full.add(y)
        return None

    def _in_the_way(self, page: _Page, y: int, height: int) -> Iterator[tuple[int, int]]:
        """Go along a row through what stands in it, by where it begins."""
        gap = self._gap
        return iter(
            sorted(
                (taken[0], taken[2])
                for taken in page.taken
                if taken[1] < y + height + gap and y < taken[3] + gap
            )
        )

    def _count(self, length: Fraction) -> int:
        return int(length / self._step)

    def _steps_of(self, rect: Rect) -> Steps:
        x, y, width, height = (self._count(length) for length in rect)
        return x, y, x + width, y + height
