"""A photo's retouches and its continued ground, made: the scene that pieces are cut from.

What is made is named by what it is made of and kept by who asks; missing, it is made again, bit for bit.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt

from oak_ledge.core.photos.continued import Box, Continued
from oak_ledge.core.photos.retouches import NO_RETOUCHES, Retouch, Retouches, needed
from oak_ledge.core.pixels.cache import Arrays, Keep, not_kept
from oak_ledge.core.pixels.cut_out.cut_out import cut_out
from oak_ledge.core.pixels.fill.grid import Grid
from oak_ledge.core.pixels.fill.solve import Solved
from oak_ledge.core.pixels.ground.continued import (
    SolvedGround,
    draw_ground,
    grid_of,
    looked,
    solve_ground,
)
from oak_ledge.core.pixels.ground.plane_side import PlaneSide, laid_on_plane
from oak_ledge.core.pixels.ground.side_source import OwnSide, with_own_source
from oak_ledge.core.pixels.ground.structure import Structure, structure_of
from oak_ledge.core.pixels.kept_arrays import are_look, are_patches, are_solved, is_picture
from oak_ledge.core.pixels.open.header import upright_size
from oak_ledge.core.pixels.open.layers import Patch, Scene
from oak_ledge.core.pixels.open.photo import open_photo, upright_pixels
from oak_ledge.core.pixels.retouch.copy_texture import copy_texture
from oak_ledge.core.pixels.retouch.paint_ground import paint_ground
from oak_ledge.core.pixels.retouch.paint_over import paint_over
from oak_ledge.core.pixels.retouch.spot import draw_spot
from oak_ledge.core.pixels.tries.ranking import Look

# What is kept of an older one is made anew.
RECIPE = 2

# Structures that are remembered, by all they are made of.
_REMEMBERED = 3
_STRUCTURES: dict[tuple[object, ...], Structure] = {}


def of_retouch(retouches: Retouches, retouch: Retouch) -> str:
    """Return all that a retouch's patch is made of, besides the photo's file."""
    under = needed(retouches.retouches, retouch)
    parts = [other.model_dump_json(exclude={"shown", "number"}) for other in (*under, retouch)]
    if retouch.kind == "paint_over":
        parts += [
            other.model_dump_json(include={"strokes", "polygons"})
            for other in _others(retouches, retouch)
        ]
    return f"retouch {RECIPE} {parts}"


def of_solved(retouches: Retouches, ground: Continued) -> str:
    """Return all that a ground is solved from, besides the photo's file."""
    shown = [of_retouch(retouches, retouch) for retouch in retouches.painted]
    return f"solved {RECIPE} {shown} {ground.model_dump_json(exclude={'over'})}"


def of_ground(retouches: Retouches, ground: Continued) -> str:
    """Return all that a ground's full size is made of, besides the photo's file."""
    over = [place.model_dump_json() for place in ground.over]
    return f"ground {of_solved(retouches, ground)} {over}"


def _others(retouches: Retouches, retouch: Retouch) -> list[Retouch]:
    """Return the earlier retouches that lie elsewhere: what was to go must not be copied."""
    under = {other.number for other in needed(retouches.retouches, retouch)}
    earlier = []
    for other in retouches.retouches:
        if other.number == retouch.number:
            break
        if other.number not in under and other.kind != "cut_out":
            earlier.append(other)
    return earlier


