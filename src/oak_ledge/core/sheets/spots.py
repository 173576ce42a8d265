"""Places on a sheet moved by hand: nothing overlaps, nothing leaves the paper, edges meet their neighbours'."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from fractions import Fraction
from typing import NamedTuple

from oak_ledge.core.sheets.canvas import Rect


class Snapped(NamedTuple):
    """A place that edges were drawn to, and the lines they meet: across and down the sheet."""

    x: Fraction
    y: Fraction
    vertical: tuple[Fraction, ...]
    horizontal: tuple[Fraction, ...]


def overlap(rect: Rect, other: Rect) -> bool:
    """Return whether two rectangles share more than an edge."""
    return (
        rect.x < other.x + other.width
        and other.x < rect.x + rect.width
        and rect.y < other.y + other.height
        and other.y < rect.y + rect.height
    )


def hit(rect: Rect, others: Iterable[Rect]) -> int | None:
    """Return which of several rectangles one overlaps, the first; None where it is free."""
    return next((n for n, other in enumerate(others) if overlap(rect, other)), None)


def within(rect: Rect, room: Rect) -> bool:
    """Return whether a rectangle lies in a room."""
    return (
        rect.x >= room.x
        and rect.y >= room.y
        and rect.x + rect.width <= room.x + room.width
        and rect.y + rect.height <= room.y + room.height
    )


def kept_within(rect: Rect, room: Rect) -> Rect:
    """Push a rectangle into a room; one that is larger stands at its corner."""
    x = max(room.x, min(rect.x, room.x + room.width - rect.width))
    y = max(room.y, min(rect.y, room.y + room.height - rect.height))
    return rect._replace(x=x, y=y)


def snapped(
    rect: Rect, others: Sequence[Rect], room: Rect, gap: Fraction, reach: Fraction
) -> Snapped:
    """Draw a rectangle's edges to those of its neighbours, or to a gap from them, where they are near."""
    x, vertical = _drawn_to(
        rect.x, rect.width, [(r.x, r.width) for r in others], (room.x, room.width), gap, reach
    )
    y, horizontal = _drawn_to(
        rect.y, rect.height, [(r.y, r.height) for r in others], (room.y, room.height), gap, reach
    )
    return Snapped(x, y, vertical, horizontal)


# Where something begins along one edge of the sheet, and how long it is.
Stretch = tuple[Fraction, Fraction]


def _drawn_to(
    at: Fraction,
    long: Fraction,
    others: Sequence[Stretch],
    room: Stretch,
    gap: Fraction,
    reach: Fraction,
) -> tuple[Fraction, tuple[Fraction, ...]]:
    wanted: list[tuple[Fraction, Fraction]] = []  # where it would begin, and the line it meets
    for start, length in others:
        end = start + length
        wanted += [
            (start, start),
            (end - long, end),
            (end + gap, end + gap),
            (start - gap - long, start - gap),
        ]
    low, high = room[0], room[0] + room[1]
    wanted += [(low, low), (high - long, high), ((low + high - long) / 2, (low + high) / 2)]
    near = [(abs(begin - at), begin) for begin, _ in wanted if abs(begin - at) <= reach]
    if not near:
        return at, ()
    taken = min(near)[1]
    return taken, tuple(sorted({line for begin, line in wanted if begin == taken}))


def free_spot(
    edges: tuple[Fraction, Fraction], others: Sequence[Rect], room: Rect, gap: Fraction
) -> tuple[Fraction, Fraction] | None:
    """Find the first free place for a rectangle, from the top left: at a gap from its neighbours."""
    width, height = edges
    xs = sorted({room.x, *(other.x + other.width + gap for other in others)})
    ys = sorted({room.y, *(other.y + other.height + gap for other in others)})
    apart = [Rect(o.x - gap, o.y - gap, o.width + 2 * gap, o.height + 2 * gap) for o in others]
    for y in ys:
        for x in xs:
            spot = Rect(x, y, width, height)
            if within(spot, room) and hit(spot, apart) is None:
                return x, y
    return None
