"""A side filled in the plane of the lines that run off it: level there, and mapped back with one resample.

Only the point that lines meet in is known, so rays are made level by the projective map that sends it
endlessly far and leaves the rim as it is (Hartley & Zisserman, *Multiple View Geometry*, section 2.7).
Lengths are pixels of the working picture, turned so that the side is at the right.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import cv2
import numpy as np

from oak_ledge.core.pixels.bands.strip import sample
from oak_ledge.core.pixels.fill.grid import Floats, Grid, around_photo, step_for
from oak_ledge.core.pixels.fill.solve import Solved, Terms, solve
from oak_ledge.core.pixels.fill.uncopied import subject
from oak_ledge.core.pixels.lines.segments import Doubles
from oak_ledge.core.pixels.lines.side import Array
from oak_ledge.core.pixels.tries.ways import MOST_FILLED, PLANE

# Times: matter is neither enlarged nor made smaller by more.
_MOST_TIMES = 3.0

# Of the photo: the plane's picture is no larger.
_MOST_HIGH, _MOST_WIDE, _MOST_DEEP = 3.2, 3.5, 1.5

# Times the photo's edge: a point farther off is endlessly far.
_FAR = 20.0

# Of 255: a block that is touched by so much of a mask is marked.
_TOUCHED = 12

# Rows at a time.
_ROWS = 64


@dataclass(frozen=True)
class Plane:
    """The plane of the rays to a point, around a turned photo of `wide` × `high` pixels.

    `left`, `top` are where its picture begins, `width`, `height` how large it is; `beyond` columns of
    that lie beyond the rim.
    """

    point: tuple[float, float, float]
    wide: int
    high: int
    left: int
    top: int
    width: int
    height: int
    beyond: int

    def there(self, x: Floats, y: Floats) -> tuple[Floats, Floats]:
        """Return where places of the photo lie in the plane."""
        px, py, pw = self.point
        if not pw:
            return x, y - py / px * x
        by = px / (px - x)
        return x * by, py + (y - py) * by

    def back(self, x: Floats, y: Floats) -> tuple[Floats, Floats]:
        """Return where places of the plane lie on the photo."""
        px, py, pw = self.point
        if not pw:
            return x, y + py / px * x
        column = px * x / (px + x)
        return column, py + (y - py) * (px - column) / px

    def places(self, columns: int) -> tuple[Floats, Floats]:
        """Return which places of the turned picture its first columns show, (height, columns) each."""
        across, down = np.meshgrid(
            np.arange(columns, dtype=np.float64) + self.left,
            np.arange(self.height, dtype=np.float64) + self.top,
        )
        x, y = self.back(across, down)
        return (x + self.wide).astype(np.float32), y.astype(np.float32)


def plane_to(point: Doubles, edges: tuple[int, int], beyond: int) -> Plane | None:
    """Return the plane of the rays to a point (x, y, w); None where it shows too little, or too much.

    Parameters
    ----------
    edges : of the turned photo, width and height
    beyond : columns that are filled
    """
    wide, high = edges
    if abs(point[2]) * max(edges) * _FAR < np.hypot(point[0], point[1]):
        if abs(point[0]) < 1e-9:
            return None
        known = (float(point[0]), float(point[1]), 0.0)
        first = -wide
    else:
        x, y = (float(part) for part in point[:2] / point[2])
        if -0.25 * wide < x < 1.35 * beyond:  # the point is seen there
            return None
        known = (x, y, 1.0)
        columns = np.arange(-wide, beyond + 1, dtype=np.float64)
        times = np.abs(x / (x - columns))
        usable = (times < _MOST_TIMES) & (times > 1 / _MOST_TIMES) & ((x - columns) * x > 0)
        if not usable[-2:].all():
            return None
        first = int(columns[np.flatnonzero(usable)[0]])
    whole = Plane(known, wide, high, 0, 0, 0, 0, 0)
    (left, right), _ = whole.there(np.array([first, beyond], np.float64), np.zeros(2))
    left = max(np.floor(left), -_MOST_DEEP * wide)
    near = np.linspace(-0.35 * wide, beyond, 9)
    tops = whole.there(near, np.zeros(9))[1]
    feet = whole.there(near, np.full(9, high - 1.0))[1]
    top, foot = np.floor(min(tops.min(), feet.min())), np.ceil(max(tops.max(), feet.max()))
    width, height = int(np.ceil(right) - left), int(foot - top)
    if height > _MOST_HIGH * high or width > _MOST_WIDE * wide or left >= 0:
        return None
    return replace(
        whole, left=int(left), top=int(top), width=width, height=height, beyond=int(np.ceil(right))
    )


@dataclass(frozen=True)
class OnPlane:
    """The photo on its plane: the grid its side is filled on, and what of it is not of the photo."""

    plane: Plane
    grid: Grid
    outside: Array
    """(h, w) blocks of the plane that the photo does not show"""

    def marked(self, mask: Array) -> Array:
        """Return which blocks a mask of the turned picture, (H, W), touches, or lie outside it."""
        plane, known = self.plane, self.plane.width - self.plane.beyond
        x, y = plane.places(known)
        there = cv2.remap(
            mask.astype(np.uint8) * 255, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
        )
        on_grid = around_photo(there[..., None], (0, 0), (0, plane.beyond), self.grid.step)
        marked: Array = (on_grid.colours[..., 0] > _TOUCHED) | self.outside
        return marked


def on_plane(picture: Array, plane: Plane) -> OnPlane:
    """Lay a turned picture, (H, W, 3) uint8, on its plane."""
    known = plane.width - plane.beyond
    x, y = plane.places(known)
    pixels = cv2.remap(picture, x, y, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    inside = (y >= 0) & (y <= plane.high - 1) & (x >= 0)
    megapixels = min(PLANE.megapixels, MOST_FILLED * plane.width / plane.beyond)
    step = step_for(plane.width, plane.height, megapixels)
    grid = around_photo(pixels, (0, 0), (0, plane.beyond), step)
    held = around_photo(inside.astype(np.uint8)[..., None] * 255, (0, 0), (0, plane.beyond), step)
    return OnPlane(plane, grid, (held.colours[..., 0] < 250) & held.known)


def solve_plane(on: OnPlane, never: Array, seed: int, *, even_light: bool) -> Solved:
    """Fill a side in its plane, along its rows; `never`, (h, w) blocks, is not copied.

    Raises
    ------
    FillError
        If nothing is left to copy from.
    """
    terms = Terms(subject(on.grid), never, even_light=even_light, own_tone=not even_light)
    return solve(on.grid, PLANE, seed, terms)


def shown(on: OnPlane, solved: Solved, x: Floats, y: Floats) -> Floats:
    """Return the colours, (n, 3) of 0…255, that a filled plane shows at places of the canvas."""
    across, down = on.plane.there(x, y)
    return _of_grid(solved.picture, on, across - on.plane.left, down - on.plane.top)


def draw_plane(on: OnPlane, solved: Solved, photo: Array, scale: float, columns: int) -> Array:
    """Draw a side from its filled plane.

    Parameters
    ----------
    photo : turned, (H, W, C) of 8 or 16 bits, `scale` times as large as the picture of the plane
    columns : beyond the photo

    Returns
    -------
    (H, columns, C) of the photo's depth
    """
    high = len(photo)
    out = np.zeros((high, columns, photo.shape[2]), photo.dtype)
    x = (np.arange(columns) + 0.5) / scale - 0.5
    for first in range(0, high, _ROWS):
        part = out[first : first + _ROWS]
        y = (np.arange(first, first + len(part)) + 0.5) / scale - 0.5
        xs, ys = (places.ravel() for places in np.meshgrid(x, y))
        part[:] = _pixels(on, solved, photo, scale, xs, ys).reshape(part.shape)
    return out


def _copied(
    on: OnPlane, solved: Solved, x: Floats, y: Floats
) -> tuple[tuple[Floats, Floats], tuple[Floats, Floats]]:
    """Return where places of the canvas lie on the plane's picture, and where there they are copied from."""
    plane, (high, wide), step = on.plane, on.grid.hole.shape, on.grid.step
    across, down = plane.there(x, y)
    across, down = across - plane.left, down - plane.top
    block_x = np.clip(((across + 0.5) // step).astype(int), 0, wide - 1)
    block_y = np.clip(((down + 0.5) // step).astype(int), 0, high - 1)
    from_y, from_x = solved.from_y[block_y, block_x], solved.from_x[block_y, block_x]
    inside = from_x >= 0  # a rounding may end on the photo itself
    from_y, from_x = np.where(inside, from_y, block_y), np.where(inside, from_x, block_x)
    there_x = across + (from_x - block_x) * step
    there_y = down + (from_y - block_y) * step
    there_x = np.where(from_x >= wide, 2 * wide * step - 1 - there_x, there_x)
    return (across, down), (there_x, there_y)


def _pixels(on: OnPlane, solved: Solved, photo: Array, scale: float, x: Floats, y: Floats) -> Array:
    plane = on.plane
    (across, down), (there_x, there_y) = _copied(on, solved, x, y)
    from_column, from_row = plane.back(there_x + plane.left, there_y + plane.top)
    unit = np.float32(257 if photo.dtype == np.uint16 else 1)
    copied = sample(
        photo,
        np.clip((from_column + plane.wide + 0.5) * scale - 0.5, 0, photo.shape[1] - 1),
        np.clip((from_row + 0.5) * scale - 0.5, 0, photo.shape[0] - 1),
        cubic=True,
    )
    bands = 3 if photo.shape[2] >= 3 else 1
    here, there = (
        _of_grid(solved.colours, on, *places)[:, :bands]
        for places in ((across, down), (there_x, there_y))
    )
    colours = copied[:, :bands] * np.float32(solved.gain) / unit
    if solved.light is not None:
        colours /= _of_grid(solved.light, on, there_x, there_y)
    colours += here - there
    if solved.light is not None:
        colours *= _of_grid(solved.light, on, across, down)
    copied[:, :bands] = colours * (unit / np.float32(solved.gain))
    top = np.iinfo(photo.dtype).max
    pixels: Array = np.clip(copied + np.float32(0.5), 0, top).astype(photo.dtype)
    return pixels


def _of_grid(values: Floats, on: OnPlane, across: Floats, down: Floats) -> Floats:
    step = on.grid.step
    return sample(values, (across + 0.5) / step - 0.5, (down + 0.5) / step - 0.5, cubic=True)
