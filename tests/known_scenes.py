"""Scenes drawn from formulas, wider than a photo of them: how they go on beyond its edge is known."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from oak_ledge.core.photos.continued import Continued, Side
from oak_ledge.core.pixels.fill.directions import Directions, directions
from oak_ledge.core.pixels.ground.continued import draw_ground, grid_of, solve_ground
from oak_ledge.core.pixels.ground.structure import Structure, structure_of
from oak_ledge.core.pixels.lines.side import SIDES, turned, turned_back

WIDE, HIGH, BEYOND = 840, 560, 210

Array = npt.NDArray[Any]
Curve = Callable[[Array], Array]


@dataclass(frozen=True)
class KnownScene:
    """A scene, (HIGH, WIDE + BEYOND, 3) uint8, and where its lines run: rows as of columns."""

    whole: Array
    lines: tuple[Curve, ...]

    @property
    def photo(self) -> Array:
        """What a photo of it shows: all but the last columns."""
        return np.ascontiguousarray(self.whole[:, :WIDE])


def _places() -> tuple[Array, Array]:
    return np.arange(WIDE + BEYOND, dtype=np.float64)[None], np.arange(HIGH, dtype=np.float64)[
        :, None
    ]


def _noise(seed: int, strength: float, across: float = 0.7, down: float = 0.7) -> Array:
    white = np.random.default_rng(seed).normal(0, 1, (HIGH, WIDE + BEYOND))
    grain = np.asarray(cv2.GaussianBlur(white, (0, 0), sigmaX=across, sigmaY=down))
    return np.asarray(grain / grain.std() * strength)[..., None]


def _fade(top: tuple[int, ...], foot: tuple[int, ...]) -> Array:
    x, y = _places()
    share = (y / HIGH + 0 * x)[..., None]
    return np.asarray(np.array(top) * (1 - share) + np.array(foot) * share)


def _along(picture: Array, rows: Curve, width: float, colour: tuple[int, ...]) -> None:
    x, y = _places()
    steep = np.hypot(1, np.gradient(rows(x[0])))
    share = np.clip(width / 2 + 0.5 - np.abs(y - rows(x)) / steep, 0, 1)[..., None]
    picture[:] = picture * (1 - share) + np.array(colour) * share


def _straight(at: float, slope: float) -> Curve:
    return lambda x: at + slope * x


def _drawn_from(picture: Array, x: Array, y: Array) -> Array:
    places = (place.astype(np.float32) for place in np.broadcast_arrays(x, y))
    return np.asarray(cv2.remap(picture.astype(np.float32), *places, cv2.INTER_LINEAR))  # type: ignore[call-overload]


def _scene(picture: Array, *lines: Curve) -> KnownScene:
    return KnownScene(np.clip(picture + 0.5, 0, 255).astype(np.uint8), lines)


def cables() -> KnownScene:
    """Three cables that sag, one across another, on a sky."""
    picture = _fade((170, 195, 225), (225, 225, 215)) + _noise(1, 2)
    rows: tuple[Curve, ...] = (
        lambda x: 84 + 0.10 * x + 0.00008 * (x - 490) ** 2,
        lambda x: 210 - 0.05 * x + 0.00014 * (x - 350) ** 2,
        lambda x: 364 - 0.22 * x + 0.00007 * x * x,
    )
    for curve, width, colour in zip(
        rows, (3, 4, 6), ((40, 42, 46), (60, 50, 45), (30, 30, 34)), strict=True
    ):
        _along(picture, curve, width, colour)
    return _scene(picture, *rows)


def railing() -> KnownScene:
    """Three bright rails that part, before water."""
    picture = _fade((120, 150, 190), (70, 110, 130)) + _noise(3, 4)
    rows = tuple(_straight(*line) for line in ((301, 0.06), (350, 0.12), (399, 0.18)))
    for curve in rows:
        _along(picture, curve, 10, (225, 220, 210))
    return _scene(picture, *rows)


def horizon() -> KnownScene:
    """A sea under a sky, held a little aslant."""
    x, y = _places()
    rows = _straight(294, 0.015)
    water = np.array((50, 90, 110)) + _noise(6, 12, 9, 1.2)
    share = np.clip(y - rows(x) + 0.5, 0, 1)[..., None]
    sky = _fade((170, 190, 220), (210, 215, 225)) + _noise(5, 2)
    return _scene(sky * (1 - share) + water * share, rows)


def planks() -> KnownScene:
    """Planks of several woods that run to a point at the left."""
    x, y = _places()
    far, eye, count = -280.0, 182.0, 14
    slopes = np.linspace(0.12, 0.75, count)
    slope = (y - eye) / (x - far)
    rng = np.random.default_rng(7)
    tone = rng.uniform(0.8, 1.15, count)[np.clip(np.searchsorted(slopes, slope) - 1, 0, count - 1)]
    fibre = np.asarray(
        cv2.GaussianBlur(rng.normal(0, 1, (HIGH, 3000)), (0, 0), sigmaX=8, sigmaY=0.6)
    )
    fibre = _drawn_from(fibre, x * 2, (slope - 0.1) / 0.65 * (HIGH - 1))
    wood = np.array((150, 115, 85)) * tone[..., None] + fibre[..., None] * 30 + _noise(8, 2)
    sky = _fade((150, 170, 200), (200, 205, 210)) + _noise(9, 2)
    picture = np.where((slope > 0.12)[..., None], wood, sky)
    rows = tuple(_straight(eye - s * far, s) for s in slopes)
    for curve in rows:
        _along(picture, curve, 3, (55, 40, 30))
    return _scene(picture, *rows)


def bricks() -> KnownScene:
    """A wall of bricks that runs to a point far at the right."""
    x, y = _places()
    far, eye = 1820.0, 266.0
    course = (y - eye) / (far - x) * 1000 / 22
    joint = course - np.floor(course)
    along = np.log(far - x) * 1540 / 42 + np.floor(course) / 2
    beside = along - np.floor(along)
    tone = ((np.floor(course) * 7919 + np.floor(along) * 104729) % 17) / 17
    picture = np.array((150, 80, 60)) * (0.8 + 0.4 * tone[..., None]) + _noise(10, 4)
    mortar = ((joint < 0.14) | (beside < 0.09))[..., None]
    picture = np.where(mortar, np.array((205, 198, 190)) + _noise(11, 4), picture)
    joints = ((n * 22 + 1.54) / 1000 for n in range(-8, 10))
    rows = tuple(_straight(eye + s * far, -s) for s in joints)
    return _scene(cv2.GaussianBlur(picture, (0, 0), 0.8), *rows)


def shadow() -> KnownScene:
    """Sand, and the straight edge of a shadow on it."""
    x, y = _places()
    rows = _straight(182, 0.25)
    dark = np.clip((y - rows(x)) / 9 + 0.5, 0, 1)[..., None]
    sand = _fade((180, 170, 150), (165, 150, 130)) + _noise(12, 6) + _noise(13, 7, 3, 3)
    return _scene(sand * (1 - dark * np.array((0.5, 0.48, 0.42))), rows)


def slanted_grass() -> KnownScene:
    """Blades that all lean one way: mirrored, they would make a V."""
    x, y = _places()
    upright = np.random.default_rng(14).normal(0, 1, (HIGH, 3 * WIDE))
    blades = np.asarray(cv2.GaussianBlur(upright, (0, 0), sigmaX=1.5, sigmaY=24))
    leaning = _drawn_from(blades, x + 0.7 * y + 200, y)
    tones = leaning[..., None] / leaning.std() * np.array((28, 38, 14))
    return _scene(np.array((95, 130, 60)) + tones + _noise(15, 3))


KNOWN = {
    scene.__name__: scene
    for scene in (cables, railing, horizon, planks, bricks, shadow, slanted_grass)
}


def across(picture: Array, rows: Curve, columns: Array, half: int) -> Array:
    """Return the mean profile across a line over some columns, (2 half + 1, 3)."""
    y = rows(columns.astype(np.float64))[None] + np.arange(-half, half + 1)[:, None]
    x = np.broadcast_to(columns[None], y.shape)
    return np.asarray(_drawn_from(picture, x, y).mean(1))


def apart(truth: Array, made: Array, most: int = 12) -> float:
    """Return by how many pixels one profile is the other moved."""
    half = len(truth) // 2
    inner = np.arange(-half + most, half - most + 1)
    aim = truth[most : len(truth) - most]
    offs = np.arange(-most, most + 0.1, 0.25)
    costs = []
    for off in offs:
        bands = [np.interp(inner + off, np.arange(-half, half + 1), made[:, c]) for c in range(3)]
        moved = np.stack(bands, 1)
        costs.append(float((((moved - moved.mean(0)) - (aim - aim.mean(0))) ** 2).mean()))
    return float(offs[int(np.argmin(costs))])


def continued(photo: Array, side: Side, attempt: int) -> tuple[Array, Structure]:
    """Continue a photo, drawn with its open side at the right, at another side; turned back again."""
    upright = np.ascontiguousarray(turned_back(photo, side))
    high, wide = upright.shape[:2]
    box = [0, 0, wide, high]
    at = SIDES.index(side)
    box[at] += -BEYOND if at < 2 else BEYOND
    ground = Continued(box=tuple(box), attempt=attempt)
    structure = structure_of(upright, ground.box)
    even = structure.even(upright)
    grid = grid_of(even, ground, structure)
    filled = solve_ground(even, ground, grid, structure)
    canvas = np.zeros((ground.edges[1], ground.edges[0], photo.shape[2]), photo.dtype)
    for pixels, left, top in [(upright, 0, 0)] + [
        (patch.pixels, patch.left, patch.top)
        for patch in draw_ground(upright, ground, grid, filled, structure)
    ]:
        first = (top - box[1], left - box[0])
        canvas[first[0] : first[0] + pixels.shape[0], first[1] : first[1] + pixels.shape[1]] = (
            pixels
        )
    whole = np.ascontiguousarray(turned(canvas, side))
    assert np.array_equal(whole[:, :WIDE], photo)
    return whole, structure


def ends(scene: KnownScene, made: Array) -> list[tuple[float, float, float]]:
    """Return, of lines that end on the canvas, how far off, and contrast and width as multiples."""
    columns = np.arange(WIDE + BEYOND - 24, WIDE + BEYOND - 3)
    found = []
    for rows in scene.lines:
        heights = rows(np.array([WIDE, WIDE + BEYOND]))
        if heights.min() < 28 or heights.max() > len(made) - 28:
            continue
        truth, seen = (across(picture, rows, columns, 26) for picture in (scene.whole, made))
        spans = [np.ptp(profile[12:-12].mean(1)) for profile in (truth, seen)]
        widths = [
            np.abs(profile[12:-12].mean(1) - np.median(profile.mean(1))).sum()
            for profile in (truth, seen)
        ]
        found.append((apart(truth, seen), spans[1] / spans[0], widths[1] / widths[0]))
    assert found
    return found


def leans(made: Array) -> tuple[float, float]:
    """Return the degrees by which what is near the seam leans, on the photo and beyond it."""
    seen = directions(made.astype(np.float32), np.ones(made.shape[:2], np.bool_))
    parts = (np.s_[:, WIDE - 90 : WIDE - 10], np.s_[:, WIDE + 10 : WIDE + 90])
    inside, beyond = (float(np.rad2deg(np.angle(_mean_way(seen, part)) / 2)) for part in parts)
    return inside, beyond


def _mean_way(seen: Directions, part: tuple[slice, slice]) -> complex:
    weights = np.sqrt(seen.strength[part]) * seen.coherence[part]
    return complex((weights * np.exp(2j * seen.angle[part])).mean())
