from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given, strategies as st
from pydantic import TypeAdapter, ValidationError

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import in_inches, pixels_for
from oak_ledge.core.measures.numbers import Exact, halves_up, plain
from oak_ledge.core.measures.ratios import shape_words

# ISO 216 in mm, trade sizes in inches; pixels are floor(length × ppi + ½), worked by hand.
PAPER = [
    ("210", "mm", 300, 2480),
    ("297", "mm", 300, 3508),
    ("297", "mm", 240, 2806),
    ("420", "mm", 240, 3969),
    ("148", "mm", 300, 1748),
    ("21", "cm", 300, 2480),
    ("8", "in", 300, 2400),
    ("17/2", "in", 300, 2550),
    ("1/1000", "in", 300, 1),
    ("1/3", "in", 200, 67),
    ("5/2", "in", 1, 3),
]


@pytest.mark.parametrize(("length", "unit", "ppi", "pixels"), PAPER)
def test_a_length_becomes_the_nearest_whole_pixels(length, unit, ppi, pixels):
    assert pixels_for(in_inches(Fraction(length), unit), Fraction(ppi)) == pixels


@pytest.mark.parametrize(
    ("length", "ppi", "words"),
    [(0, 300, "length=0 in"), (-1, 300, "length=-1 in"), (8, 0, "0 ppi")],
)
def test_nothing_without_extent_becomes_pixels(length, ppi, words):
    with pytest.raises(SizeError, match=words):
        pixels_for(Fraction(length), Fraction(ppi))


def test_pixels_have_no_length():
    with pytest.raises(SizeError, match="no length until a resolution"):
        in_inches(Fraction(3), "px")


@given(st.fractions(max_denominator=10_000))
def test_halves_up_is_exact_and_within_a_half(value):
    assert Fraction(-1, 2) <= value - halves_up(value) < Fraction(1, 2)


def _read(text: str) -> Fraction:
    return sum((Fraction(part) for part in text.split()), Fraction(0))


@given(st.fractions(min_value=0))
def test_a_plain_number_reads_back_as_itself(value):
    assert _read(plain(value)) == value


@given(st.fractions())
def test_exact_numbers_travel_as_text(value):
    kind = TypeAdapter(Exact)
    assert kind.validate_json(kind.dump_json(value)) == value


@pytest.mark.parametrize("value", [0.1, True, "1/0", "eight"])
def test_what_is_not_exact_is_refused(value):
    with pytest.raises(ValidationError):
        TypeAdapter(Exact).validate_python(value)


@pytest.mark.parametrize(
    ("width", "height", "words"),
    [(3000, 2000, "3:2"), (1920, 1080, "16:9"), (2480, 3508, "1:1.41"), (1000, 999, "about 1:1")],
)
def test_a_shape_is_named_as_people_do(width, height, words):
    assert shape_words(width, height) == words
