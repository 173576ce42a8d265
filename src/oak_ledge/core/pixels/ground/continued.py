"""More of the scene around a photo: solved on a grid, then drawn from the photo at full size."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

import numpy as np
import numpy.typing as npt

from oak_ledge.core.errors import FillError
from oak_ledge.core.photos.continued import Box, Continued
from oak_ledge.core.photos.strokes import Stroke
from oak_ledge.core.pixels.bands.band import lay_over
from oak_ledge.core.pixels.fill.draw import draw
from oak_ledge.core.pixels.fill.grid import Floats, Grid, Mask, around_photo, step_for
from oak_ledge.core.pixels.fill.solve import Laid, Solved, Terms, Variant, solve
from oak_ledge.core.pixels.fill.uncopied import smooth_rim, subject
from oak_ledge.core.pixels.ground.plane_side import (
    PlaneSide,
    draw_sides,
    laid_on_plane,
    show_sides,
    solve_side,
)
from oak_ledge.core.pixels.ground.side_source import (
    OwnSide,
    boxes_around,
    in_box,
    never_copied,
    on_blocks,
    with_own_source,
)
from oak_ledge.core.pixels.ground.structure import Structure
from oak_ledge.core.pixels.open.layers import Patch
from oak_ledge.core.pixels.tries.ranking import Look, look_around
from oak_ledge.core.pixels.tries.ways import MOST_FILLED, way_of_ground

Array = npt.NDArray[Any]

# Of the grid's pixels are enough where the photo's rim is smooth.
SMOOTH = 0.55

# Of the height: what is copied from so far off its guide may do better around the bands.
_STRAYED = 0.08

# How much of the step is taken up.
_GROWN = tuple(0.85 * (1 - row / 7) ** 2 for row in range(7))


def grid_of(photo: Array, ground: Continued, structure: Structure) -> Grid:
    """Lay a photo, (H, W, C) upright, on the grid its ground is searched on.

    Smooth grounds need a coarser one, and there the search takes longest.
    """
    before, after = _beyond(photo, ground)
    share = 1 - photo.shape[0] * photo.shape[1] / (ground.edges[0] * ground.edges[1])
    way = way_of_ground(ground.attempt, in_plane=bool(structure.planes))
    megapixels = min(way.megapixels, MOST_FILLED / max(share, 1e-6))
    grid = around_photo(photo, before, after, step_for(*ground.edges, megapixels))
    if not smooth_rim(grid):
        return grid
    return around_photo(photo, before, after, step_for(*ground.edges, megapixels * SMOOTH))


@dataclass(frozen=True)
class SolvedGround:
    """A ground filled.

    `picture` : (h, w, 3), 0…255, the canvas's grid as it is shown. `solved` : its fill, None where
    every side is filled otherwise. `sides` : those that are filled in their plane. `own` : those that
    are filled from a source of their own.
    """

    picture: Floats
    solved: Solved | None
    sides: tuple[PlaneSide, ...] = ()
    own: tuple[OwnSide, ...] = ()


def solve_ground(photo: Array, ground: Continued, grid: Grid, structure: Structure) -> SolvedGround:
    """Fill what lies around a photo on its grid.

    `photo` and `grid` are in even light, where the structure has an edge of light.

    Raises
    ------
    FillError
        If nothing is left to copy from.
    """
    variant = way_of_ground(ground.attempt, in_plane=bool(structure.planes))
    sides = _in_planes(photo, ground, structure) if variant.name == "plane" else ()
    in_planes = [side.side for side in sides]
    named = [side for side in with_own_source(photo, ground) if side not in in_planes]
    laid, solved, picture = structure.laid(grid), None, grid.colours.copy()

    @cache
    def common() -> tuple[Mask, Mask, Floats | None]:  # nothing of it, where planes fill all
        return subject(grid), structure.uncopied(grid), structure.guide(grid)

    def terms(take_from: Sequence[Stroke]) -> Terms:
        never = on_blocks(never_copied(photo, ground, take_from), grid)
        unlike, uncopied, guide = common()
        chosen = bool(take_from)
        return Terms(unlike, never | uncopied, even_light=not chosen, own_tone=chosen, guide=guide)

    if len(sides) + len(named) < structure.open:
        solved = _solved(grid, variant, ground.seed, terms(ground.take_from), laid)
        picture = solved.picture
    show_sides(picture, grid, sides, structure.working, ground.box)
    own: list[OwnSide] = []
    filled = np.zeros_like(grid.hole)
    for side, box in boxes_around(photo, ground).items() if named else ():
        if side in in_planes or (solved is not None and side not in named):
            filled |= in_box(grid, box)
    for side in named:
        place = in_box(grid, boxes_around(photo, ground)[side])
        beside = Laid(picture.copy(), filled.copy()) if filled.any() else None
        on = replace(terms(ground.source_of(side)), laid=beside)
        own.append(OwnSide(side, solve(grid, variant, ground.seed, on)))
        picture[place] = own[-1].solved.picture[place]
        filled |= place
    if laid is not None:
        picture[laid.mask] = laid.colours[laid.mask]
    return SolvedGround(picture, solved, sides, tuple(own))


def _solved(grid: Grid, variant: Variant, seed: int, terms: Terms, laid: Laid | None) -> Solved:
    """Fill a canvas; where it strays from its guide, once more around the bands, if it strays less then."""
    solved = solve(grid, variant, seed, terms)
    if laid is None or solved.strays <= _STRAYED:
        return solved
    around = solve(grid, variant, seed, replace(terms, laid=laid))
    return min(solved, around, key=lambda fill: fill.strays)


def _in_planes(photo: Array, ground: Continued, structure: Structure) -> tuple[PlaneSide, ...]:
    """Fill the sides that have a plane; those whose plane has too little to copy from are left out."""
    sides = []
    for side, plane in structure.planes:
        source = ground.source_of(side)
        never = never_copied(photo, ground, source)
        on = laid_on_plane(structure.working, side, plane)
        with suppress(FillError):
            sides.append(solve_side(side, on, never, ground.seed, even_light=not source))
    return tuple(sides)


def looked(filled: SolvedGround, grid: Grid) -> Look:
    """Measure a ground; a side that is filled in its plane, in its plane."""
    seen = look_around(filled.picture, grid)
    if not filled.sides:
        return seen
    in_planes = [look_around(side.solved.picture, side.on.grid).score for side in filled.sides]
    return replace(seen, score=min(in_planes))


def draw_ground(
    photo: Array, ground: Continued, grid: Grid, filled: SolvedGround, structure: Structure
) -> list[Patch]:
    """Draw what lies around a photo at full size: up to four rectangles."""
    (above, before), _ = _beyond(photo, ground)
    wide, (left, top) = photo.shape[1], ground.box[:2]
    even = structure.even(photo)
    in_planes = draw_sides(filled.sides, even, structure.working, ground.box)
    own = {side.side: side.solved for side in filled.own}
    boxes, drawn = [], []
    for side, box in boxes_around(photo, ground).items():
        boxes.append(box)
        solved = own.get(side, filled.solved)
        if box in in_planes or solved is None:
            drawn.append(in_planes.get(box, even[:0, :0]))
        else:
            drawn.append(draw(solved, grid, even, (above, before), box))
    _draw_bands(drawn, boxes, even, structure)
    if structure.shade is not None:
        for box, pixels in zip(boxes, drawn, strict=True):
            structure.shade.put_on(pixels, box[1] + left, box[0] + top)
    over = np.s_[before : before + wide]
    _join(drawn[0][::-1, over], photo[0])
    _join(drawn[1][:, over], photo[-1])
    _join(drawn[2][:, ::-1].swapaxes(0, 1), photo[:, 0])
    _join(drawn[3].swapaxes(0, 1), photo[:, -1])
    return [
        Patch(left + box[1], top + box[0], pixels)
        for box, pixels in zip(boxes, drawn, strict=True)
        if pixels.size
    ]


def _draw_bands(drawn: list[Array], boxes: list[Box], photo: Array, structure: Structure) -> None:
    """Draw the bands that go on over rectangles of ground, in place."""
    for side in structure.sides:
        seen, place = side.drawn(photo, structure.box)
        for box, pixels in zip(boxes, drawn, strict=True):
            first = [max(a, b) for a, b in zip(box[:2], place[:2], strict=True)]
            last = [min(box[n] + box[n + 2], place[n] + place[n + 2]) for n in (0, 1)]
            if last[0] <= first[0] or last[1] <= first[1]:
                continue
            here = tuple(
                slice(a - box[n], b - box[n])
                for n, (a, b) in enumerate(zip(first, last, strict=True))
            )
            there = tuple(
                slice(a - place[n], b - place[n])
                for n, (a, b) in enumerate(zip(first, last, strict=True))
            )
            lay_over(pixels[here], seen.colours[there], seen.share[there])


def _join(ground: Array, edge: Array) -> None:
    """Blend a ground, (rows outward, along, C), out of the photo's edge, (along, C), in place.

    The grain of a photo goes on from pixel to pixel; two grains side by side would be seen as a line.
    """
    rows = min(len(ground), len(_GROWN))
    if not rows or not ground.size:
        return
    top = np.iinfo(ground.dtype).max
    step = edge.astype(np.float32) - ground[0]
    for row in range(rows):
        mixed = ground[row] + step * np.float32(_GROWN[row])
        ground[row] = np.clip(np.rint(mixed), 0, top)


def _beyond(photo: Array, ground: Continued) -> tuple[tuple[int, int], tuple[int, int]]:
    """Return (rows, columns) of ground before the photo and after it."""
    left, top, right, bottom = ground.box
    return (-top, -left), (bottom - photo.shape[0], right - photo.shape[1])
