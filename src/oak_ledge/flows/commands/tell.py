"""Figures of a photo file on a size; nothing is made, and nothing loaded that only making needs."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Literal

from oak_ledge.core.errors import PhotoError, SizeError
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.heads.face_points import NO_FACES, FacePoints, Faces, on_photo
from oak_ledge.core.marks.laid import LaidMark
from oak_ledge.core.notes.note import stops
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.photos.keep_zones import NOTHING, Keeps, Zone
from oak_ledge.core.pixels.open.facts import look_at
from oak_ledge.core.placements.angle import at_angle
from oak_ledge.core.placements.fit import on_pixels
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import Corners, Placement, changed
from oak_ledge.core.placements.scene_geometry import ground_for, is_unmade
from oak_ledge.core.placements.suggestion import at_centre, laid
from oak_ledge.core.placements.zones.around import lay_around
from oak_ledge.core.placements.zones.head import laid_by_head
from oak_ledge.core.sizes.choices import Turned
from oak_ledge.core.sizes.size import Size
from oak_ledge.flows.pieces.figures import UNKNOWN, Around, Figures, FileFigures, figures

# Cuts out the subject that is found, in place of what a mask says.
FOUND = "found"


@dataclass(frozen=True)
class LyingOptions:
    """How photos shall lie: the same for every photo and size of one call."""

    turned: Turned | None = None
    centre: tuple[float, float] | None = None
    angle: float = 0.0
    quarter: Literal[0, 1, 2, 3] = 0
    mirror: bool = False
    corners: Corners | None = None
    fit: bool = False
    attempt: int = 1
    """which of the continued grounds, and of the fills of what is painted over"""
    paint_over: Path | None = None
    """a mask of what is painted over"""
    cut_out: str | None = None
    """a mask of the thing that is cut out, or `FOUND`"""
    mark: LaidMark | None = None
    """what is laid over every piece"""
    zones: tuple[Zone, ...] = ()
    """what must stay whole, in photo pixels upright"""
    finds: bool = True
    """whether subjects may be looked for"""
    behind: Path | None = None
    """a photo that is seen where the ground is"""
    face: FacePoints | None = None
    """eyes, chin and crown, in photo pixels upright; None: looked for where a size asks for a head"""


# How a stop is taken on the command line.
TO_TAKE = "take it as it is with --allow {code}"


class PhotoFigures(FileFigures):
    """The figures of one photo on one size."""

    photo: str


def tell(path: Path, size: Size, way: LyingOptions, limits: Limits) -> PhotoFigures:
    """Return the figures of a photo file on a size; nothing is made."""
    facts = look(path, limits)
    faces = None if size.head is None else heads_in(path, facts, way)
    known = Around(keeps=kept_in(path, facts, way, size), faces=faces)
    placement, mark = place(size, facts, way, known), mark_called_for(way, size, known.keeps)
    told_figures = figures(size, facts, placement, known, mark)
    return PhotoFigures(photo=shown(path), **dict(told_figures))


def shown(path: Path) -> str:
    """Return a file's name as text; what is none in it becomes a question mark."""
    return str(path).encode(errors="replace").decode()


def look(path: Path, limits: Limits) -> PhotoFacts:
    """Read a photo file's facts, with a plain reason where it is not there."""
    if not path.is_file():
        what = "it is a folder" if path.is_dir() else "there is no such file"
        raise PhotoError(what)
    try:
        return look_at(path, most_pixels=limits.photo_pixels)
    except OSError as exc:
        msg = f"it cannot be opened: {exc.strerror or exc}"
        raise PhotoError(msg) from exc


def stopped(result: Figures, allowed: frozenset[str], to_take: str = TO_TAKE) -> str | None:
    """Return what stops a piece, and what to do; None where nothing does that is not `allowed`.

    `to_take` says how a stop, by its `code`, is taken where this is read.
    """
    stop = next(stops(result.notes, allowed), None)
    if stop is None:
        return None
    take = to_take.format(code=stop.code)
    todo = f"Write {stop.fix}, or {take}" if stop.fix else f"{take[0].upper()}{take[1:]}"
    return f"{stop.text} {todo}"


def kept_in(path: Path, facts: PhotoFacts, way: LyingOptions, size: Size) -> Keeps:
    """Return what must stay whole of a photo: as the call says, else its subject where a size asks for it."""
    if way.zones or size.fills is None:
        return Keeps(zones=way.zones)
    return found_in(path, facts, way)


def heads_in(path: Path, facts: PhotoFacts, way: LyingOptions) -> Faces:
    """Return the heads of a photo: as the call says, else as they are found."""
    if way.face is None and not way.finds:
        return NO_FACES
    from oak_ledge.core.pixels.heads.find import find_heads, measure_head  # here: they load slowly

    if way.face is not None:
        face = on_photo(way.face, facts.upright)
        return Faces(set=measure_head(path, facts.upright, face))
    return Faces(found=find_heads(path, facts.upright))


def mark_called_for(way: LyingOptions, size: Size, keeps: Keeps) -> LaidMark | None:
    """Return the mark a call lays over a piece, and what of its photo that must not lie on.

    Raises
    ------
    SizeError
        If the size has a mark of the library, whose file is not said.
    """
    if way.mark is not None:
        return replace(way.mark, keeps=keeps)
    if size.mark is not None:
        msg = (
            f"the size has the mark “{size.mark.name}”, whose picture is in the library of marks "
            "and not here: give its file with --mark"
        )
        raise SizeError(msg)
    return None


def found_in(path: Path, facts: PhotoFacts, way: LyingOptions) -> Keeps:
    """Look for the subject of a photo; nothing where that is not to be done."""
    if not way.finds:
        return NOTHING
    from oak_ledge.core.pixels.subject.subject import (
        find_subject,  # here: it takes its time to load
    )

    subject, (wide, high) = find_subject(path), facts.upright
    if subject is None:
        return NOTHING
    zone = Zone(
        left=subject.left * wide,
        top=subject.top * high,
        width=subject.width * wide,
        height=subject.height * high,
    )
    return Keeps(zones=(zone,))


def place(size: Size, facts: PhotoFacts, way: LyingOptions, known: Around = UNKNOWN) -> Placement:
    """Lay a photo on a size: the suggestion, turned, centred and continued as asked.

    On a size with a head it is laid by the head, unless the call says how it shall lie.
    """
    keeps, face = known.keeps, None if known.faces is None else known.faces.meant
    placement = laid(
        size,
        facts.upright,
        way.turned,
        quarter=way.quarter,
        mirror=way.mirror,
        corners=way.corners,
        fit_corners=way.fit,
    )
    if way.angle:
        placement = at_angle(lying_on(size, facts.upright, placement), way.angle)
    by_head = face is not None and size.head is not None and way.centre is None and not way.angle
    if by_head and face is not None and way.corners is None:
        lying = laid_by_head(lying_on(size, facts.upright, placement), face)
        placement = on_pixels(lying).placement
    elif keeps.zones and way.centre is None and way.corners is None:
        lying = lay_around(lying_on(size, facts.upright, placement), keeps)
        placement = on_pixels(lying).placement
    if way.centre is not None:
        placement = at_centre(lying_on(size, facts.upright, placement), *way.centre)
    lying = lying_on(size, facts.upright, placement)
    if not is_unmade(lying):
        return placement
    ground = ground_for(lying, (), seed=1, attempt=way.attempt)
    return changed(placement, continued=ground)
