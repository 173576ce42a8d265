from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.errors import SizeTextError
from oak_ledge.core.size_text import read_size, say_size, write_size
from tests import strategies

READS = [
    ("8x10in@300", "8x10in@300"),
    ("8 x 10 in @ 300 ppi", "8x10in@300"),
    ("8in × 10in @300", "8x10in@300"),
    ('8"x10"@300', "8x10in@300"),
    ("8″×10″@300", "8x10in@300"),
    ("8 1/2 x 11 in @ 300", "8.5x11in@300"),
    ("8,5x11in@300", "8.5x11in@300"),
    ("1/3x1/2 inch@300", "1/3x0.5in@300"),
    ("20×30 CM@300", "20x30cm@300"),
    ("210x297mm@300", "210x297mm@300"),
    ("20x30cm@118.11 px/cm", "20x30cm@299.9994"),
    ("1200x1600px", "1200x1600px"),
    ("1200 X 1600 px @ 72", "1200x1600px@72"),
    ("1200x1600px suit", "1200x1600px suit"),
    ("8x10in@300 suit", "8x10in@300"),
    ("8x10in@300 FIXED", "8x10in@300 fixed"),
    ("100%", "100%"),
    ("33 1/3 %", "33 1/3%"),
    ("long 12 in @ 220", "long 12in@220"),
    ("SHORT 2000px", "short 2000px"),
    ("width 18,5cm@300", "width 18.5cm@300"),
    ("height 900 px", "height 900px"),
    ("3:1", "3:1"),
    ("1.85 : 1 fixed", "1.85:1 fixed"),
    ("16:9@300", "16:9@300"),
    ("within 2048x2048px", "within 2048x2048px"),
    ("within 20x30cm enlarge @300", "within 20x30cm enlarge@300"),
    ("window 2560 x 1440 px", "window 2560x1440px"),
    ("photo", "photo"),
    ("Photo @ 240", "photo@240"),
]


@pytest.mark.parametrize(("text", "written"), READS)
def test_a_size_is_read_as_people_write_it(text, written):
    assert write_size(read_size(text)) == written


@given(strategies.sizes)
def test_reading_what_was_written_gives_the_size_back(asked):
    assert read_size(write_size(asked)) == asked


# text, where reading stops, what the sentence must hold
WRONG = [
    ("", 0, "nothing to read"),
    ("8x", 2, "the height is missing at the end"),
    ("8", 1, "the height is missing"),
    ("x10in@300", 0, "the width is missing before “x10in@300”"),
    ("0x10in", 0, "the width must be greater than 0"),
    ("8x0in@300", 2, "the height must be greater than 0"),
    ("8x10in@0", 7, "the resolution must be greater than 0"),
    ("8x10in@", 7, "the resolution is missing"),
    ("8x10in", 6, "needs its resolution. Write it behind an @, like 8x10in@300."),
    ("8x10", 4, "the unit is missing. Say in, cm, mm or px"),
    ("1e9x2px", 1, "“e9x2px” is not understood"),
    ("8x10ft@300", 4, "“ft@300” is not understood"),
    ("8inx10cm@300", 6, "width in in and height in cm cannot be mixed"),
    ("8x10in@300 please", 11, "“please” is left over"),
    ("8/0x10in@300", 0, "divides by zero"),
    ("8 10in@300", 2, "stands where × and the height should"),
    ("-8x10in@300", 0, "the width is missing"),
    ("9" * 40 + "x1px", 0, "too many digits"),
    ("999999999x3px", 0, "more than the 300000 px"),
    ("x" * 300, 0, "too long"),
    ("long", 4, "the length of the edge is missing"),
    ("long 12", 7, "Say in, cm, mm or px: long 12in@300 or long 12px."),
    ("short 20cm", 10, "Write it behind an @, like short 20cm@300."),
    ("3:", 2, "the second half of the ratio is missing"),
    ("1000:1", 0, "must lie between 1:100 and 100:1"),
    ("window 8x10in", 6, "whole photo pixels. Write it like window 2560x1440px."),
    ("within 8x10in", 13, "like within 8x10in@300."),
    ("0%", 0, "the width must be greater than 0"),
    ("photograph", 0, "the width is missing"),
]


@pytest.mark.parametrize(("text", "at", "words"), WRONG)
def test_what_is_not_a_size_is_told_where_why_and_how(text, at, words):
    with pytest.raises(SizeTextError) as told:
        read_size(text)
    assert words in str(told.value)
    assert told.value.at == at
    assert str(told.value).endswith(".")


@given(st.text(alphabet='0123456789 x×.,/@%incmpxfixedsuit"″', max_size=24))
def test_any_text_is_a_size_or_a_plain_no(text):
    asked = at = None
    try:
        asked = read_size(text)
    except SizeTextError as exc:
        at = exc.at
    assert (asked is None) != (at is None)
    if asked is not None:
        assert read_size(write_size(asked)) == asked
    if at is not None:
        assert 0 <= at <= len(text)


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("8x10in@300", "8 × 10 in at 300 ppi: 2400 × 3000 px, turned to suit each photo."),
        ("384x160px", "384 × 160 px; no resolution is written, as written."),
        ("1200x1600px@72 suit", "1200 × 1600 px at 72 ppi, turned to suit each photo."),
        ("100%", "A free crop with its pixels as they are; no resolution is written."),
        ("40%", "40 % of a free crop's pixels; no resolution is written."),
        ("long 12in@220", "Long edge 12 in at 220 ppi: 2640 px; the other follows the crop."),
        ("height 900px", "Height 900 px; the other follows the crop; no resolution is written."),
        (
            "3:1@240",
            "A crop of 3:1 with its pixels as they are at 240 ppi, turned to suit each photo.",
        ),
        (
            "photo",
            "A crop in the photo's own shape with its pixels as they are; no resolution is written.",
        ),
        (
            "within 2048x2048px",
            "Fitted within 2048 × 2048 px; smaller crops stay as they are; no resolution is written.",
        ),
        (
            "window 2560x1440px",
            "A window of 2560 × 1440 photo pixels, not one value changed; "
            "no resolution is written, as written.",
        ),
    ],
)
def test_a_size_is_said_as_a_sentence(text, sentence):
    assert say_size(read_size(text)) == sentence


def test_a_resolution_per_centimetre_is_kept_exact():
    assert read_size("1x1cm@100px/cm").ppi == Fraction(254)
