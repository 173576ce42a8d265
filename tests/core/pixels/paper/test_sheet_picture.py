"""Pages as pixels: every piece on exactly its place, turned clockwise, what is clear shows the paper."""

from __future__ import annotations

import numpy as np
import pytest

from oak_ledge.core.errors import FileError
from oak_ledge.core.pixels.paper.sheet_picture import Drawn, draw_page
from oak_ledge.core.sheets.trim_marks import TrimMark
from oak_ledge.core.sizes.edges.panels import PanelBox
from tests import samples


def test_pieces_lie_value_for_value_where_they_belong():
    one, two = samples.grain(30, 20), samples.grain(16, 10, 3, seed=9)
    pieces = [Drawn(one, PanelBox(5, 7, 30, 20), False), Drawn(two, PanelBox(50, 7, 10, 16), True)]
    page = draw_page((80, 60), "#204060", iter(pieces), [], None)
    assert page.shape == (60, 80, 3)
    assert np.array_equal(page[7:27, 5:35], one)
    assert np.array_equal(page[7:23, 50:60], np.rot90(two, -1))
    left = np.ones(page.shape[:2], bool)
    left[7:27, 5:35] = left[7:23, 50:60] = False
    assert (page[left] == (0x20, 0x40, 0x60)).all()


@pytest.mark.parametrize("bands", [1, 2, 3, 4])
@pytest.mark.parametrize("deep", [False, True])
def test_whatever_bands_and_depth_become_three_of_8_bits(bands, deep):
    pixels = samples.grain(12, 9, bands)
    given = pixels.astype(np.uint16) * 257 if deep else pixels
    page = draw_page(
        (12, 9), "#ff0000", iter([Drawn(given, PanelBox(0, 0, 12, 9), False)]), [], None
    )
    colours = np.repeat(pixels[..., :1], 3, 2) if bands < 3 else pixels[..., :3]
    share = pixels[..., -1:] / 255 if bands in (2, 4) else 1.0
    wanted = colours * share + np.array([255, 0, 0]) * (1 - share)
    assert np.abs(page - wanted).max() <= 0.51


def test_a_piece_of_another_size_than_its_place_is_refused():
    with pytest.raises(FileError, match="12 × 9 px where 10 × 9 are asked"):
        draw_page(
            (12, 9),
            "#ffffff",
            iter([Drawn(samples.grain(12, 9), PanelBox(0, 0, 10, 9), False)]),
            [],
            None,
        )


def test_marks_and_names_are_drawn_beside_the_pieces():
    one = Drawn(np.zeros((50, 50, 3), np.uint8), PanelBox(50, 50, 50, 50), False, "quay")
    page = draw_page((200, 200), "#ffffff", iter([one]), [TrimMark(0.1, 0.5, 0.4, 0.5)], 100)
    assert (page[50, 10:40] != 255).any(axis=1).all()
    assert (page[101:115, 50:100] < 200).any()  # letters below it
    assert (page[50:100, 50:100] == 0).all()
