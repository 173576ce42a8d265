"""Eyes and chin of one face, by a mesh of 468 points that is laid over it."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from oak_ledge.core.pixels.heads.detect import SeenFace
from oak_ledge.core.pixels.heads.networks import LOOK, MESH, Grid, run, share
from oak_ledge.core.pixels.heads.squares import square_at

# Below this share the mesh lies on no face.
SURE = 0.5

# Of the mesh: two corners and two lids of either eye, left and right as in the picture; chin; cheeks.
_EYES, _CHIN, _CHEEKS = ((33, 133, 159, 145), (362, 263, 386, 374)), 152, (234, 454)

# Of eyes to chin: no chin is known better.
_CHIN_ROUGHLY = 0.04

# Times a face's box: the square the mesh is looked for in. Each time it follows the mesh found before.
_AROUND, _ROUNDS = 1.5, 3


class MeshedFace(NamedTuple):
    """Eyes and chin of a face; `down` is the unit step along its own axis, `tall` eyes to chin, `broad` cheek to cheek, pixels."""

    left: Grid
    right: Grid
    chin: Grid
    chin_within: float
    down: Grid
    tall: float
    broad: float

    @property
    def eyes(self) -> Grid:
        """The midpoint of both eyes."""
        return (self.left + self.right) / 2


def mesh_of(rgb: Grid, face: SeenFace) -> MeshedFace | None:
    """Lay the mesh over a face; None where it finds none there."""
    edges = np.array(rgb.shape[1::-1])
    (left, right), points = face.eyes * edges, np.empty((0, 2))
    centre, extent = (face.box[:2] + face.box[2:] / 2) * edges, face.box[2:] * edges
    side = _AROUND * float(max(extent))
    chins, down = [], np.array([0.0, 1.0])
    for _ in range(_ROUNDS):
        apart = np.hypot(*(right - left))
        if not apart:
            return None
        line = (right - left) / apart
        down = np.array([-line[1], line[0]])
        square, back = square_at(rgb, centre, side, down, LOOK)
        flag, mesh = run(MESH, square, 1 / 255)
        if share(float(flag.ravel()[0])) < SURE:
            return None
        points = mesh.reshape(-1, 3)[:, :2] @ back[:, :2].T + back[:, 2]
        left, right = (points[list(eye)].mean(axis=0) for eye in _EYES)
        chins.append(float(points[_CHIN] @ down))
        centre = (points.min(axis=0) + points.max(axis=0)) / 2
        side = _AROUND * float(max(np.ptp(points, axis=0)))
    chin = points[_CHIN]
    tall = float((chin - (left + right) / 2) @ down)
    broad = float(np.hypot(*np.subtract(*points[list(_CHEEKS)])))
    if tall < 1 or broad < 1:
        return None
    within = max(_CHIN_ROUGHLY * tall, float(np.ptp(chins[1:])))
    return MeshedFace(left, right, chin, within, down, tall, broad)
