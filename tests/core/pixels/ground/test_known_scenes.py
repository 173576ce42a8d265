"""A scene is continued as it truly goes on: lines end where they should, in their colour and width."""

from __future__ import annotations

import numpy as np
import pytest

from oak_ledge.core.pixels.ground.structure import structure_of
from tests.known_scenes import BEYOND, KNOWN, WIDE, across, apart, continued, ends, leans


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
    inside, beyond = leans(made)
    assert abs((beyond - inside + 90) % 180 - 90) < 10


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


@pytest.mark.parametrize(("count", "bands"), [(3, True), (24, False)])
def test_many_lines_that_are_no_plane_are_matter(count, bands):
    """Slats, each a little its own way: a few go on as lines, many are left to the fill."""
    slopes = 0.2 * np.sin(np.linspace(0, 2 * np.pi, count))
    y, x = np.mgrid[0:560, 0:840].astype(np.float64)
    picture = np.full((560, 840), 40.0)
    for n, slope in enumerate(slopes):
        row = (n + 0.5) * 560 / count + slope * (x - 700)
        picture += 180 * np.clip(560 / 24 / 4 - np.abs(y - row), 0, 1)
    photo = np.repeat(np.clip(picture, 0, 255).astype(np.uint8)[..., None], 3, 2)
    structure = structure_of(photo, (0, 0, 1050, 560))
    assert structure.planes == ()
    assert bool(structure.sides) is bands
