"""Places of a continued ground filled once more: what the fill repeated, or made up wrongly."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from oak_ledge.core.photos.continued import Box, BrushedOver, Continued
from oak_ledge.core.photos.retouches import Retouch
from oak_ledge.core.photos.strokes import Strokes
from oak_ledge.core.pixels.open.layers import Patch
from oak_ledge.core.pixels.retouch.area import area_of, within
from oak_ledge.core.pixels.retouch.paint_over import Array, painted


def paint_ground(photo: Array, ground: Continued, patches: list[Patch]) -> list[Patch]:
    """Return a ground's patches with what is brushed over in it filled from what surrounds that.

    Parameters
    ----------
    photo : (H, W, C) upright, that `patches` lie around; none of its pixels is changed

    Raises
    ------
    FillError
        If nothing of the ground is brushed over.
    """
    if not ground.over:
        return patches
    left, top = ground.box[:2]
    canvas = np.zeros((ground.edges[1], ground.edges[0], photo.shape[2]), photo.dtype)
    own = (-left, -top, photo.shape[1] - left, photo.shape[0] - top)
    canvas[own[1] : own[3], own[0] : own[2]] = photo
    for patch in patches:
        _of(canvas, patch, left, top)[:] = patch.pixels
    for over in ground.over:
        _fill(canvas, own, ground, over)
    return [replace(patch, pixels=_of(canvas, patch, left, top).copy()) for patch in patches]


def _of(canvas: Array, patch: Patch, left: int, top: int) -> Array:
    high, wide = patch.pixels.shape[:2]
    first = (patch.top - top, patch.left - left)
    part: Array = canvas[first[0] : first[0] + high, first[1] : first[1] + wide]
    return part


def _fill(canvas: Array, own: Box, ground: Continued, over: BrushedOver) -> None:
    """Fill one place of a canvas, in place, but for the photo that lies at `own`."""
    moved = Retouch(
        kind="paint_over",
        seed=ground.seed,
        strokes=_on_canvas(over.strokes, ground.box),
        polygons=tuple(_moved(polygon, ground.box) for polygon in over.polygons),
        take_from=_on_canvas(over.take_from, ground.box),
    )
    place = within(moved.box, ground.edges)
    mask = area_of(moved.strokes, moved.polygons, place)
    rows, columns = np.ogrid[place[1] : place[3], place[0] : place[2]]
    mask &= ~((columns >= own[0]) & (columns < own[2]) & (rows >= own[1]) & (rows < own[3]))
    patch = painted(canvas, place, mask, moved).patch
    canvas[place[1] : place[3], place[0] : place[2]] = patch.pixels


def _on_canvas(strokes: Strokes, box: Box) -> Strokes:
    return tuple(
        stroke.model_copy(update={"points": _moved(stroke.points, box)}) for stroke in strokes
    )


def _moved(points: tuple[tuple[float, float], ...], box: Box) -> tuple[tuple[float, float], ...]:
    return tuple((x - box[0], y - box[1]) for x, y in points)
