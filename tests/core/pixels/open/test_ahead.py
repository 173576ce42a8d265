"""A photo that is read before its rows are asked for: the same pixels, and the same words for damage."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, strategies as st
from numpy.testing import assert_array_equal

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.pixels.cut.cut import cut
from oak_ledge.core.pixels.cut.warp import warp
from oak_ledge.core.pixels.open import ahead
from oak_ledge.core.pixels.open.header import load
from oak_ledge.core.pixels.open.photo import open_photo, read_ahead
from oak_ledge.core.placements.crop import Crop
from tests import samples

EDGES, ASKED = (400, 300), (120, 90)
UPRIGHT, LOW, TURNED = Crop(0, 0, 400, 300), Crop(20, 140, 200, 150), Crop(120, 90, 160, 120, 30)
PIECES = {
    "upright": lambda photo: cut(photo, UPRIGHT, ASKED, EDGES),
    "low down": lambda photo: cut(photo, LOW, ASKED, EDGES),
    "turned": lambda photo: warp(photo, TURNED.matrix(ASKED), ASKED, EDGES),
}


@pytest.fixture
def read(monkeypatch):
    """Read a few rows at once, and so many values ahead; give a photo once they were read."""

    def settle(path, most):
        monkeypatch.setattr(ahead, "_AT_ONCE", 7000)
        monkeypatch.setattr(ahead, "_MOST", most)
        photo = read_ahead(open_photo(path))
        assert photo.ahead is not None
        photo.ahead._thread.join()
        return photo

    return settle


@pytest.mark.parametrize("most", [0, 30_000, 200_000, 10_000_000])
@pytest.mark.parametrize("tag", [1, 6])
@pytest.mark.parametrize("piece", PIECES)
def test_pieces_of_a_photo_that_is_read_ahead_are_those_of_its_file(
    tmp_path, read, piece, tag, most
):
    path = samples.oriented(tmp_path / "grain.png", samples.grain(*EDGES), tag)
    assert_array_equal(PIECES[piece](read(path, most)), PIECES[piece](open_photo(path)))


@given(
    steps=st.lists(st.tuples(st.integers(0, 40), st.integers(1, 60)), max_size=20),
    left=st.integers(0, 60),
)
def test_rows_are_filled_as_far_as_they_were_read(tmp_path_factory, steps, left):
    path = tmp_path_factory.getbasetemp() / "ahead.png"
    true = samples.grain(80, 200)
    if not path.exists():
        samples.save(path, true)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(ahead, "_AT_ONCE", 80 * 3 * 9)
        patch.setattr(ahead, "_MOST", 80 * 3 * 150)
        waiting = ahead.Ahead(load(path))
        waiting._thread.join()
        top = 0
        for further, count in steps:
            top += further
            rows = np.zeros((count, 20, 3), np.uint8)
            done = waiting.fill(rows, left, top)
            assert done == min(count, max(0, 150 - top))
            assert_array_equal(rows[:done], true[top : top + done, left : left + 20])
            top += done


@pytest.mark.parametrize("most", [0, 200_000, 10_000_000])
@pytest.mark.parametrize("top", [0, 250])
def test_damage_is_told_wherever_it_was_met(tmp_path, read, top, most):
    path = samples.damaged(tmp_path / "grain.png", samples.grain(*EDGES))
    with pytest.raises(PhotoError, match="damaged"):
        cut(read(path, most), Crop(0, top, 100, 20), (100, 20), EDGES)
