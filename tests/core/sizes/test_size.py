from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from pydantic import ValidationError

from oak_ledge.core.sizes.geometry import written_pixels
from oak_ledge.core.sizes.pixels_from_crop import turned_pixels
from oak_ledge.core.sizes.size import Size
from tests import strategies
from tests.samples import size

TURNS = [
    # text, photo as held, a person's own turn → pixels
    ("8x10in@300", (6000, 4000), None, (3000, 2400)),
    ("8x10in@300", (4000, 6000), None, (2400, 3000)),
    ("10x8in@300", (4000, 6000), None, (2400, 3000)),
    ("8x10in@300", (5000, 5000), None, (2400, 3000)),
    ("8x10in@300 fixed", (6000, 4000), None, (2400, 3000)),
    ("8x10in@300", (6000, 4000), "tall", (2400, 3000)),
    ("8x10in@300", (4000, 6000), "wide", (3000, 2400)),
    ("384x160px", (4000, 6000), None, (384, 160)),
    ("384x160px suit", (4000, 6000), None, (160, 384)),
    ("21x29.7cm@300", (6000, 4000), None, (3508, 2480)),
    ("29.7x42cm@240", (4000, 6000), None, (2806, 3969)),
]


@pytest.mark.parametrize(("text", "held", "turned", "pixels"), TURNS)
def test_a_size_turns_to_suit_the_photo_or_as_told(text, held, turned, pixels):
    asked = size(text)
    written = written_pixels(asked)
    assert written is not None
    assert turned_pixels(written, asked.turn, held, turned) == pixels


@given(strategies.sizes)
def test_a_size_is_its_json(asked):
    assert Size.model_validate_json(asked.model_dump_json()) == asked


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"colour": "red"}, "colour"),
        ({"ppi": "0"}, "greater than 0"),
        ({"ppi": None}, "needs a resolution"),
        ({"ppi": 0.1}, "stays exact"),
        ({"shape": {"kind": "exact", "width": "3/2", "height": "2", "unit": "px"}}, "whole"),
        ({"shape": {"kind": "exact", "width": "-3", "height": "2", "unit": "in"}}, "length=-3"),
        ({"shape": {"kind": "exact", "width": "0", "height": "2", "unit": "px"}}, "greater than 0"),
        ({"shape": {"kind": "exact", "width": "9000", "height": "2", "unit": "in"}}, "2700000 px"),
        ({"shape": {"kind": "percent", "percent": "0"}}, "above 0"),
        ({"receiver": {"low": 0, "high": 300}}, "greater than or equal to 1"),
        ({"receiver": {"low": 300, "high": 240}}, "above its highest"),
        ({"ground": "rosy"}, "is not a colour. Write white, black, one like #f3efe6"),
        ({"bleed": "3"}, "is not a length. Write it with its unit, like 3mm"),
        ({"bleed": "3px"}, "is not a length"),
        ({"frame": {"lip": "6mm", "wood": "oak"}}, "wood"),
        ({"frame": {"opening": "8x0in"}}, "is not a width and a height"),
        ({"frame": {"lip": "4in", "moulding": "5in"}}, "leaves nothing of the print"),
        ({"frame": {"lip": "20mm"}}, "no wider than its lip"),
        ({"frame": {"mat": {"outer": "9x12in", "window": "9x11in"}}}, "too small for a window"),
        ({"differ": "inside", "bleed": "3mm"}, "go with a print"),
        ({"file": {"at_most": 0}}, "greater than or equal to 1"),
    ],
)
def test_a_size_that_cannot_be_is_refused_by_name(change, words):
    with pytest.raises(ValidationError, match=words):
        size("8x10in@300", **change)


def test_an_exact_size_of_a_centimetre_paper_is_exact():
    assert size("21x29.7cm@300").shape.model_dump()["height"] == "297/10"
    assert written_pixels(size("20x30cm@118.11px/cm")) == (2362, 3543)
    assert size("1200x1600px").ppi is None
    assert size("1200x1600px@72").ppi == Fraction(72)
