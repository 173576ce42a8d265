from __future__ import annotations

from math import radians

import numpy as np
import pytest
from hypothesis import assume, given, strategies as st

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.notes.crop import stretched
from oak_ledge.core.notes.resolution import enlarged
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.placements.suggestion import laid, suggest
from oak_ledge.core.planes.four_corners import plane_of, true_ratio
from oak_ledge.core.planes.matrices import at, onto_quad
from oak_ledge.core.reports.tally import tally
from tests import strategies
from tests.samples import size

PHOTO = (6000, 4000)


def seen(width, height, focal, tilt, pan, roll=0.0):
    """A rectangle as a camera sees it that is tilted, panned and rolled by degrees before it."""
    a, b, c = (radians(angle) for angle in (tilt, pan, roll))
    about_x = np.array([[1, 0, 0], [0, np.cos(a), -np.sin(a)], [0, np.sin(a), np.cos(a)]])
    about_y = np.array([[np.cos(b), 0, np.sin(b)], [0, 1, 0], [-np.sin(b), 0, np.cos(b)]])
    about_z = np.array([[np.cos(c), -np.sin(c), 0], [np.sin(c), np.cos(c), 0], [0, 0, 1]])
    corners = []
    for x, y in ((-1, -1), (1, -1), (1, 1), (-1, 1)):
        point = about_z @ about_x @ about_y @ (x * width / 2, y * height / 2, 0)
        depth = point[2] + 3 * max(width, height)
        corners.append((3000 + focal * point[0] / depth, 2000 + focal * point[1] / depth))
    return tuple(corners)


angles = st.floats(8, 35) | st.floats(-35, -8)


@given(st.floats(0.4, 2.5), st.floats(4000, 12_000), angles, angles, st.floats(-20, 20))
def test_the_true_proportions_come_out_of_the_perspective(ratio, focal, tilt, pan, roll):
    found = true_ratio(seen(ratio, 1, focal, tilt, pan, roll), PHOTO)
    assume(found.how == "perspective")
    assert found.ratio == pytest.approx(ratio, rel=1e-6)


@pytest.mark.parametrize(("tilt", "pan"), [(25, 0), (0, 20), (0, 0)])
def test_tilted_about_one_axis_the_focal_length_must_be_told(tilt, pan):
    corners = seen(1.5, 1, 7000, tilt, pan)
    answer = true_ratio(corners, PHOTO, focal=7000)
    assert answer.how == "focal"
    assert answer.ratio == pytest.approx(1.5, rel=1e-6)
    guessed = true_ratio(corners, PHOTO)
    assert guessed.how == "sides"
    assert guessed.uncertain >= 1
    assert 1.5 / guessed.uncertain**2 <= guessed.ratio * 1.001
    assert guessed.ratio <= 1.5 * guessed.uncertain**2 * 1.001


def test_the_plane_has_the_longer_sides_and_the_sizes_own_ratio_where_it_has_one():
    corners = ((1000, 800), (4800, 1000), (5000, 3300), (900, 3500))
    assert plane_of(corners, 10.0) == (round(10 * np.hypot(100, 2700)), round(np.hypot(100, 2700)))
    free = laid(size("100%"), PHOTO, corners=corners)
    extent = lying_on(size("100%"), PHOTO, free).extent
    assert extent[0] / extent[1] == pytest.approx(true_ratio(corners, PHOTO).ratio, rel=1e-3)
    printed = size("8x10in@300")
    on_print = laid(printed, PHOTO, corners=corners)
    extent = lying_on(printed, PHOTO, on_print).extent
    assert extent[0] / extent[1] == pytest.approx(true_ratio(corners, PHOTO).ratio, rel=1e-3)
    found = tally(lying_on(printed, PHOTO, on_print))
    assert (found.width, found.height, found.stretch) == (3000, 2400, 0)
    assert found.kept == pytest.approx(1, abs=1e-3)
    assert stretched(found) is None