@dataclass(frozen=True)
class Maker:
    """Makes what is laid over one photo, and keeps it; the photo is decoded when first needed."""

    path: Path
    retouches: Retouches = NO_RETOUCHES
    keep: Keep = not_kept
    first: tuple[Patch, ...] = ()
    """patches that are there already, below all others"""
    _laid: dict[tuple[int, ...], npt.NDArray[Any]] = field(default_factory=dict)

    @cached_property
    def photo(self) -> npt.NDArray[Any]:
        """The photo's own pixels, (H, W, C), upright.

        Raises
        ------
        PhotoError
            If the file is damaged.
        """
        first = [patch for patch in self.first if not patch.cuts]
        return _laid_over(np.ascontiguousarray(upright_pixels(self.path)), first)

    @cached_property
    def retouched(self) -> npt.NDArray[Any]:
        """The photo's pixels with all that is to be seen painted over and copied on it."""
        return self._with(self.retouches.painted)

    @cached_property
    def _alpha(self) -> bool:
        return open_photo(self.path).alpha

    def scene(self, ground: Continued | None = None) -> Path | Scene:
        """Return the photo as it is to be cut; its own file where nothing is laid over it."""
        patches = [*self.first, *(self.patch(retouch) for retouch in self.retouches.painted)]
        if ground is not None:
            patches += self.ground(ground)
        if self.retouches.cut is not None:  # last: what is clear lies beside it
            patches.append(self.patch(self.retouches.cut))
        patches.sort(key=lambda patch: patch.cuts)
        if not patches and ground is None:
            return self.path
        box = ground.box if ground is not None else (0, 0, *upright_size(self.path))
        return Scene(self.path, tuple(patches), box)

    def patch(self, retouch: Retouch) -> Patch:
        """Return the patch of a retouch."""
        cuts = retouch.kind == "cut_out"
        more = int(cuts and not self._alpha)

        def is_sound(arrays: Arrays) -> bool:
            return are_patches(arrays, self.photo, within=True, more_bands=more)

        of = of_retouch(self.retouches, retouch)
        patch = patches_in(self.keep(of, lambda: self._made(retouch), is_sound))[0]
        return replace(patch, cuts=cuts)

    def spot(self, retouch: Retouch, edge: int) -> bytes:
        """Draw a retouch and what lies around it, as an sRGB JPEG of at most `edge` pixels."""
        opened = open_photo(self.path)
        under = self._with(needed(self.retouches.retouches, retouch))
        return draw_spot(under, self.patch(retouch), opened.icc, opened.image.interpretation, edge)

    def _made(self, retouch: Retouch) -> Arrays:
        under = self._with(needed(self.retouches.retouches, retouch))
        if retouch.kind == "copy_texture":
            return as_arrays([copy_texture(under, retouch)])
        if retouch.kind == "cut_out":
            cut = cut_out(under, retouch, alpha=self._alpha)
            return as_arrays([cut.patch]) | arrays_of(cut.look)
        painted = paint_over(under, retouch, _others(self.retouches, retouch))
        return as_arrays([painted.patch]) | arrays_of(painted.look)

    def _with(self, some: tuple[Retouch, ...]) -> npt.NDArray[Any]:
        if not some:
            return self.photo
        key = tuple(retouch.number for retouch in some)
        if key not in self._laid:
            self._laid[key] = _laid_over(self.photo, [self.patch(retouch) for retouch in some])
        return self._laid[key]

    def solved(self, ground: Continued) -> tuple[SolvedGround, Grid, Look]:
        """Solve a ground on its grid."""
        structure = self._structure(ground.box)
        even = structure.even(self.retouched)
        grid = grid_of(even, ground, structure)

        def made() -> Arrays:
            filled = solve_ground(even, ground, grid, structure)
            arrays = {"picture": filled.picture} | arrays_of(looked(filled, grid))
            if filled.solved is not None:
                arrays |= _of_solved(filled.solved, "")
            for side in filled.sides:
                arrays |= _of_solved(side.solved, f"{side.side}_")
            for own in filled.own:
                arrays |= _of_solved(own.solved, f"own_{own.side}_")
            return arrays

        on = {
            side: laid_on_plane(structure.working, side, plane) for side, plane in structure.planes
        }

        named = with_own_source(even, ground)
        holes = {"": grid.hole} | {f"{side}_": other.grid.hole for side, other in on.items()}
        holes |= {f"own_{side}_": grid.hole for side in named}

        def is_sound(arrays: Arrays) -> bool:
            filled = [which for which in holes if f"{which}from_y" in arrays]
            solved = all(are_solved(arrays, which, holes[which]) for which in filled)
            whole = "" in filled or len(filled) == structure.open
            return whole and solved and is_picture(arrays, grid.hole) and are_look(arrays)

        of = of_solved(self.retouches, ground)
        kept = self.keep(of, made, is_sound)
        sides = tuple(
            PlaneSide(side, on[side], _solved_in(kept, f"{side}_"))
            for side in on
            if f"{side}_from_y" in kept
        )
        solved = _solved_in(kept, "") if "from_y" in kept else None
        own = tuple(
            OwnSide(side, _solved_in(kept, f"own_{side}_"))
            for side in named
            if f"own_{side}_from_y" in kept
        )
        return SolvedGround(kept["picture"], solved, sides, own), grid, look_in(kept)

    def _structure(self, box: Box) -> Structure:
        """Return what of the photo goes on within a box; the same for all tries.

        The last few are remembered: a worker makes several tries of one box, one after the other.
        """
        if self.first:
            return structure_of(self.retouched, box)
        written = self.path.stat()
        shown = tuple(of_retouch(self.retouches, retouch) for retouch in self.retouches.painted)
        key = (self.path, written.st_mtime_ns, written.st_size, shown, box)
        structure = _STRUCTURES.get(key)
        if structure is None:
            structure = structure_of(self.retouched, box)
            for oldest in list(_STRUCTURES)[: 1 - _REMEMBERED]:
                _STRUCTURES.pop(oldest, None)
            _STRUCTURES[key] = structure
        return structure

    def ground(self, ground: Continued) -> list[Patch]:
        """Return the patches of a ground, at full size."""

        def made() -> Arrays:
            filled, grid, _ = self.solved(ground)
            structure = self._structure(ground.box)
            patches = draw_ground(self.retouched, ground, grid, filled, structure)
            return as_arrays(paint_ground(self.retouched, ground, patches))

        def is_sound(arrays: Arrays) -> bool:
            return are_patches(arrays, self.photo, within=False)

        return patches_in(self.keep(of_ground(self.retouches, ground), made, is_sound))


