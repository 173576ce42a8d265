"""Which lines go on together: edges of one thing keep their distance, fans keep their point."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

import cv2
import numpy as np

from oak_ledge.core.pixels.bands.bundle import Bundle
from oak_ledge.core.pixels.bands.strip import strip_of
from oak_ledge.core.pixels.lines.rim_line import RimLine
from oak_ledge.core.pixels.lines.side import Array
from oak_ledge.core.pixels.lines.vanishing import missed, vanishing_point

# Pixels drawn beside a line: of the longer edge, of what it was found on, and at least.
_MARGIN, _MARGIN_COARSE, _LEAST_MARGIN = 0.0085, 5.0, 8.0

# Lines of a fan: at least so many, no farther apart than this share of the longer edge, in degrees.
_FAN, _FAN_GAP, _FAN_ANGLE = 5, 0.14, 12.0

# Edges of one thing: margins between them, and degrees.
_THING_GAP, _THING_ANGLE = 1.6, 4.0

# Of what lies beyond: a fan that is followed less far is none.
_LEAST_REACH = 0.35

# A line joins a fan although it is faint or short, where it is so long (of the longer edge) and
# stands out so much, and misses the point by no more than so many degrees.
_WEAK_LENGTH, _WEAK_STANDS_OUT, _WEAK_CONTRAST, _WEAK_MISS = 0.022, 1.5, 0.5, 1.5


def bundles(lines: Sequence[RimLine], photo: Array, beyond: int) -> list[Bundle]:
    """Return the lines of a photo, (H, W, 3) uint8, that go on, in bundles.

    `lines` are all that were found, with their flaws.
    """
    wide, edge = photo.shape[1], max(photo.shape[:2])
    good = sorted((line for line in lines if not line.flaw), key=lambda line: line.at)
    meeting = vanishing_point(good, wide)
    members: list[RimLine] = []
    if meeting is not None and len(meeting[1]) >= _FAN:
        point, which = meeting
        members = [good[n] for n in which] + _joining(lines, point, wide, edge)
        good = sorted([*good, *members[len(which) :]], key=lambda line: line.at)
        members.sort(key=lambda line: line.at)
    groups = _fans(members, beyond, edge)
    taken = {id(line) for group in groups for line in group}
    free = [line for line in good if id(line) not in taken]
    for pair in _things(free, photo, beyond, edge):
        groups.append(pair)
        free = [line for line in free if line not in pair]
    fans = len(groups)
    groups += _strands(free, beyond, edge)
    made = [_bundle(group, n < fans, wide, edge, beyond) for n, group in enumerate(groups)]
    return [bundle for bundle in made if bundle is not None]


def _joining(lines: Sequence[RimLine], point: np.ndarray, wide: int, edge: int) -> list[RimLine]:
    """Return faint and short lines that run towards the point of a fan, in the point's direction."""
    joining = []
    for line in lines:
        weak = (
            line.flaw in ("short", "texture", "faint")
            and line.length > _WEAK_LENGTH * edge
            and line.stands_out > _WEAK_STANDS_OUT
            and abs(line.contrast) > _WEAK_CONTRAST
            and line.width == 1
            and line.ragged < 1
        )
        if not weak:
            continue
        x = -0.5 * min(line.length, 0.2 * wide) / line.stretch
        if missed([line], point, x)[0] < _WEAK_MISS:
            across, down = point[:2] - np.array([x, line.y(x)]) * point[2]
            level = abs(across) > 0.15 * float(np.hypot(across, down))
            slope = float(down / across) if level else line.slope
            joining.append(replace(line, slope=slope, bend=0.0, flaw=""))
    return joining


def _margin(line: RimLine, edge: int) -> float:
    return max(_MARGIN * edge, _MARGIN_COARSE * line.width, _LEAST_MARGIN)


def _beside(upper: RimLine, lower: RimLine, gap: float, angle: float, beyond: int) -> bool:
    """Return whether two lines are near, alike in direction, and stay apart."""
    apart = lower.at - upper.at
    stay = (lower.y(beyond) - upper.y(beyond)) > 0.3 * apart
    stay &= (lower.y(-0.2 * beyond) - upper.y(-0.2 * beyond)) > 0
    turn = abs(np.arctan(upper.slope) - np.arctan(lower.slope))
    return bool(stay and apart / upper.stretch < gap and turn < np.deg2rad(angle))


