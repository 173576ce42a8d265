"""The wall of the sizes page: outlines nested at true relative scale, rulers beside them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import get_args

from oak_ledge.core.sizes.choices import Group
from oak_ledge.flows.library.views import SavedSizeView

# The drawing's room for outlines, in its own units.
WIDE, HIGH = 500.0, 590.0


# Before them: the vertical ruler, air above.
LEFT, TOP = 52.0, 14.0


CM = 2.54


STEPS = (0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000)


LABEL_HEIGHT = 17.0


# About the width of one.
LETTER = 7.0


# The largest; a wall of more is read by pointing.
MOST_NAMES = 24


@dataclass(frozen=True)
class Nested:
    """A second outline of the chosen size: `framed`, `beyond` the print, or what is `seen`."""

    kind: str
    left: float
    top: float
    width: float
    height: float


@dataclass(frozen=True)
class WallOutline:
    """A size on the wall: its box, and where its name stands."""

    size: SavedSizeView
    left: float
    top: float
    width: float
    height: float
    label: tuple[float, float] | None
    nested: list[Nested]
    chosen: bool


@dataclass(frozen=True)
class Tick:
    """A mark of the ruler, and its number where it has one."""

    at: float
    figure: str | None


@dataclass(frozen=True)
class Ruler:
    """The ruler along the wall."""

    unit: str
    ticks: list[Tick]


@dataclass(frozen=True)
class Wall:
    """A drawing `width` × `height`; all outlines stand on `foot`."""

    width: float
    height: float
    left: float
    foot: float
    outlines: list[WallOutline]
    vertical: Ruler | None
    along: list[Ruler]
    scale: float
    """drawing units per inch, or per pixel"""


@dataclass(frozen=True)
class ListRow:
    """A size in the list: its small outline (x, y, width, height), and what finds it."""

    size: SavedSizeView
    thumb: tuple[float, float, float, float] | None
    found_by: str


def rows_by_group(every: Sequence[SavedSizeView]) -> list[tuple[Group, list[ListRow]]]:
    """Return the list of the library, group by group; small outlines of a kind at one scale."""
    largest = {"in": 1.0, "px": 1.0}
    for size in every:
        for edge in size.outline or ():
            largest[size.outline_unit] = max(largest[size.outline_unit], edge)
    rows: dict[Group, list[ListRow]] = {group: [] for group in get_args(Group)}
    for size in every:
        words = (size.name, size.label, size.text, size.group, size.pixels)
        rows[size.group].append(
            ListRow(size, _thumb(size, largest[size.outline_unit]), " ".join(words).lower())
        )
    return [(group, rows) for group, rows in rows.items() if rows]


def _thumb(size: SavedSizeView, largest: float) -> tuple[float, float, float, float] | None:
    if size.outline is None:
        return None
    width, height = (edge * 26 / largest for edge in size.outline)
    return (17 - width / 2, 27.5 - height, width, height)


def wall_of(sizes: Sequence[SavedSizeView], chosen: int | None) -> Wall:
    """Draw the sizes of one kind: prints in inches and centimetres, screens in pixels.

    Of a mixed group the kind of the chosen size is drawn, else the kind most have; sizes
    without an outline, such as ratios, are left to the list.
    """
    drawn = [size for size in sizes if size.outline]
    unit = _kind(drawn, chosen)
    drawn = [size for size in drawn if size.outline_unit == unit]
    foot = TOP + HIGH
    size_of = {size.id: size.outline for size in drawn if size.outline}
    if not size_of:
        return Wall(LEFT + WIDE + 8, foot + 50, LEFT, foot, [], None, [], 1.0)
    largest = [_outermost(size) if size.id == chosen else size_of[size.id] for size in drawn]
    scale = min(
        WIDE / max(width for width, _ in largest), HIGH / max(height for _, height in largest)
    )
    outlines: list[WallOutline] = []
    taken = (LEFT, foot)  # how far the chosen one reaches: its right, its top
    for size in drawn:
        if size.id == chosen:
            around = _outermost(size)
            taken = (LEFT + around[0] * scale, foot - around[1] * scale)
    kept_free = _chosen_lines([size for size in drawn if size.id == chosen], scale, foot)
    for size in sorted(drawn, key=lambda saved: -size_of[saved.id][0] * size_of[saved.id][1]):
        width, height = (edge * scale for edge in size_of[size.id])
        left, low, nested = LEFT, foot, []
        if size.id == chosen:  # all of it stands on the ledge, the print inside
            around = _outermost(size)
            left += (around[0] * scale - width) / 2
            low -= (around[1] * scale - height) / 2
            nested = _nested(size, scale, left + width / 2, low - height / 2)
        top, right = low - height, left + width
        named = kept_free + [
            (*outline.label, _name_width(outline.size)) for outline in outlines if outline.label
        ]
        spot = _free_spot(size, named, right - 7, top, foot) if len(named) < MOST_NAMES else None
        if spot is not None and size.id != chosen and spot[0] - _name_width(size) < taken[0]:
            spot = spot if spot[1] < taken[1] else None  # the chosen one's words stand there alone
        outlines.append(
            WallOutline(size, left, top, width, height, spot, nested, chosen=size.id == chosen)
        )
    outlines.sort(
        key=lambda outline: outline.chosen
    )  # the chosen one is drawn last, over the others
    vertical = Ruler(unit, ticks(HIGH, scale, unit))
    along = [Ruler(unit, ticks(WIDE, scale, unit))]
    if unit == "in":
        along.append(Ruler("cm", ticks(WIDE, scale / CM, "cm")))
    return Wall(LEFT + WIDE + 8, foot + 62, LEFT, foot, outlines, vertical, along, scale)


# Where words end, the line they stand on, and how wide they are.
_Words = tuple[float, float, float]


def _name_width(size: SavedSizeView) -> float:
    return LETTER * len(size.name)


def _outermost(size: SavedSizeView) -> tuple[float, float]:
    edges = [other for other in (size.outline, size.beyond, size.framed) if other]
    return max(width for width, _ in edges), max(height for _, height in edges)


def _nested(size: SavedSizeView, scale: float, x: float, y: float) -> list[Nested]:
    """Return what surrounds a print and what of it is seen, about the same middle x, y."""
    kinds = {"framed": size.framed, "beyond": size.beyond, "seen": size.seen}
    return [
        Nested(
            kind,
            x - edges[0] * scale / 2,
            y - edges[1] * scale / 2,
            edges[0] * scale,
            edges[1] * scale,
        )
        for kind, edges in kinds.items()
        if edges
    ]


def _kind(drawn: Sequence[SavedSizeView], chosen: int | None) -> str:
    for size in drawn:
        if size.id == chosen:
            return size.outline_unit
    inches = sum(size.outline_unit == "in" for size in drawn)
    return "in" if 2 * inches >= len(drawn) else "px"


def _chosen_lines(chosen: Sequence[SavedSizeView], scale: float, foot: float) -> list[_Words]:
    """Where the chosen size's own words stand, for other names to keep off."""
    for size in chosen:
        if size.outline:
            around = _outermost(size)
            left = LEFT + (around[0] - size.outline[0]) * scale / 2
            top = foot - (around[1] + size.outline[1]) * scale / 2
            lines = 3 + len(size.extra)
            return [(left + 182, top + 4 + 20 * line, 182.0) for line in range(lines + 1)]
    return []


def _free_spot(
    size: SavedSizeView, named: Sequence[_Words], x: float, top: float, foot: float
) -> tuple[float, float] | None:
    """Find a place for a name inside its outline that covers no other; None where none is."""
    y = top + LABEL_HEIGHT - 2
    left = x - _name_width(size)
    while any(
        abs(y - below) < LABEL_HEIGHT and left < end + 8 and end - wide < x + 8
        for end, below, wide in named
    ):
        y += LABEL_HEIGHT
    inside = y < foot - 4 and y < top + 4 * LABEL_HEIGHT
    return (x, y) if inside and left > LEFT else None


def ticks(room: float, scale: float, unit: str) -> list[Tick]:
    """Ticks at least 11 units apart, every second one with its figure."""
    step = next((s for s in STEPS if s * scale >= 11 and (unit == "in" or s >= 1)), STEPS[-1])
    count = int(room / (step * scale) + 1e-6)
    room_for_figure = 46 if unit == "px" else 26
    every = next(n for n in (1, 2, 5, 10, 20) if n * step * scale >= room_for_figure or n == 20)
    return [
        Tick(n * step * scale, f"{n * step:g}" if n % every == 0 else None)
        for n in range(count + 1)
    ]