def _laid_over(pixels: npt.NDArray[Any], patches: Sequence[Patch]) -> npt.NDArray[Any]:
    """Return a photo's pixels with patches laid over them; they themselves stay."""
    if not patches:
        return pixels
    laid = pixels.copy()
    for patch in patches:
        high, wide = patch.pixels.shape[:2]
        laid[patch.top : patch.top + high, patch.left : patch.left + wide] = patch.pixels
    return laid


def as_arrays(patches: list[Patch]) -> dict[str, npt.NDArray[Any]]:
    """Return patches as they are kept."""
    arrays: dict[str, npt.NDArray[Any]] = {}
    for n, patch in enumerate(patches):
        arrays[f"at{n}"] = np.array((patch.left, patch.top))
        arrays[f"pixels{n}"] = patch.pixels
    return arrays


def patches_in(arrays: Arrays) -> list[Patch]:
    """Return patches that were kept."""
    patches: list[Patch] = []
    while f"at{len(patches)}" in arrays:
        left, top = (int(edge) for edge in arrays[f"at{len(patches)}"])
        patches.append(Patch(left, top, arrays[f"pixels{len(patches)}"]))
    return patches


def arrays_of(seen: Look) -> dict[str, npt.NDArray[Any]]:
    """Return what orders a try, as it is kept."""
    figures = np.array((seen.score, seen.soft))
    return {"figures": figures, "thumb": seen.thumb, "hole": seen.hole}


def look_in(arrays: Arrays) -> Look:
    """Return what orders a try, that was kept."""
    score, soft = (float(figure) for figure in arrays["figures"])
    return Look(score, soft, arrays["thumb"], arrays["hole"])


def _of_solved(solved: Solved, which: str) -> dict[str, npt.NDArray[Any]]:
    arrays = {
        "from_y": solved.from_y.astype(np.int16),
        "from_x": solved.from_x.astype(np.int16),
        "colours": solved.colours,
        "scalars": np.array((solved.gain, solved.strays)),
    }
    if solved.light is not None:
        arrays["light"] = solved.light
    return {f"{which}{name}": array for name, array in arrays.items()}


def _solved_in(arrays: Arrays, which: str) -> Solved:
    return Solved(
        arrays[f"{which}from_y"].astype(np.int32),
        arrays[f"{which}from_x"].astype(np.int32),
        arrays[f"{which}colours"],
        arrays.get(f"{which}light"),
        *(float(array) for array in arrays[f"{which}scalars"]),
    )