def _fans(members: Sequence[RimLine], beyond: int, edge: int) -> list[list[RimLine]]:
    """Split lines that meet in one point where they lie too far apart."""
    if len(members) < _FAN:
        return []
    groups = [[members[0]]]
    for line in members[1:]:
        if _beside(groups[-1][-1], line, _FAN_GAP * edge, _FAN_ANGLE, beyond):
            groups[-1].append(line)
        else:
            groups.append([line])
    return [group for group in groups if len(group) >= 4]


def _things(lines: Sequence[RimLine], photo: Array, beyond: int, edge: int) -> list[list[RimLine]]:
    """Return pairs of edges of one thing that runs out, a path or a post: one matter between."""
    pairs: list[list[RimLine]] = []
    for upper, lower in pairwise(lines):
        opposite = upper.contrast * lower.contrast < 0
        alike = opposite and 0.5 < abs(upper.contrast / lower.contrast) < 2
        apart = lower.at - upper.at > _THING_GAP * _margin(upper, edge)
        long = min(upper.length, lower.length) > 0.6 * beyond
        new = not pairs or upper is not pairs[-1][1]
        if not (alike and apart and long and new):
            continue
        if _beside(upper, lower, 0.25 * edge, 14, beyond) and _one_matter(
            photo, upper, lower, beyond
        ):
            pairs.append([upper, lower])
    return pairs


def _one_matter(photo: Array, upper: RimLine, lower: RimLine, beyond: int) -> bool:
    """Return whether few pixels between two edges differ from what lies there as the outside does."""
    reach = int(min(min(upper.length, lower.length) / upper.stretch, photo.shape[1] - 4, beyond))
    strip = strip_of(photo, Bundle((upper, lower), 12.0, fan=True, reach=reach))
    pixels = cv2.GaussianBlur(strip.pixels, (0, 0), 1.5)
    inner = (strip.heights > upper.at + 4) & (strip.heights < lower.at - 4)
    outer = (strip.heights < upper.at - 4) | (strip.heights > lower.at + 4)
    if not inner.any() or not outer.any():
        return False
    matter = np.median(pixels[inner], (0, 1))
    step = np.abs(matter - np.median(pixels[outer], (0, 1))).max()
    other = np.abs(pixels[inner] - matter).max(2) > 0.6 * step + 6
    return bool(step > 6 and np.mean(other) < 0.08)


def _strands(lines: Sequence[RimLine], beyond: int, edge: int) -> list[list[RimLine]]:
    """Gather lines that lie close together: the edges of one cable, one beam."""
    groups: list[list[RimLine]] = []
    for line in lines:
        near = _THING_GAP * _margin(line, edge)
        if groups and _beside(groups[-1][-1], line, near, _THING_ANGLE, beyond):
            groups[-1].append(line)
        else:
            groups.append([line])
    return groups


def _bundle(
    group: Sequence[RimLine], fan: bool, wide: int, edge: int, beyond: int
) -> Bundle | None:
    lines = list(group) if fan else _one_direction(group, beyond)
    kept = [lines[0]]
    for line in lines[1:]:
        inside, outside = (line.y(x) - kept[-1].y(x) for x in (-0.3 * wide, beyond))
        if line.at - kept[-1].at > 1.0 and inside > 0 and outside > 0:
            kept.append(line)
    columns = [line.columns for line in lines]
    reach = float(np.median(columns) if fan else max(columns))
    if fan and reach < _LEAST_REACH * beyond <= max(columns):
        reach = 0.4 * beyond
        kept = [line for line in kept if line.columns > 0.3 * beyond] or kept
    if fan and reach < _LEAST_REACH * beyond:
        return None
    margin = max(_margin(line, edge) for line in group)
    return Bundle(tuple(kept), margin, fan, int(min(reach, wide - 4, 1.6 * beyond)))


def _one_direction(group: Sequence[RimLine], beyond: int) -> list[RimLine]:
    """Turn the edges of one cable into one direction, so that it neither widens nor runs out."""
    if len(group) < 2:
        return list(group)
    weights = np.array([line.length * min(abs(line.contrast), 40) for line in group])
    weights = weights / weights.sum()
    slope = float(weights @ [line.slope for line in group])
    bend = float(weights @ [line.bend for line in group])
    apart = group[-1].at - group[0].at
    drift = max(abs(line.slope - slope) for line in group) * beyond
    if drift < 0.35 * apart + 2 or (len(group) == 2 and apart < 14):
        return [replace(line, slope=slope, bend=bend) for line in group]
    return list(group)
