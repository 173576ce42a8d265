"""Packing: nothing overlaps, nothing leaves the room, few pages; whole pixels likewise."""

from __future__ import annotations

from fractions import Fraction
from itertools import combinations
from math import ceil
from random import Random

import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.errors import FileError
from oak_ledge.core.sheets.packing import packed
from oak_ledge.core.sheets.pixel_boxes import pixel_boxes
from oak_ledge.core.sizes.edges.panels import PanelBox
from tests import strategies
from tests.samples import there

STEP = Fraction(1, 1000)

edges = st.fractions(Fraction(1, 4), 12, max_denominator=254)


def boxes_of(pieces, spots):
    """Give page, left, top, right and bottom of all that lie somewhere."""
    found = []
    for (wide, high), spot in zip(pieces, spots, strict=True):
        if spot is not None:
            across, along = (high, wide) if spot.turned else (wide, high)
            found.append((spot.page, spot.x, spot.y, spot.x + across, spot.y + along))
    return found


@strategies.often(200)
@given(st.lists(st.tuples(edges, edges), max_size=14), st.fractions(0, 1, max_denominator=127))
def test_packed_pieces_keep_their_gap_and_stay_in_the_room(pieces, gap):
    room = (Fraction(16), Fraction(21, 2))
    spots = packed(pieces, room, gap, STEP)
    for piece, spot in zip(pieces, spots, strict=True):
        fits = (piece[0] <= 16 and piece[1] <= 10.5) or (piece[1] <= 16 and piece[0] <= 10.5)
        assert (spot is not None) == fits
    found = boxes_of(pieces, spots)
    for page, left, top, right, bottom in found:
        assert page >= 0
        assert left >= 0
        assert top >= 0
        assert right <= room[0]
        assert bottom <= room[1]
        assert (left / STEP).denominator == (top / STEP).denominator == 1
    for one, other in combinations(found, 2):
        if one[0] == other[0]:
            apart = max(other[1] - one[3], one[1] - other[3], other[2] - one[4], one[2] - other[4])
            assert apart >= gap
    pages = {page for page, *_ in found}
    assert pages == set(range(len(pages)))


@pytest.mark.parametrize(
    ("pieces", "room", "pages"),
    [
        ([(8, 10)] * 4, (16, 20), 1),
        ([(8, 10), (10, 8)] * 2, (16, 20), 1),  # two must be turned
        ([(5, 7)] * 8, (14, 20), 1),
        ([(16, 20)] * 3, (16, 20), 3),
        ([(4, 6)] * 25, (24, 36), 1),
    ],
)
def test_what_fits_exactly_lies_on_no_more_pages_than_it_needs(pieces, room, pages):
    asked = [(Fraction(w), Fraction(h)) for w, h in pieces]
    spots = packed(asked, (Fraction(room[0]), Fraction(room[1])), Fraction(0), STEP)
    assert 1 + max(there(spot).page for spot in spots) == pages


@pytest.mark.parametrize(
    "paper", [("12.2", "18.2"), ("16.2", "21.2"), ("23.2", "35.2"), ("43.2", "59.2")]
)
def test_mixed_prints_lie_close_to_what_their_area_needs(paper):
    kinds = ["4x6", "5x7", "8x10", "4x4", "3.5x5", "6x8", "2.6x2.6"]
    draw = Random(1)
    drawn = [one.split("x") for one in draw.choices(kinds, k=200)]
    asked = [(Fraction(w), Fraction(h)) for w, h in drawn]
    gap, room = Fraction("0.2"), (Fraction(paper[0]), Fraction(paper[1]))
    spots = packed(asked, room, gap, STEP)
    area = sum((w + gap) * (h + gap) for w, h in asked)
    least = ceil(area / ((room[0] + gap) * (room[1] + gap)))
    assert 1 + max(there(spot).page for spot in spots) <= 1.15 * least


def test_without_turning_none_is_turned():
    asked = [(Fraction(9), Fraction(3))] * 3
    spots = packed(asked, (Fraction(9), Fraction(9)), Fraction(0), STEP, turn=False)
    assert [there(spot).turned for spot in spots] == [False] * 3
    assert packed(
        [(Fraction(3), Fraction(10))], (Fraction(12), Fraction(9)), Fraction(0), STEP, turn=False
    ) == [None]


def test_rounding_to_whole_pixels_lays_none_over_another():
    wanted = [PanelBox(0, 0, 780, 780), PanelBox(779, 0, 780, 780), PanelBox(0, 779, 780, 780)]
    assert pixel_boxes(wanted, (2000, 2000)) == [
        PanelBox(0, 0, 780, 780),
        PanelBox(780, 0, 780, 780),
        PanelBox(0, 780, 780, 780),
    ]
    apart = [PanelBox(0, 0, 10, 10), PanelBox(20, 20, 10, 10)]
    assert pixel_boxes(apart, (30, 30)) == apart
    with pytest.raises(FileError, match="Leave a gap of a pixel"):
        pixel_boxes([PanelBox(0, 0, 10, 10), PanelBox(9, 0, 10, 10)], (19, 10))
