from __future__ import annotations

import numpy as np
import pytest

from oak_ledge.core.pixels.look.subject import find_subject
from oak_ledge.demo.fill import PHOTOS
from tests import samples

# Left, top, right, bottom of what each demo picture is of, marked by eye, as shares.
SUBJECTS = {
    "framed-chart": (0.26, 0.05, 0.78, 0.85), "glass-float": (0.35, 0.09, 0.81, 0.74),
    "harbour-wall": (0.0, 0.33, 1.0, 0.62), "lantern-pole": (0.28, 0.2, 0.74, 0.72),
    "lighthouse": (0.62, 0.13, 0.71, 0.62), "market-stall": (0.05, 0.2, 0.95, 0.8),
    "paper-boat": (0.16, 0.27, 0.78, 0.7), "quay-lanterns": (0.25, 0.1, 0.95, 0.55),
}  # fmt: skip


def test_found_subjects_hit_what_the_demo_pictures_are_of():
    hits = []
    for name, (left, top, right, bottom) in SUBJECTS.items():
        found = find_subject(PHOTOS / f"{name}.jpg")
        assert found is not None
        x, y, wide, high = found
        across = max(0.0, min(right, x + wide) - max(left, x))
        along = max(0.0, min(bottom, y + high) - max(top, y))
        covered = across * along / ((right - left) * (bottom - top))
        middle = x < (left + right) / 2 < x + wide and y < (top + bottom) / 2 < y + high
        # a box that took in all would hit all
        hits.append(covered >= 0.5 and middle and wide * high <= 0.5)
    assert sum(hits) >= 7


@pytest.mark.parametrize("at", [(0.2, 0.3), (0.7, 0.25), (0.6, 0.7)])
def test_a_lone_thing_off_centre_is_found_where_it_is(tmp_path, at):
    picture = np.full((400, 600, 3), 90, np.uint8) + samples.grain(600, 400) // 40
    x, y = round(at[0] * 600), round(at[1] * 400)
    picture[y - 40 : y + 40, x - 40 : x + 40] = (200, 60, 40)
    found = find_subject(samples.save(tmp_path / "a.png", picture))
    assert found is not None
    left, top, wide, high = found
    assert (left + wide / 2, top + high / 2) == pytest.approx(at, abs=0.04)
    assert wide * high < 0.2


def test_nothing_is_found_where_nothing_stands_out(tmp_path):
    flat = samples.save(tmp_path / "flat.png", np.full((80, 120, 3), 77, np.uint8))
    assert find_subject(flat) is None
    assert find_subject(samples.save(tmp_path / "dot.png", samples.grain(4, 4))) is None
