"""A scene is continued as it truly goes on: lines end where they should, in their colour and width."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from oak_ledge.core.photos.continued import Continued
from oak_ledge.core.pixels.fill.directions import directions
from oak_ledge.core.pixels.ground.continued import draw_ground, grid_of, solve_ground
from oak_ledge.core.pixels.ground.structure import structure_of
from oak_ledge.core.pixels.lines.side import SIDES, turned, turned_back
from tests.known_scenes import BEYOND, KNOWN, WIDE, across, apart


def continued(photo, side, attempt, *, bands=True):
    """Continue a photo, drawn with its open side at the right, at another side; turned back again."""
    upright = np.ascontiguousarray(turned_back(photo, side))
    high, wide = upright.shape[:2]
    box = [0, 0, wide, high]
    at = SIDES.index(side)
    box[at] += -BEYOND if at < 2 else BEYOND
    ground = Continued(box=tuple(box), attempt=attempt)
    structure = structure_of(upright, ground.box)
    if not bands:
        structure = replace(structure, sides=())
    even = structure.even(upright)
    grid = grid_of(even, ground)
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


def ends(scene, made):
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


@pytest.mark.parametrize(
    ("name", "side", "attempt"),
    [
        ("cables", "right", 2),
        ("railing", "top", 3),
        ("horizon", "left", 2),
        ("planks", "bottom", 1),
        ("bricks", "left", 1),
    ],
)
def test_lines_end_where_they_truly_do(name, side, attempt):
    scene = KNOWN[name]()
    made, _ = continued(scene.photo, side, attempt)
    for off, contrast, width in ends(scene, made):
        assert abs(off) <= 3
        assert name == "bricks" or 0.75 < contrast < 1.3  # bricks differ among themselves
        assert name not in ("cables", "railing") or 0.75 < width < 1.3


def test_a_shadow_goes_on_as_dark_and_as_soft():
    scene = KNOWN["shadow"]()
    made, structure = continued(scene.photo, "right", 2)
    assert structure.shade is not None
    columns = np.arange(WIDE + BEYOND - 60, WIDE + BEYOND - 3)
    truth, seen = (across(picture, scene.lines[0], columns, 40) for picture in (scene.whole, made))
    assert abs(apart(truth, seen)) <= 3
    dark = [profile[-20:].mean(0) / profile[:20].mean(0) for profile in (truth, seen)]
    assert dark[1] == pytest.approx(dark[0], abs=0.06)  # of each colour
    soft = [np.abs(np.diff(profile.mean(1))).max() for profile in (truth, seen)]
    assert 0.5 < soft[1] / soft[0] < 2
    # What is dark of itself is no shadow: lit as the other side, it would be white.
    dark_paint = np.where(scene.photo > 0, scene.photo // 3, 0).astype(np.uint8)
    x, y = np.meshgrid(np.arange(WIDE), np.arange(len(dark_paint)))
    two_tones = np.where((y > 182 + 0.25 * x)[..., None], dark_paint, 225).astype(np.uint8)
    two_tones[:200, :300] = 90
    two_tones[300:, : WIDE - 260] = 240
    assert structure_of(two_tones, (0, 0, WIDE + BEYOND, len(two_tones))).shade is None


@pytest.mark.parametrize("attempt", [2, 4])
def test_what_leans_goes_on_leaning_that_way(attempt):
    scene = KNOWN["slanted_grass"]()
    made, _ = continued(scene.photo, "left", attempt)
    every = np.ones(made.shape[:2], np.bool_)
    seen = directions(made.astype(np.float32), every)
    leans = []
    for part in (np.s_[:, WIDE - 90 : WIDE - 10], np.s_[:, WIDE + 10 : WIDE + 90]):
        weights = np.sqrt(seen.strength[part]) * seen.coherence[part]
        leans.append(np.rad2deg(np.angle((weights * np.exp(2j * seen.angle[part])).mean()) / 2))
    assert abs((leans[1] - leans[0] + 90) % 180 - 90) < 10


def test_a_side_is_filled_in_its_plane_at_every_depth():
    photo = KNOWN["planks"]().photo
    plain, structure = continued(photo, "right", 1)
    assert [side for side, _ in structure.planes] == ["right"]
    deep, _ = continued(photo.astype(np.uint16) * 257, "right", 1)
    assert np.abs(deep[:, WIDE:].astype(np.float64) / 257 - plain[:, WIDE:]).mean() < 1
    assert np.unique(deep[:, WIDE:] % 257).size > 200  # it is drawn at that depth


def test_beside_a_corner_no_plane_is_filled():
    photo = KNOWN["planks"]().photo
    high, wide = photo.shape[:2]
    assert not structure_of(photo, (0, -90, wide + 90, high)).planes
    assert [side for side, _ in structure_of(photo, (-90, 0, wide + 90, high)).planes]
