"""What of a photo's structure goes on around it: lines of each open side, and an edge of light.

Found on a picture of the photo; laid down on the grid before the rest is filled, and drawn over the
fill at full size.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from oak_ledge.core.photos.continued import Box, Side
from oak_ledge.core.pixels.bands.band import band_of
from oak_ledge.core.pixels.bands.bent_rows import bent_by
from oak_ledge.core.pixels.bands.bundles import bundles
from oak_ledge.core.pixels.bands.light_edge import light_edge
from oak_ledge.core.pixels.bands.shade import Shade
from oak_ledge.core.pixels.bands.side_structure import (
    SideStructure,
    Working,
    working_picture,
)
from oak_ledge.core.pixels.bands.uncopied_lines import line_places, lonely_lines
from oak_ledge.core.pixels.fill.grid import Floats, Grid, Mask
from oak_ledge.core.pixels.fill.guide import rows as level_rows
from oak_ledge.core.pixels.fill.solve import Laid
from oak_ledge.core.pixels.ground.plane import Plane, plane_to
from oak_ledge.core.pixels.ground.plane_point import plane_point
from oak_ledge.core.pixels.lines.rim_line import RimLine
from oak_ledge.core.pixels.lines.rim_lines import rim_lines
from oak_ledge.core.pixels.lines.side import SIDES, beyond, turned, turned_back, turned_places

Array = npt.NDArray[Any]

# Pixels of the working picture: a narrower strip goes on without lines.
_LEAST_BEYOND = 6

# Of a block: so much of it is a band's, and it is laid; a line touches it, and it isn't copied.
_LAID, _TOUCHED = 0.6, 0.05

# Of what lies in a shadow: so much may turn white without it, or it is none.
_MOST_CLIPPED = 0.05

# Bands of one side that lie in no plane: more are matter, like slats, which the fill knows better.
_MOST_BANDS = 9

# Of the photo must be left to copy from, or lines may be copied too.
_LEAST_FREE = 0.15


@dataclass(frozen=True)
class Structure:
    """What goes on around a photo."""

    open: int
    """how many sides of the photo"""
    sides: tuple[SideStructure, ...]
    """those with lines that go on"""
    planes: tuple[tuple[Side, Plane], ...]
    """those whose lines meet, where none that is beside it is open too"""
    shade: Shade | None
    working: Working
    """of the photo in even light"""
    edges: tuple[int, int]
    box: Box

    def even(self, photo: Array) -> Array:
        """Return the photo, (H, W, C), in even light; itself where it has no edge of light."""
        return photo if self.shade is None else self.shade.without(photo)

    def uncopied(self, grid: Grid) -> Mask:
        """Mark, on the grid, the lines that are not to be copied elsewhere."""
        if not self.sides and self.shade is None:
            return np.zeros_like(grid.hole)
        mask = lonely_lines(self.working.picture)
        for side in self.sides:
            mask |= side.uncopied
        if self.shade is not None:
            mask |= self._near_shade()
        on_grid = _on_grid(mask.astype(np.float32), self.working.scale, (0, 0), grid, self.box)
        marked: Mask = (on_grid > _TOUCHED) & grid.known
        few = (grid.known & ~marked).sum() < _LEAST_FREE * grid.known.sum()
        return np.zeros_like(marked) if few else marked

    def _near_shade(self) -> Mask:
        """Mark where light changes: what is left of it there is better not copied."""
        assert self.shade is not None
        high, wide = self.working.picture.shape[:2]
        scale, edge = self.working.scale, self.shade.edge
        columns, rows = ((np.arange(n) + 0.5) * scale - 0.5 for n in (wide, high))
        x, y = turned_places(self.shade.side, self.edges, columns, rows)
        x, y = np.broadcast_arrays((x + 0.5) / scale - 0.5, (y + 0.5) / scale - 0.5)
        near: Mask = np.abs(y - edge.line.y(x)) < edge.soft + 4
        return near & (x > -edge.line.columns)

    def laid(self, grid: Grid) -> Laid | None:
        """Return the bands on the grid; None where there are none."""
        if not self.sides:
            return None
        colours = np.zeros((*grid.hole.shape, 3), np.float32)
        share = np.zeros(grid.hole.shape, np.float32)
        picture, scale = self.working.picture, self.working.scale
        small = tuple(round(n / scale) for n in self.box)
        high, wide = picture.shape[:2]
        box = (small[0], small[1], wide + small[2] - round(self.edges[0] / scale),
               high + small[3] - round(self.edges[1] / scale))  # fmt: skip
        for side in self.sides:
            seen, place = replace(side, scale=1.0).drawn(picture, box)
            at = (place[0] + box[1], place[1] + box[0])
            both = np.dstack([seen.colours * seen.share[..., None], seen.share])
            on_grid = _on_grid(both, scale, at, grid, self.box)
            more = on_grid[..., 3] > share
            colours[more] = on_grid[more, :3] / np.maximum(on_grid[more, 3:], 1e-3)
            share = np.maximum(share, on_grid[..., 3])
        mask = (share > _LAID) & grid.hole
        return Laid(colours, mask) if mask.any() else None

    def guide(self, grid: Grid) -> Floats | None:
        """Return rows bent along the lines of the left and right sides; None where there are none."""
        level = [side for side in self.sides if side.side in ("left", "right")]
        if not level or len(level) < len(self.sides):
            return None
        rows = level_rows(grid)
        scale, step = self.working.scale, grid.step
        high, wide = grid.hole.shape
        columns = (np.arange(wide) + 0.5) * step - 0.5 - grid.lead[1] + self.box[0]
        lines = (np.arange(high) + 0.5) * step - 0.5 - grid.lead[0] + self.box[1]
        bent = np.zeros(grid.hole.shape)
        for side in level:
            x, y = turned_places(side.side, self.edges, columns, lines)
            x, y = (((part + 0.5) / scale - 0.5).ravel() for part in (x, y))
            own = [band.bundle for band in side.bands]
            edges = (self.working.picture.shape[1], self.working.picture.shape[0])
            bent += bent_by(own, x, y, edges)
        led = np.arange(high)[:, None] - bent * scale / step
        return np.clip(led, rows.min(), rows.max()).astype(np.float32)


def _on_grid(values: Floats, scale: float, at: tuple[int, int], grid: Grid, box: Box) -> Floats:
    """Return the means over blocks of what lies at (row, column) `at` of the working picture's places."""
    step = grid.step / scale
    size = max(1, round(step))
    padded = cv2.copyMakeBorder(values, size, size, size, size, cv2.BORDER_CONSTANT, value=(0,) * 4)
    means = cv2.blur(padded, (size, size)) if size > 1 else padded
    high, wide = grid.hole.shape
    x = ((np.arange(wide) + 0.5) * grid.step - grid.lead[1] + box[0]) / scale - 0.5 - at[1] + size
    y = ((np.arange(high) + 0.5) * grid.step - grid.lead[0] + box[1]) / scale - 0.5 - at[0] + size
    on_grid: Floats = cv2.remap(
        means,
        np.repeat(x[None].astype(np.float32), high, 0),
        np.repeat(y[:, None].astype(np.float32), wide, 1),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_CONSTANT,
        borderValue=(0,) * 4,
    )
    return on_grid


