"""Panels: written, read and said; cut without a seam; what can't be cut is refused in words."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.errors import SizeTextError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.pixels import Resample
from oak_ledge.core.gestures.turn import Turn
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.reports.tally import tally
from oak_ledge.core.sizes.file_geometry import file_pixels, panel_boxes, picture_of
from oak_ledge.core.sizes.geometry import inches, written_pixels
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.core.sizes.text.sentence import say_size
from oak_ledge.core.sizes.text.write import shape_label, write_size
from oak_ledge.core.sizes.variants import twin_of
from tests.samples import size, there

WIDE, TALL = (6000, 2500), (2500, 6000)


@pytest.mark.parametrize(
    ("text", "whole", "words"),
    [
        ("1080x1350px panels 3", (3240, 1350), "3240 × 1350 px, cut in 3 panels side by side"),
        ("24x36in@150 panels 2x2", (7200, 10800), "in 4 panels, 2 across and 2 down"),
        ("10x15cm@254 panels 1x3", (1000, 4500), "in 3 panels one below the other"),
        ("20x30cm@254 panels 2x2 overlap 10mm", (3900, 5900), "10 mm shared at each joint"),
        ("40x60cm@254 panels 3 gap 5cm", (13000, 6000), "5 cm apart, 130 × 60 cm on the wall"),
        ("1080x1350px panels 3 gap 60px", (3360, 1350), "side by side, 60 px apart"),
        ("1080x1350px panels 2 overlap 80px", (2080, 1350), "80 px shared at each joint"),
        ("8x10in@300 extend panels 3", (7200, 3000), "extended with white; one picture"),
    ],
)
def test_panels_are_written_and_said_as_they_are_read(text, whole, words):
    found = read_size(text)
    assert write_size(found) == text
    assert written_pixels(found) == whole
    assert words in say_size(found)
    assert shape_label(found).endswith(" panels")


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("8x10in@300 panels", "the number of panels is missing"),
        ("8x10in@300 panels 0", "number of panels must be greater than 0"),
        ("8x10in@300 panels 1", "in 2 to 100 panels, not in 1"),
        ("8x10in@300 panels 200", "in 2 to 100 panels, not in 200"),
        ("8x10in@300 panels 20x20", "not in 400"),
        (f"8x10in@300 panels {'9' * 150}", "the number of panels has too many digits"),
        ("8x10in@300 panels 2.5", "must be a whole number"),
        ("8x10in@300 panels 2 gap 20px", "a gap of 20 px goes with a size in pixels"),
        ("800x600px panels 2 gap 5cm", "needs a resolution"),
        ("8x10in@300 panels 2 overlap 1cm gap 2cm", "not both"),
        ("8x10in@300 gap 2cm", "it stands right behind “panels 3”"),
        ("8x10in@300 panels 2 overlap 20", "the length of “overlap” is missing"),
        ("8x10in@300 panels 2 overlap 20px", "an overlap of 20 px goes with a size in pixels"),
        ("8x10in@300 panels 2 overlap 5in", "more than half a panel"),
        ("800x600px panels 2 overlap 10mm", "needs a resolution"),
        ("long 12in@220 panels 3", "need the exact edges or the ratio of one panel"),
        ("8x10in@300 inside panels 3", "not “inside”"),
        ("8x10in@300 panels 3 outline circle", "panels are bare rectangles"),
        ("90000x900px panels 4", "more than the 300000 px"),
        ("8x10in@300 panels 3 panels 2", "a second time"),
    ],
)
def test_what_cannot_be_cut_is_refused_in_one_sentence(text, why):
    with pytest.raises(SizeTextError, match=why) as caught:
        read_size(text)
    assert "\n" not in str(caught.value)


grids = st.tuples(st.integers(1, 6), st.integers(1, 6)).filter(lambda grid: grid[0] * grid[1] > 1)


@given(grids, st.integers(20, 90), st.integers(20, 90), st.integers(0, 10), st.booleans())
def test_joined_again_they_are_the_one_picture(grid, wide, high, shared, turned):
    overlap = f" overlap {shared}in" if shared else ""
    asked = size(f"{wide}x{high}in@1 fixed panels {grid[0]}x{grid[1]}{overlap}")
    whole = there(written_pixels(asked))
    if turned:
        whole = whole[::-1]
    picture = np.arange(whole[0] * whole[1]).reshape(whole[::-1])
    boxes = panel_boxes(asked, whole)
    assert len(boxes) == grid[0] * grid[1]
    file = file_pixels(asked, whole)
    assert sorted(file) == sorted((wide, high))
    assert picture_of(asked, file) == whole or wide == high or whole[0] == whole[1]
    joined = np.full_like(picture, -1)
    for left, top, across, along in boxes:
        part = picture[top : top + along, left : left + across]
        assert part.shape == (along, across) == file[::-1]
        there_now = joined[top : top + along, left : left + across]
        assert ((there_now == -1) | (there_now == part)).all()  # what two share is the same on both
        there_now[:] = part
    assert np.array_equal(joined, picture)
    assert [(box.top, box.left) for box in boxes] == sorted((box.top, box.left) for box in boxes)


@pytest.mark.parametrize(
    ("text", "photo", "whole", "file"),
    [
        ("8x10in@100 panels 3", WIDE, (2400, 1000), (800, 1000)),
        ("8x10in@100 panels 3", TALL, (1000, 2400), (1000, 800)),
        ("800x1000px panels 3", TALL, (2400, 1000), (800, 1000)),
        ("24x36in@10 panels 2x2", WIDE, (720, 480), (360, 240)),
    ],
)
def test_they_turn_together_to_suit_a_photo(text, photo, whole, file):
    asked = size(text)
    lying = lying_on(asked, photo, suggest(asked, photo))
    assert lying.asked == whole
    assert file_pixels(asked, lying.asked) == file
    assert f"cut in {there(asked.panels).count} panels of {file[0]} × {file[1]} px" in (
        tally(lying).sentence
    )


def test_lengths_and_gestures_are_those_of_all_panels_and_of_one():
    asked = size("20x30cm@254 panels 2x2 overlap 10mm")
    assert inches(asked) == (Fraction(39 * 50, 127), Fraction(59 * 50, 127))
    made = apply(asked, WIDE, suggest(asked, WIDE), Resample(kind="resample", width_px=1500))
    assert file_pixels(size_at(asked, made), lying_on(asked, WIDE, made).asked) == (1500, 1000)
    small = size("300x200px panels 3")
    turned = apply(small, WIDE, suggest(small, WIDE), Turn(kind="turn"))
    assert lying_on(small, WIDE, turned).asked == (200, 900)
    half = apply(small, WIDE, turned, Resample(kind="resample", percent=Fraction(50)))
    lying = lying_on(small, WIDE, half)
    assert (lying.asked, file_pixels(lying.size, lying.asked)) == ((100, 450), (100, 150))


@pytest.mark.parametrize(
    ("text", "photo", "whole", "panel"),
    [
        ("1:1 panels 3", (6000, 2500), (6000, 2000), (2000, 2000)),
        ("1:1 panels 3", (1000, 997), (999, 333), (333, 333)),
        ("1:1 panels 3", (2500, 6000), (2499, 833), (833, 833)),  # as written
        ("1:1 panels 3 suit", (2500, 6000), (2000, 6000), (2000, 2000)),
        ("4:5 panels 2", (4001, 3000), (4000, 2500), (2000, 2500)),
        ("4:5 panels 2x2", (4001, 3000), (2400, 3000), (1200, 1500)),
        ("1:1 panels 2x2", (1001, 1000), (1000, 1000), (500, 500)),  # never an odd edge
        ("1.85:1 panels 2", (5000, 3000), (4958, 1340), (2479, 1340)),
        ("1:1 panels 3 extend", (1000, 997), (2991, 997), (997, 997)),
    ],
)
def test_a_ratio_is_that_of_each_panel_and_all_come_unscaled(text, photo, whole, panel):
    asked = size(text)
    lying = lying_on(asked, photo, suggest(asked, photo))
    assert lying.asked == whole
    assert file_pixels(asked, lying.asked) == panel
    assert {box[2:] for box in panel_boxes(asked, lying.asked)} == {panel}
    assert tally(lying).scale == pytest.approx(1, abs=1e-3)


def test_ratio_panels_are_written_as_they_are_read_and_turn_their_grid():
    strip = size("1:1 panels 3")
    assert (strip.turn, write_size(strip)) == ("fixed", "1:1 panels 3")
    assert write_size(size("1:1 panels 3 suit")) == "1:1 suit panels 3"
    assert "3:1 together, cut in 3 panels side by side" in say_size(strip)
    assert write_size(twin_of(size("2:3 panels 3"))) == "3:2 panels 1x3"
    turned = apply(strip, WIDE, suggest(strip, WIDE), Turn(kind="turn"))
    lying = lying_on(strip, WIDE, turned)
    assert lying.asked[1] == 3 * lying.asked[0]
    assert [box.top for box in panel_boxes(strip, lying.asked)] == [
        0,
        lying.asked[0],
        2 * lying.asked[0],
    ]
    for text, why in (
        ("1:1 panels 3 gap 5cm", "edge to edge"),
        ("1:1 panels 3 overlap 5px", "edge to edge"),
        ("100% panels 3", "or the ratio of one panel"),
    ):
        with pytest.raises(SizeTextError, match=why):
            size(text)


@given(
    st.tuples(st.integers(1, 30), st.integers(1, 30)),
    st.tuples(st.integers(1, 4), st.integers(1, 4)).filter(lambda grid: grid != (1, 1)),
    st.tuples(st.integers(400, 5000), st.integers(400, 5000)),
)
def test_ratio_panels_are_as_large_as_the_photo_lets_them_be(ratio, grid, photo):
    asked = size(f"{ratio[0]}:{ratio[1]} panels {grid[0]}x{grid[1]}")
    lying = lying_on(asked, photo, suggest(asked, photo))
    lowest = Fraction(*ratio)
    across, along = grid[0] * lowest.numerator, grid[1] * lowest.denominator
    times = min(photo[0] // across, photo[1] // along)
    if times >= 1:
        assert lying.asked == (times * across, times * along)
    wide, high = file_pixels(asked, lying.asked)
    assert (wide * grid[0], high * grid[1]) == lying.asked
