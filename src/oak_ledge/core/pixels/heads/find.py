"""The heads of a picture: each with eyes, chin and crown, and how sure each is."""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

import numpy as np
import pyvips

from oak_ledge.core.heads.face_points import MOST_FACES, FaceFound, FacePoints
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.heads.crown import crown_of
from oak_ledge.core.pixels.heads.detect import SeenFace, detect
from oak_ledge.core.pixels.heads.measure import measured
from oak_ledge.core.pixels.heads.mesh import mesh_of
from oak_ledge.core.pixels.heads.networks import Grid
from oak_ledge.core.pixels.heads.squares import smaller
from oak_ledge.core.pixels.show.preview import draw_preview
from oak_ledge.core.pixels.subject.faces import Face, find_faces
from oak_ledge.core.planes.points import Point

# Pixels along the longer edge that faces are looked for on, their points are found on, and the eyes' sharpness is
# measured on.
FACES_EDGE, HEADS_EDGE, SHARP_EDGE = 512, 1024, 2048

# How sure the second finder's face is taken to be.
SECOND_SURE = 0.5


def read_rgb(path: Path, edge: int = SHARP_EDGE) -> Grid:
    """Read a photo upright as 8-bit sRGB, no larger than an edge: (H, W, 3).

    Raises
    ------
    PhotoError
        If the file is damaged or cut short.
    """
    try:
        image = pyvips.Image.thumbnail(str(path), edge, height=edge, size="down")
        image = image.copy_memory()
    except pyvips.Error:  # a raw file, which is developed first
        image = pyvips.Image.new_from_buffer(draw_preview(path, edge), "")
    if image.hasalpha():
        image = image.flatten(background=[255])
    image = image.colourspace("srgb").cast("uchar")
    return np.ascontiguousarray(image.numpy().reshape(image.height, image.width, -1)[..., :3])


class Seen(NamedTuple):
    """The heads of a picture, and where the detector saw none the faces that the cascades did."""

    heads: tuple[FacePoints, ...]
    faces: tuple[Face, ...]


def find_heads(path: Path, upright: Pixels) -> tuple[FacePoints, ...]:
    """Find the heads of an upright picture, the tallest first, in the pixels of its photo, `upright` large."""
    return look_for_heads(path, upright).heads


def look_for_heads(path: Path, upright: Pixels) -> Seen:
    """Find heads, and the faces that the second finder saw.

    What the detector misses the trained cascades may find (`subject.faces`): the mesh judges both.
    """
    seen, faces = detect(read_rgb(path, FACES_EDGE)), tuple[Face, ...]()
    if not seen:
        faces = find_faces(path)
        if not faces:
            return Seen((), ())
        seen = [_as_seen(face) for face in faces]
    small = read_rgb(path, HEADS_EDGE)
    heads = [head for face in seen if (head := _head(small, face)) is not None]
    if not heads:
        return Seen((), faces)
    rgb = read_rgb(path)
    told = [_told(head, rgb, small, upright) for head in heads]
    tallest = sorted(told, key=lambda head: -head.height)[:MOST_FACES]
    return Seen(tuple(tallest), faces)


def _told(head: FacePoints, rgb: Grid, small: Grid, upright: Pixels) -> FacePoints:
    """Return a head of the small picture in its photo's pixels, measured on both pictures."""
    sharp = _scaled(head, rgb.shape[1] / small.shape[1])
    whole = _scaled(head, upright[0] / small.shape[1])
    return whole.model_copy(update={"measured": measured(small, head, rgb, sharp)})


def measure_head(path: Path, upright: Pixels, face: FacePoints) -> FacePoints:
    """Return a face with what its pixels on an upright picture of the photo say."""
    rgb = read_rgb(path)
    small = smaller(rgb, HEADS_EDGE)
    sharp, of_small = (_scaled(face, pixels.shape[1] / upright[0]) for pixels in (rgb, small))
    return face.model_copy(update={"measured": measured(small, of_small, rgb, sharp)})


def _as_seen(face: Face) -> SeenFace:
    """Take a face of the cascades for one the detector saw, as shares: an eye lies an eighth of its width to either side."""
    x, y, w, h = face.left, face.top, face.width, face.height
    eyes, aside = np.array(face.eyes), np.array([w / 8, 0.0])
    bare = np.array([x + w * 0.19, y + h * 0.25, w * 0.62, h * 0.55])  # without its headroom
    return SeenFace(bare, np.array([eyes - aside, eyes + aside]), SECOND_SURE)


def _head(rgb: Grid, face: SeenFace) -> FacePoints | None:
    mesh = mesh_of(rgb, face)
    if mesh is None:
        return None
    crown = crown_of(rgb, mesh)
    found = FaceFound(
        sure=min(1.0, round(face.sure, 3)),
        chin_within=round(mesh.chin_within, 2),
        crown_within=round(crown.within, 2),
        crown_seen=crown.seen,
    )
    try:
        return FacePoints(
            left_eye=_point(mesh.left),
            right_eye=_point(mesh.right),
            chin=_point(mesh.chin),
            crown=_point(mesh.eyes - mesh.down * crown.above),
            found=found,
        )
    except ValueError:  # a mesh that lies on no face
        return None


def _point(at: Grid) -> Point:
    """Return a point as a picture's edge counts it: pixel i covers [i, i + 1]."""
    return float(at[0]) + 0.5, float(at[1]) + 0.5


def _scaled(face: FacePoints, by: float) -> FacePoints:
    """Return a face in other pixels of the same picture, to a tenth of one."""
    points = [(round(x * by, 1), round(y * by, 1)) for x, y in face.points]
    found = face.found
    if found is not None:
        within = {
            "chin_within": round(found.chin_within * by, 1),
            "crown_within": round(found.crown_within * by, 1),
        }
        found = found.model_copy(update=within)
    names = ("left_eye", "right_eye", "chin", "crown")
    return face.model_copy(update={**dict(zip(names, points, strict=True)), "found": found})
