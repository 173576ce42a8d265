"""Rotations and homographies: a matrix is 3 × 3 and maps column vectors (x, y, 1) up to scale."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, TypeAlias

import numpy as np

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.planes.points import Point, rectangle, turn_of
from oak_ledge.core.values import FAR

if TYPE_CHECKING:
    import numpy.typing as npt

Matrix: TypeAlias = "npt.NDArray[np.float64]"


# Places along each edge of an output at which its steps are looked at.
GRID = 33


def crop_matrix(
    left: float, top: float, width: float, height: float, angle: float, output: tuple[int, int]
) -> Matrix:
    """Map output points [0, W] × [0, H] onto the crop: c + R(θ)·((u/W − ½)·w, (v/H − ½)·h)."""
    c, s = turn_of(angle)
    across, along = width / output[0], height / output[1]
    cx, cy = left + width / 2, top + height / 2
    return np.array(
        [
            [c * across, -s * along, cx - c * width / 2 + s * height / 2],
            [s * across, c * along, cy - s * width / 2 - c * height / 2],
            [0.0, 0.0, 1.0],
        ]
    )


def onto_quad(width: float, height: float, corners: Sequence[Point]) -> Matrix:
    """Map the rectangle [0, width] × [0, height] onto four corners, clockwise from top left.

    Heckbert, *Fundamentals of texture mapping and image warping*, 1989, section 2.2.3, as the
    solution of the eight linear equations.

    Raises
    ------
    PlacementError
        If the corners are concave, cross, or lie nearly on a line.
    """
    check_quad(corners)
    rows, values = [], []
    for (u, v), (x, y) in zip(rectangle(width, height), corners, strict=True):
        rows += [[u, v, 1, 0, 0, 0, -u * x, -v * x], [0, 0, 0, u, v, 1, -u * y, -v * y]]
        values += [x, y]
    solved = np.linalg.solve(np.array(rows, np.float64), np.array(values, np.float64))
    return np.append(solved, 1.0).reshape(3, 3)


def check_quad(corners: Sequence[Point]) -> None:
    """Refuse corners that are no picture of a rectangle, clockwise from its top left.

    Raises
    ------
    PlacementError
        With what is wrong with them.
    """
    if not all(abs(edge) <= FAR for corner in corners for edge in corner):
        msg = "the corners must be four points of the photo, in its pixels"
        raise PlacementError(msg)
    around = [*corners, *corners[:2]]
    turns = []
    for a, b, c in zip(around, around[1:], around[2:], strict=False):
        edge, two = (b[0] - a[0], b[1] - a[1]), (c[0] - b[0], c[1] - b[1])
        lengths = (edge[0] ** 2 + edge[1] ** 2) ** 0.5 * (two[0] ** 2 + two[1] ** 2) ** 0.5
        turns.append((edge[0] * two[1] - edge[1] * two[0]) / lengths if lengths else 0.0)
    if any(abs(turn) < 0.02 for turn in turns):
        msg = "two edges of the corners lie nearly on one line; set them wider apart"
        raise PlacementError(msg)
    if all(turn < 0 for turn in turns):
        msg = "the corners run anticlockwise; give them clockwise from the top left"
        raise PlacementError(msg)
    if any(turn < 0 for turn in turns):
        msg = "the corners cross or bend inward; they must go round a convex shape"
        raise PlacementError(msg)


def inverse(matrix: Matrix) -> Matrix:
    """Return the matrix that maps back."""
    inverted: Matrix = np.linalg.inv(matrix).astype(np.float64)
    return inverted


def at(matrix: Matrix, points: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """Map (N, 2) points."""
    mapped = points @ matrix[:, :2].T + matrix[:, 2]
    points_there: npt.NDArray[np.float64] = mapped[:, :2] / mapped[:, 2:]
    return points_there


def local_steps(matrix: Matrix, output: tuple[int, int]) -> npt.NDArray[np.float64]:
    """Return photo pixels per output pixel at nine places of the output, across and along: (9, 2).

    The columns of the mapping's Jacobian, by central differences of a whole pixel.
    """
    places = [(u * output[0], v * output[1]) for u in (0.02, 0.5, 0.98) for v in (0.02, 0.5, 0.98)]
    base = np.array(places, np.float64)
    half = np.eye(2) / 2
    across = at(matrix, base + half[0]) - at(matrix, base - half[0])
    along = at(matrix, base + half[1]) - at(matrix, base - half[1])
    return np.stack([np.hypot(*across.T), np.hypot(*along.T)], axis=1)


def steps_on(
    matrix: Matrix, output: tuple[int, int], photo: tuple[float, float]
) -> npt.NDArray[np.float64]:
    """Return photo pixels per output pixel, across and along, where an output shows its photo: (n, 2).

    Looked at on a grid of the output; near where a plane vanishes there are many, but mostly beyond
    the photo, where nothing has to be mapped. Empty where none of it is shown.
    """
    u, v = (np.linspace(0.02 * edge, 0.98 * edge, GRID) for edge in output)
    base = np.stack(np.meshgrid(u, v), axis=-1).reshape(-1, 2)
    half = np.eye(2) / 2
    here = at(matrix, base)
    around = 0.02 * max(photo)
    on_it = ((here >= -around) & (here <= np.array(photo) + around)).all(axis=1)
    # on this side of where the plane vanishes
    depth = base @ matrix[2, :2] + matrix[2, 2]
    on_it &= depth > 0 if depth.max() > 0 else depth < 0
    base = base[on_it]
    across = at(matrix, base + half[0]) - at(matrix, base - half[0])
    along = at(matrix, base + half[1]) - at(matrix, base - half[1])
    return np.stack([np.hypot(*across.T), np.hypot(*along.T)], axis=1)


def mapped_share(matrix: Matrix, output: tuple[int, int], photo: tuple[float, float]) -> float:
    """Return how many pixels have to be mapped to draw an output, per pixel of its photo."""
    densest = float(steps_on(matrix, output, photo).max(initial=1.0))
    return output[0] * output[1] * densest**2 / (photo[0] * photo[1])


def corners_of(matrix: Matrix, width: float, height: float) -> list[Point]:
    """Return where the corners of [0, width] × [0, height] are mapped, clockwise from top left."""
    flat = np.array(rectangle(width, height), np.float64)
    return [(float(x), float(y)) for x, y in at(matrix, flat)]