def test_corners_made_to_fit_a_size_are_noted_by_how_much_they_are_stretched():
    corners, square = ((100, 120), (1100, 100), (1110, 810), (90, 830)), size("600x600px")
    fitted = laid(square, PHOTO, corners=corners, fit_corners=True)
    extent = lying_on(square, PHOTO, fitted).extent
    assert extent[0] == extent[1]
    found = tally(lying_on(square, PHOTO, fitted))
    true = true_ratio(corners, PHOTO)
    assert true.ratio > 1.3
    assert 1 + found.stretch == pytest.approx(1 / true.ratio, rel=1e-6)
    note = stretched(found)
    assert note is not None
    assert f"{(true.ratio - 1) * 100:.1f} % taller" in note.text
    freely = laid(square, PHOTO, corners=corners)
    assert stretched(tally(lying_on(square, PHOTO, freely))) is None


def test_a_squared_plane_is_never_copied_and_is_scaled_by_where_it_is_enlarged_most():
    corners = ((1000, 800), (4800, 1000), (5000, 3300), (900, 3500))
    own = size("photo")
    lain = laid(own, PHOTO, corners=corners)
    extent = lying_on(own, PHOTO, lain).extent
    found = tally(lying_on(own, PHOTO, lain))
    assert not found.copied
    matrix = onto_quad(*extent, corners)
    ends = np.array([(0.5, 0.5), (extent[0] - 0.5, 0.5), (0.5, extent[1] - 0.5)])
    steps = [
        np.hypot(*(at(matrix, ends + step) - at(matrix, ends - step)).T).min()
        for step in (np.array([0.5, 0]), np.array([0, 0.5]))
    ]
    assert found.scale == pytest.approx(1 / min(steps), rel=0.02)
    assert found.scale > 1.01
    note = enlarged(own, found)
    assert note is not None
    assert "Squared up, the most slanted part" in note.text


def test_corners_that_are_none_are_refused():
    with pytest.raises(PlacementError, match="cross or bend inward"):
        laid(size("100%"), PHOTO, corners=((0, 0), (10, 10), (10, 0), (0, 10)))


@pytest.mark.parametrize("quarter", [0, 1, 2, 3])
def test_a_photo_turned_by_quarters_is_held_the_other_way(quarter):
    placement = laid(size("8x10in@300"), PHOTO, quarter=quarter, mirror=True)
    extent = lying_on(size("8x10in@300"), PHOTO, placement).extent
    assert extent == (PHOTO if quarter % 2 == 0 else PHOTO[::-1])
    found = tally(lying_on(size("8x10in@300"), PHOTO, placement))
    assert (found.width > found.height) == (quarter % 2 == 0)
    assert Placement.model_validate_json(placement.model_dump_json()) == placement
    assert suggest(size("8x10in@300"), PHOTO) == laid(size("8x10in@300"), PHOTO)


@strategies.often(150)
@given(
    st.floats(0.4, 2.5), st.floats(20, 200), st.floats(10, 45) | st.floats(-45, -10),
    st.floats(10, 45) | st.floats(-45, -10), st.floats(-20, 20), st.booleans(),
)  # fmt: skip
def test_every_lens_and_tilt_gives_its_ratio_within_a_hundredth(
    ratio, lens, tilt, pan, roll, one_axis
):
    focal = lens * np.hypot(*PHOTO) / np.hypot(36, 24)
    corners = seen(ratio, 1, focal, tilt, 0 if one_axis else pan, 0 if one_axis else roll)
    found = true_ratio(corners, PHOTO, focal)
    assert found.ratio == pytest.approx(ratio, rel=0.01)


def test_the_uncertainty_covers_the_truth_in_nine_of_ten_cases():
    rng = np.random.default_rng(11)
    covered = total = 0
    for _ in range(600):
        ratio, lens = rng.uniform(0.4, 2.5), rng.uniform(20, 200)
        tilt, pan = rng.uniform(10, 45, 2) * rng.choice([-1, 1], 2)
        roll = rng.uniform(-20, 20)
        focal = lens * np.hypot(*PHOTO) / np.hypot(36, 24)
        corners = np.array(seen(ratio, 1, focal, tilt, pan, roll))
        if np.ptp(corners, axis=0).min() < 300:
            continue  # hardly anything of it is seen
        away = rng.uniform(0, 2 * np.pi, 4)
        moved = corners + 0.5 * np.stack([np.cos(away), np.sin(away)], axis=1)
        found = true_ratio(tuple(map(tuple, moved)), PHOTO)
        total += 1
        covered += 1 / found.uncertain <= found.ratio / ratio <= found.uncertain
    assert total > 300
    assert covered >= 0.9 * total
