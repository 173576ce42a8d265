from __future__ import annotations

import re
from math import hypot

import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.reports.composition_lines import KINDS, PHI, lines


def points(path):
    return [tuple(map(float, pair)) for pair in re.findall(r"(-?[\d.]+) (-?[\d.]+)", path)]


@given(st.sampled_from(sorted(KINDS)), st.floats(0.1, 10), st.integers(0, 20))
def test_every_line_stays_within_the_crop_and_its_ways_come_round(kind, ratio, way):
    found = lines(kind, ratio, way)
    assert found
    assert all(
        -1e-4 <= part <= 1.0001 for path in found for point in points(path) for part in point
    )
    assert lines(kind, ratio, way + KINDS[kind].ways) == found


@pytest.mark.parametrize("kind", [name for name, found in KINDS.items() if found.ways > 1])
def test_every_way_of_a_kind_differs(kind):
    ways = [tuple(lines(kind, 1.5, way)) for way in range(KINDS[kind].ways)]
    assert len(set(ways)) == len(ways)


@given(st.floats(0.2, 5))
def test_the_perpendiculars_meet_the_diagonal_at_right_angles(ratio):
    diagonal, *others = (points(path) for path in lines("diagonals", ratio))
    for (x0, y0), (x1, y1) in others:
        along = (diagonal[1][0] - diagonal[0][0]) * ratio, diagonal[1][1] - diagonal[0][1]
        across = (x1 - x0) * ratio, y1 - y0
        dot = along[0] * across[0] + along[1] * across[1]
        assert abs(dot) < 1e-3 * hypot(*along) * hypot(*across)
        assert x1 + y1 == pytest.approx(1, abs=1e-4)  # its foot lies on the diagonal


def test_the_golden_section_and_spiral_are_golden():
    shares = sorted({points(path)[0][0] for path in lines("golden", 1)} - {0.0})
    assert shares == pytest.approx([1 - 1 / PHI, 1 / PHI], abs=1e-4)
    (path,) = lines("spiral", PHI)
    found = points(path)
    assert found[0] == (0, 1)
    assert found[3] == pytest.approx((1 / PHI, 0), abs=1e-4)
    # it closes in on the point where the diagonals of all its rectangles meet
    eye = (PHI**2 / (PHI**2 + 1), PHI**2 / (PHI**2 + 1))
    assert hypot((found[-1][0] - eye[0]) * PHI, found[-1][1] - eye[1]) < 0.08
