"""Notes on what must stay whole: cut, hidden, too near to an edge."""

from __future__ import annotations

from itertools import pairwise
from math import hypot
from typing import TYPE_CHECKING, Any, TypeAlias

from oak_ledge.core.measures.numbers import decimal, rounded
from oak_ledge.core.notes.note import Note, Severity
from oak_ledge.core.photos.keep_zones import Keeps
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.zones.around import filled, filled_share, hidden_shares
from oak_ledge.core.placements.zones.in_outline import (
    ROUGHLY,
    cut_line,
    round_window,
    share_outside,
)
from oak_ledge.core.placements.zones.off_joints import across_joints, off_joints
from oak_ledge.core.placements.zones.on_surface import gaps, in_crop, point_on, zones_on
from oak_ledge.core.planes.points import Point, rectangle
from oak_ledge.core.planes.polygons import area, overlap, side

if TYPE_CHECKING:
    import numpy.typing as npt

# Of the shorter edge: nearer to the edge a person should look.
NEAR = 0.02


# Of the edge across: so narrow a strip beside a zone looks like a slip.
SLIVER = 0.03


# Of the shorter edge: an edge so near to a line runs along it.
ALONG = 0.01


HAIR = 1e-6


Array: TypeAlias = "npt.NDArray[Any]"


# Of the crop's height: as near as anyone would say so.
ON_THIRD = 0.03


# Of an edge: so near is as a size says.
FILLS_ROUGHLY = 0.005


# A found subject's edges are no surer than that.
FOUND_ROUGHLY = 0.05


def keep_notes(lying: Lying, keeps: Keeps) -> tuple[Note | None, ...]:
    """Return the notes on what must stay whole: the worst of the zones, and of the lines."""
    if not keeps.zones and not keeps.marks:
        return ()
    shapes, crop, hidden = zones_on(lying.surface, keeps), lying.crop, hidden_shares(lying)
    zones = [in_crop(points, crop) for kind, points in shapes if kind == "zone"]
    marks = [in_crop(points, crop) for kind, points in shapes if kind == "mark"]
    return (
        keep_cut(zones)
        or keep_hidden(zones, hidden)
        or keep_outside(zones, lying)
        or keep_edge(zones, crop),
        joint(lying, keeps),
        line_cut(marks, crop),
        sliver(zones, crop),
    )


def subject_cut(lying: Lying, keeps: Keeps) -> Note | None:
    """Look where a subject that was found, and is no keep zone yet, is cut: it may be anything."""
    if not keeps.zones:
        return None
    zones = [in_crop(points, lying.crop) for _, points in zones_on(lying.surface, keeps)]
    cut = _worst_cut(zones)
    if cut is None or cut[0] < FOUND_ROUGHLY:
        return None
    share, sides = cut
    text = f"The subject found in this photo is cut: {rounded(share * 100, 0)} % of it lies beyond the {sides}."
    return Note(level="look", code="subject-cut", text=text)


def fills(lying: Lying, keeps: Keeps) -> Note | None:
    """Look where a subject does not fill what its size says, or none is known that could."""
    asked = lying.size.fills
    if asked is None:
        return None
    share = filled_share(lying, keeps)
    if share is None:
        text = (
            f"No subject is known that could fill {decimal(asked)} %. Mark a keep zone around it."
        )
        return _note("look", "fills", text)
    if abs(share - float(asked) / 100) < FILLS_ROUGHLY:
        return None
    shapes = zones_on(lying.surface, keeps)
    best = filled_share(filled(lying, shapes), keeps) or share
    nearer = abs(best - float(asked) / 100) < abs(share - float(asked) / 100) - FILLS_ROUGHLY
    return Note(
        level="look",
        code="fills",
        text=f"The subject fills {rounded(share * 100, 0)} % of the piece, not {decimal(asked)} %.",
        way=f"Make it fill {rounded(best * 100, 0)} %" if nearer else None,
    )


def eyes_on_third(lying: Lying, keeps: Keeps) -> Note | None:
    """Return where the eyes of the largest face lie on the upper third, where they look right."""
    faces = [zone for zone in keeps.zones if zone.eyes is not None]
    if not faces:
        return None
    largest = max(faces, key=lambda zone: zone.width * zone.height)
    assert largest.eyes is not None
    point = point_on(lying.surface, *largest.eyes)
    if point is None:
        return None
    across, down = in_crop((point,), lying.crop)[0]
    if not (0 < across < 1 and abs(down - 1 / 3) <= ON_THIRD):
        return None
    return Note(level="fine", code="eyes-on-third", text="The eyes lie on the upper third.")


def keep_cut(zones: list[list[Point]]) -> Note | None:
    """Stop where a zone is cut, saying how much of it, and where."""
    cut = _worst_cut(zones)
    if cut is None:
        return None
    worst, sides = cut
    share = rounded(worst * 100, 0 if worst > 0.01 else 1)
    return _note(
        "stop", "keep-cut", f"A keep zone is cut: {share} % of it lies beyond the {sides}."
    )


