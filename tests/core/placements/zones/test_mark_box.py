"""Where a mark lies: nine places in whole pixels, within border and bleed, on panels and turned prints."""

from __future__ import annotations

import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.errors import SizeError
from oak_ledge.core.marks.mark import PLACES, Mark, read_extent
from oak_ledge.core.notes.marks import mark_covers
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.placements.zones.mark_box import MarkBox, barred_on, boxes, field_of
from oak_ledge.core.sizes.file_geometry import file_pixels
from tests import strategies
from tests.samples import size, there


@pytest.mark.parametrize(
    ("text", "output", "how", "place", "box"),
    [
        ("1000x800px", (1000, 800), {}, "bottom-right", (816, 696, 160, 80)),
        ("1000x800px", (1000, 800), {}, "top-left", (24, 24, 160, 80)),
        ("1000x800px", (1000, 800), {}, "centre", (420, 360, 160, 80)),
        ("1000x800px", (1000, 800), {"width": "99px", "margin": "0%"}, "right", (901, 375, 99, 50)),
        ("8x10in@100", (800, 1000), {"width": "1in", "margin": "5mm"}, "bottom", (350, 930, 100, 50)),
        # shares are of the whole print, margins count from the picture
        ("8x10in@100 border 1in", (600, 800), {"width": "50%"}, "top-left", (124, 124, 400, 200)),
        ("8x10in@100 border 1in bleed 0.1in", (600, 800), {"width": "50%"}, "top-left", (134, 134, 400, 200)),
        # of the print without its bleed
        ("8x10in@100 bleed 0.1in", (820, 1020), {"width": "50%", "margin": "0%"}, "bottom-right", (410, 810, 400, 200)),
        ("8x10in@100 wrap 1in sides mirrored", (800, 1000), {"width": "50%", "margin": "0%"}, "top-left", (100, 100, 400, 200)),
        # on all panels together
        ("400x400px panels 3", (1200, 400), {"width": "25%", "margin": "10px"}, "right", (1090, 175, 100, 50)),
    ],
)  # fmt: skip
def test_a_mark_lies_on_whole_pixels_at_its_place(text, output, how, place, box):
    assert boxes(size(text), output, Mark(**how), (200, 100))[place] == box


@pytest.mark.parametrize(
    ("text", "how", "why"),
    [
        ("1000x800px", {"width": "15mm"}, "no resolution; say it in px"),
        ("1000x800px", {"margin": "5mm"}, "no resolution"),
        ("1000x800px", {"width": "100%", "margin": "20%"}, "make it smaller"),
        ("300x40px", {"width": "90px"}, "the mark is 90 × 45 px"),
    ],
)
def test_a_mark_that_does_not_fit_is_refused_in_words(text, how, why):
    asked = size(text)
    with pytest.raises(SizeError, match=why):
        boxes(
            asked,
            lying_on(asked, (3000, 2000), suggest(asked, (3000, 2000))).asked,
            Mark(**how),
            (200, 100),
        )


@pytest.mark.parametrize("text", ["", "%", "20", "101%", "-1%", "20%%", "1/0%", "x"])
def test_what_is_no_extent_is_refused(text):
    with pytest.raises(SizeError):
        read_extent(text)


@given(
    strategies.exact_sizes(),
    st.tuples(st.integers(1, 400), st.integers(1, 400)),
    st.integers(1, 30),
)
def test_all_nine_lie_within_what_they_are_laid_on(asked, shape, share):
    lying = lying_on(asked, (6000, 4000), suggest(asked, (6000, 4000)))
    wide, high = file_pixels(asked, lying.asked)
    field = field_of(asked, lying.asked)
    assert 0 <= field.left <= field.left + field.width <= wide
    assert 0 <= field.top <= field.top + field.height <= high
    try:
        nine = boxes(asked, lying.asked, Mark(width=f"{share}%", margin="1%"), shape)
    except SizeError:
        return
    assert tuple(nine) == tuple(place for place in PLACES if place != "calm")
    for box in nine.values():
        assert field.left <= box.left
        assert box.left + box.width <= field.left + field.width
        assert field.top <= box.top
        assert box.top + box.height <= field.top + field.height
    # opposite places are mirrored about the middle, to the pixel that can't be halved
    left, right = nine["top-left"], nine["bottom-right"]
    assert left.left - field.left == field.left + field.width - right.left - right.width


def test_a_mark_on_a_keep_zone_is_looked_at_and_the_calmest_place_avoids_it(tmp_path):
    asked = size("600x400px")
    lying = lying_on(asked, (3000, 2000), suggest(asked, (3000, 2000)))
    keeps = Keeps(zones=(Zone(left=2400, top=1700, width=500, height=250),))
    assert barred_on(lying, keeps) == [MarkBox(480, 340, 100, 50)]

    def note(place, **how):
        return mark_covers(lying, Mark(place=place, **how), (200, 100), keeps)

    assert there(note("bottom-right")).text.startswith(
        "The mark lies on a keep zone at bottom right."
    )
    assert note("bottom-left") is None
    assert note("calm") is None
    everywhere = Keeps(zones=(Zone(left=0, top=0, width=3000, height=2000),))
    covers = mark_covers(lying, Mark(place="calm"), (200, 100), everywhere)
    assert there(covers).code == "mark-covers"
