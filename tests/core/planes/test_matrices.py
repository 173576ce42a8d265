from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings, strategies as st

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.planes.matrices import at, corners_of, crop_matrix, onto_quad
from oak_ledge.core.planes.points import extent_at, rectangle, turn_of
from oak_ledge.core.planes.polygons import area, beyond_line, overlap

angles = st.floats(-180, 180)
spans = st.floats(1, 4000)


@given(angles, spans, spans, st.tuples(st.integers(1, 900), st.integers(1, 900)))
def test_a_crops_matrix_keeps_centre_edges_and_the_turn_the_rules_give(angle, width, height, asked):
    matrix = crop_matrix(100, 50, width, height, angle, asked)
    middle = at(matrix, np.array([[asked[0] / 2, asked[1] / 2]]))[0]
    assert middle == pytest.approx((100 + width / 2, 50 + height / 2))
    nw, ne, se, _ = corners_of(matrix, *asked)
    assert np.hypot(ne[0] - nw[0], ne[1] - nw[1]) == pytest.approx(width)
    assert np.hypot(se[0] - ne[0], se[1] - ne[1]) == pytest.approx(height)
    # clockwise as seen, y down: a small positive turn sinks the right end of the top edge
    c, s = turn_of(angle)
    assert (ne[0] - nw[0], ne[1] - nw[1]) == pytest.approx((c * width, s * width), abs=1e-6)
    assert turn_of(90) == (0, 1)


@given(angles, spans, spans)
def test_the_upright_box_around_a_turned_rectangle_touches_all_its_corners(angle, width, height):
    corners = corners_of(crop_matrix(0, 0, width, height, angle, (1, 1)), 1, 1)
    x, y = (np.array(part) for part in zip(*corners, strict=True))
    assert extent_at(angle, width, height) == pytest.approx((np.ptp(x), np.ptp(y)), abs=1e-6)


@given(st.lists(st.tuples(st.floats(-0.3, 0.3), st.floats(-0.3, 0.3)), min_size=4, max_size=4))
def test_four_corners_are_met_and_straight_lines_stay_straight(moved):
    square = [(0, 0), (1, 0), (1, 1), (0, 1)]
    corners = [(x + dx, y + dy) for (x, y), (dx, dy) in zip(square, moved, strict=True)]
    try:
        matrix = onto_quad(300, 200, corners)
    except PlacementError:
        return
    assert np.array(corners_of(matrix, 300, 200)) == pytest.approx(np.array(corners), abs=1e-9)
    line = at(matrix, np.array([[0, 0], [75, 50], [300, 200]], np.float64))
    assert area([(float(x), float(y)) for x, y in line]) == pytest.approx(0, abs=1e-9)


@pytest.mark.parametrize(
    ("corners", "words"),
    [
        ([(0, 0), (0, 1), (1, 1), (1, 0)], "run anticlockwise"),
        ([(0, 0), (1, 1), (1, 0), (0, 1)], "cross or bend inward"),
        ([(0, 0), (1, 0), (0.2, 0.2), (0, 1)], "cross or bend inward"),
        ([(0, 0), (1, 0), (2, 0.01), (0, 1)], "nearly on one line"),
        ([(0, 0), (0, 0), (1, 1), (0, 1)], "nearly on one line"),
    ],
)
def test_corners_that_are_no_rectangle_are_refused_with_the_reason(corners, words):
    with pytest.raises(PlacementError, match=words):
        onto_quad(10, 10, corners)


@settings(max_examples=40)
@given(angles, st.floats(-60, 160), st.floats(-60, 160), st.floats(10, 200), st.floats(10, 200))
def test_areas_agree_with_counting_points(angle, left, top, width, height):
    photo = rectangle(120, 80)
    crop = corners_of(crop_matrix(left, top, width, height, angle, (1, 1)), 1, 1)
    x, y = np.meshgrid(np.arange(0.125, 120, 0.25), np.arange(0.125, 80, 0.25))
    inverse = np.linalg.inv(crop_matrix(left, top, width, height, angle, (1, 1)))
    u, v = at(inverse, np.stack([x.ravel(), y.ravel()], axis=1)).T
    inside = ((u > 0) & (u < 1) & (v > 0) & (v < 1)).sum() / 16
    assert overlap(photo, crop) == pytest.approx(inside, abs=45)
    assert area(beyond_line(photo, crop[0], crop[1])) == pytest.approx((v < 0).sum() / 16, abs=45)
