"""The quietest places of a piece: found where it is plain, none over another, off what must stay free."""

from __future__ import annotations

import numpy as np
import pytest

from oak_ledge.core.pixels.marks.quiet import HIGH, WIDE, quiet_places
from tests import samples


def within(place, box):
    left, top, right, bottom = box
    return (
        left <= place[0]
        and top <= place[1]
        and place[0] + WIDE <= right
        and place[1] + HIGH <= bottom
    )


@pytest.mark.parametrize("size", [(512, 340), (60, 512), (33, 20)])
def test_the_plain_part_of_a_piece_is_found_first(size):
    wide, high = size
    pixels = samples.grain(wide, high, 3)
    pixels[round(high * 0.55) :, : round(wide * 0.5)] = 130
    places = quiet_places(pixels)
    assert within(places[0], (-0.02, 0.5, 0.52, 1))
    assert all(place[2:] == (WIDE, HIGH) for place in places)
    assert 1 <= len(places) <= 3
    for n, place in enumerate(places):
        assert 0 <= place[0] <= 1 - WIDE
        assert 0 <= place[1] <= 1 - HIGH
        for other in places[n + 1 :]:
            apart = (
                abs(place[0] - other[0]) >= WIDE - 1e-9 or abs(place[1] - other[1]) >= HIGH - 1e-9
            )
            assert apart


def test_what_must_stay_free_is_left_out():
    pixels = samples.grain(300, 200, 3)
    pixels[110:, :150] = 130
    pixels[:90, 150:] = np.linspace(90, 120, 150).astype(np.uint8)[None, :, None]
    first = quiet_places(pixels)[0]
    assert first[1] > 0.5
    second = quiet_places(pixels, [(0.0, 0.5, 0.5, 0.5)])[0]
    assert second[1] < 0.3
    assert second[0] > 0.4
    assert quiet_places(pixels, [(0, 0, 1, 1)]) == ()