def structure_of(photo: Array, box: Box) -> Structure:
    """Return what of a photo, (H, W, C) upright, goes on within a box around it."""
    edges = (photo.shape[1], photo.shape[0])
    working = working_picture(photo)
    open_sides = [
        side for side in SIDES if beyond(box, edges, side) >= _LEAST_BEYOND * working.scale
    ]
    lines = {side: _lines(working, side, box, edges) for side in open_sides}
    shade = _shade(working, lines, box, edges)
    if shade is not None:
        even = replace(shade, scale=1.0, edges=_edges(working))
        working = Working(even.without(working.picture), working.scale)
        lines = {side: _lines(working, side, box, edges) for side in open_sides}
    found = [_side(working, side, lines[side], beyond(box, edges, side)) for side in open_sides]
    sides = tuple(side for side, _ in found if side.bands)
    alone = len(open_sides) == 1 or set(open_sides) in ({"left", "right"}, {"top", "bottom"})
    planes = tuple((side.side, plane) for side, plane in found if plane is not None and alone)
    return Structure(len(open_sides), sides, planes, shade, working, edges, box)


def _lines(working: Working, side: Side, box: Box, edges: tuple[int, int]) -> list[RimLine]:
    """Return the lines that reach a side, of the picture with that side turned to the right."""
    picture = np.ascontiguousarray(turned(working.picture, side))
    return rim_lines(picture, round(beyond(box, edges, side) / working.scale))


def _edges(working: Working) -> tuple[int, int]:
    return working.picture.shape[1], working.picture.shape[0]


def _side(
    working: Working, side: Side, lines: Sequence[RimLine], out: int
) -> tuple[SideStructure, Plane | None]:
    picture = np.ascontiguousarray(turned(working.picture, side))
    columns = round(out / working.scale)
    point = plane_point(picture, lines, columns)
    edges = (picture.shape[1], picture.shape[0])
    plane = None if point is None else plane_to(point, edges, columns)
    found = bundles(lines, picture, columns)
    bands = [band for bundle in found if (band := band_of(picture, bundle, columns)) is not None]
    if plane is None and len(bands) > _MOST_BANDS:
        bands = []
    places = line_places(picture, [band.bundle for band in bands])
    upright = np.ascontiguousarray(turned_back(places, side))
    return SideStructure(side, tuple(bands), working.scale, upright), plane


def _shade(
    working: Working, lines: Mapping[Side, Sequence[RimLine]], box: Box, edges: tuple[int, int]
) -> Shade | None:
    """Return the edge of light that counts most of all sides."""
    best, most = None, 0.0
    for side, found_lines in lines.items():
        picture = np.ascontiguousarray(turned(working.picture, side))
        columns = round(beyond(box, edges, side) / working.scale)
        found = light_edge(found_lines, picture, columns)
        if found is not None:
            counts = abs(float(np.log(found.share.mean()))) * found.line.length
            small = Shade(side, found, 1.0, _edges(working))
            if counts > most and small.clips(working.picture) < _MOST_CLIPPED:
                best, most = Shade(side, found, working.scale, edges), counts
    return best