def _worst_cut(zones: list[list[Point]]) -> tuple[float, str] | None:
    """Return the share of the zone that is cut most, and the sides it lies beyond."""
    worst, sides = 0.0, ""
    for zone in zones:
        away = gaps(zone)
        if min(away.values()) >= -HAIR:
            continue
        lost = 1 - overlap(zone, rectangle(1, 1)) / max(area(zone), 1e-12)
        if lost > worst:
            worst, sides = lost, _sides([name for name, gap in away.items() if gap < -HAIR])
    return None if worst <= HAIR else (worst, sides)


def keep_hidden(zones: list[list[Point]], hidden: tuple[float, float]) -> Note | None:
    """Look where a zone reaches under lip or mat, or into the bleed."""
    for zone in zones:
        away = gaps(zone)
        under = [
            name for name, gap in away.items()
            if gap < hidden[0 if name in ("left", "right") else 1] - HAIR
        ]  # fmt: skip
        if under:
            text = f"A keep zone will not be seen whole: it reaches under the {_sides(under)} edge."
            return _note("look", "keep-hidden", text)
    return None


def keep_outside(zones: list[list[Point]], lying: Lying) -> Note | None:
    """Look where a zone reaches beyond the outline a piece is cut along, or its mat's round window."""
    size = lying.size
    is_round = size.frame is not None and size.frame.mat is not None and size.frame.mat.round
    if not zones or (size.outline is None and not is_round):
        return None
    edge = round_window(lying) if size.outline is None else cut_line(lying)
    beyond = "under the round mat" if size.outline is None else "outside the outline"
    for zone in zones:
        lost = share_outside(zone, edge)
        if lost > ROUGHLY:
            share = rounded(lost * 100, 0 if lost > 0.01 else 1)
            text = f"A keep zone reaches {beyond}: {share} % of it will not be seen."
            return _note("look", "keep-hidden", text)
    return None


def keep_edge(zones: list[list[Point]], crop: Crop) -> Note | None:
    """Look where a zone comes nearer to an edge than a fiftieth of the crop's shorter edge."""
    short = min(crop.width, crop.height)
    near: list[str] = []
    least = 1.0
    for zone in zones:
        for name, gap in gaps(zone).items():
            away = gap * (crop.width if name in ("left", "right") else crop.height) / short
            if away < NEAR - HAIR:
                near.append(name)
                least = min(least, away)
    if not near:
        return None
    text = f"A keep zone comes within {rounded(least * 100)} % of the {_sides(near)} edge."
    return _note("look", "keep-edge", text)


def joint(lying: Lying, keeps: Keeps) -> Note | None:
    """Look where a zone lies across a joint between panels, with the slide that frees it."""
    pairs = across_joints(lying, keeps)
    if not pairs:
        return None
    zone_number, other = pairs[0]
    panels = lying.size.panels
    where = "across the joint" if panels is None or panels.gap is None else "in the gap"
    return Note(
        level="look",
        code="joint",
        text=f"A keep zone lies {where} between panels {zone_number} and {other}.",
        way=f"Slide it off the {where.rpartition(' ')[2]}" if off_joints(lying, keeps) else None,
    )


def sliver(zones: list[list[Point]], crop: Crop) -> Note | None:
    """Look where a narrow strip is left beside a zone that is not too near as it is."""
    short = min(crop.width, crop.height)
    for zone in zones:
        for name, gap in gaps(zone).items():
            edge = crop.width if name in ("left", "right") else crop.height
            if NEAR * short <= gap * edge and gap < SLIVER - HAIR:
                share = rounded(gap * 100)
                text = f"Only a narrow strip, {share} %, is left between a keep zone and the {name} edge."
                return _note("look", "sliver", text)
    return None


def line_cut(marks: list[list[Point]], crop: Crop) -> Note | None:
    """Look where an edge cuts a marked line, or runs along it."""
    near = ALONG * min(crop.width, crop.height)
    corners = [*rectangle(1, 1), (0.0, 0.0)]
    names = ("top", "right", "bottom", "left")
    for start, two in marks:
        for name, (a, b) in zip(names, pairwise(corners), strict=True):
            if _cross(start, two, a, b):
                return _note(
                    "look", "cut-line", f"The {name} edge cuts a line that must stay whole."
                )
            across = 0 if name in ("left", "right") else 1
            edge = (crop.width, crop.height)[across]
            beside = max(abs(end[across] - a[across]) * edge for end in (start, two)) < near
            if beside and _beside(start, two, 1 - across):
                return _note("look", "cut-line", f"The {name} edge runs along a marked line.")
    return None


def _beside(point: Point, two: Point, axis: int) -> bool:
    low, high = sorted((point[axis], two[axis]))
    return high > 0 and low < 1 and hypot(two[0] - point[0], two[1] - point[1]) > 0


def _cross(a: Point, b: Point, c: Point, d: Point) -> bool:
    """Whether segments a–b and c–d cross."""
    return side(a, b, c) * side(a, b, d) < 0 and side(c, d, a) * side(c, d, b) < 0


def _note(level: Severity, code: str, text: str) -> Note:
    way = None if code == "cut-line" else "Move the crop around it"
    return Note(level=level, code=code, text=text, way=way)


def _sides(names: list[str]) -> str:
    sides = list(dict.fromkeys(names))
    return sides[0] if len(sides) == 1 else f"{', '.join(sides[:-1])} and {sides[-1]}"
