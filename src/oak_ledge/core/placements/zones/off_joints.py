"""Joints between panels: which keep zones lie across one, and the slide that frees them (rules, section 6)."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import product

from oak_ledge.core.photos.keep_zones import Keeps
from oak_ledge.core.placements.fit import keep_inside
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.zones.on_surface import gaps, in_crop, zones_on
from oak_ledge.core.planes.points import Point, rotated
from oak_ledge.core.sizes.file_geometry import Stretch, panel_stretches

HAIR = 1e-6

# Slides, the smallest first: this is asked at every frame of a drag.
MOST_TRIED = 24

# Of a panel's edge: room that a slide leaves beside the joint where there is some.
AIR = 0.02

Zone = Sequence[Point]


def across_joints(lying: Lying, keeps: Keeps) -> list[tuple[int, int]]:
    """Return the joints that zones lie across, each as the two panels it is between, from 1.

    A zone that one panel shows whole, as the overlap is wide enough, is across none.
    """
    if lying.size.panels is None:
        return []
    across, down = panel_stretches(lying.size, lying.asked)
    pairs: list[tuple[int, int]] = []
    for zone in _zones(lying, keeps):
        at = [_panels_of(zone, 0, across), _panels_of(zone, 1, down)]
        if len(at[0]) > 1:
            row = at[1][0] * len(across) + 1
            pairs.append((row + at[0][0], row + at[0][1]))
        elif len(at[1]) > 1:
            first = at[1][0] * len(across) + at[0][0] + 1
            pairs.append((first, first + len(across)))
    return pairs


def _zones(lying: Lying, keeps: Keeps) -> list[list[Point]]:
    shapes = zones_on(lying.surface, keeps)
    return [in_crop(points, lying.crop) for kind, points in shapes if kind == "zone"]


def _panels_of(zone: Zone, axis: int, panels: list[Stretch]) -> list[int]:
    """Name the panel that shows all of a zone that the piece shows, else those it lies on.

    What lies in the gap between two that hang apart counts as on both.
    """
    low, high = _reach(zone, axis)
    low, high = max(low, 0.0), min(high, 1.0)
    whole = [n for n, (a, b) in enumerate(panels) if a - HAIR <= low and high <= b + HAIR]
    apart = max(0.0, panels[1][0] - panels[0][1]) if len(panels) > 1 else 0.0
    on = [
        n for n, (a, b) in enumerate(panels) if a - apart < high - HAIR and low < b + apart - HAIR
    ]
    return whole[:1] or on or [0]


def _reach(zone: Zone, axis: int) -> Stretch:
    along = [point[axis] for point in zone]
    return min(along), max(along)


def off_joints(lying: Lying, keeps: Keeps) -> Lying | None:
    """Slide a crop by as little as can be so that no zone lies across a joint, and none is cut anew.

    None where no slide does that.
    """
    zones = _zones(lying, keeps)
    panels = panel_stretches(lying.size, lying.asked)
    steps = [_steps(zones, axis, panels[axis]) for axis in (0, 1)]
    crop = lying.crop
    moves = [(u * crop.width, v * crop.height) for u, v in product(*steps)]
    whole = _cut(zones)
    for dx, dy in sorted(moves, key=lambda move: abs(move[0]) + abs(move[1]))[:MOST_TRIED]:
        step = rotated(-dx, -dy, crop.angle)
        placement = lying.placement
        slid = keep_inside(lying.changed(cx=placement.cx + step[0], cy=placement.cy + step[1]))
        if not across_joints(slid, keeps) and _cut(_zones(slid, keeps)) <= whole:
            return slid
    return None


def _steps(zones: Sequence[Zone], axis: int, panels: list[Stretch]) -> set[float]:
    """Return how far zones would have to move along an axis for one across a joint to be on one panel."""
    steps = {0.0}
    for zone in zones:
        if len(_panels_of(zone, axis, panels)) == 1:
            continue
        low, high = _reach(zone, axis)
        for a, b in panels:
            free = (b - a) - (high - low)
            if free >= 0:
                air = min(AIR * (b - a), free / 2)
                steps.add(a + air - low if low < a + air else b - air - high)
    return steps


def _cut(zones: Sequence[Zone]) -> int:
    return sum(min(gaps(zone).values()) < -HAIR for zone in zones)
