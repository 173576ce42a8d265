from __future__ import annotations

import pytest

from oak_ledge.core.errors import SizeError
from oak_ledge.core.heads.head_asked import range_here
from oak_ledge.core.sizes.size import Size, changed_size
from oak_ledge.core.sizes.text import read as reading
from oak_ledge.core.sizes.text.sentence import say_size
from oak_ledge.core.sizes.text.write import shape_label, write_size


def read_size(text):
    return reading.read_size(text)


# as typed, as written, its head in its own unit, its eyes in per cent
ASKED = [
    ("35x45mm@600 head 32-36mm eyes 50-60%", None, (32, 36, "mm"), (50, 60)),
    (
        "35x45mm@600 eyes 55%, head 34 mm",
        "35x45mm@600 head 34mm eyes 55%",
        (34, 34, "mm"),
        (55, 55),
    ),
    ("2x2in@300 head 1 to 1 3/8 in", "2x2in@300 head 1-1.375in", (1, 1.375, "in"), None),
    ("600x600px head 300–400px", "600x600px head 300-400px", (300, 400, "px"), None),
    ("35x45mm@600, head 3,4cm, png", "35x45mm@600 head 3.4cm png", (3.4, 3.4, "cm"), None),
]


@pytest.mark.parametrize(("typed", "written", "head", "eyes"), ASKED)
def test_a_head_is_read_written_and_exchanged(typed, written, head, eyes):
    size = read_size(typed)
    assert write_size(size) == (written or typed)
    assert read_size(write_size(size)) == size == Size.model_validate_json(size.model_dump_json())
    assert size.turn == "fixed"  # heads stand upright
    asked = size.head
    assert (float(asked.low.amount), float(asked.high.amount), asked.low.unit) == pytest.approx(
        head
    )
    assert (size.eyes is None) == (eyes is None)
    if eyes:
        assert (size.eyes.low, size.eyes.high) == eyes
    assert f"a head of {asked.words}" in say_size(size)
    assert f"head {asked.words}" in shape_label(size)


REFUSED = [
    ("35x45mm@600 head 34", "with its unit"),
    ("35x45mm@600 head 34%", "is not a length"),
    ("35x45mm@600 head 50mm", "taller than the piece"),
    ("35x45mm@600 head 36-32mm", "is no range"),
    ("35x45mm@600 head 0mm", "is no range"),
    ("35x45mm@600 head 3mm-4cm", "with its unit"),
    ("35x45mm@600 head 400px", "say it as a length"),
    ("600x600px head 30mm", "needs a resolution"),
    ("35x45mm@600 eyes 50-60%", "say how tall it shall be"),
    ("35x45mm@600 head 34mm eyes 20mm", "per cent"),
    ("35x45mm@600 head 34mm eyes 120%", "no range of a height"),
    ("35x45mm@600 head 34mm suit", "never turned by itself"),
    ("35x45mm@600 head 34mm inside", "may be scaled"),
    ("35x45mm@600 head 34mm panels 2", "leave out panels"),
    ("35x45mm@600 head 34mm fills 80%", "leave out panels, fills"),
    ("3:2 head 34mm", "exact edges"),
    ("long 20cm@300 head 34mm", "exact edges"),
    (f"35x45mm@600 head {'9' * 40}mm", "unit"),
]


@pytest.mark.parametrize(("typed", "why"), REFUSED)
def test_what_no_head_can_be_is_refused_in_words(typed, why):
    with pytest.raises(SizeError, match=why):
        read_size(typed)


def test_a_range_and_a_single_value_may_be_missed_by_what_the_rules_say():
    ranged = read_size("35x45mm@600 head 32-36mm eyes 50-60%")
    single = read_size("35x45mm@600 head 34mm eyes 55%")
    assert ranged.head.allowed() == (32, 36)
    assert ranged.head.halting() == pytest.approx((28.6, 39.4))
    assert single.head.allowed() == pytest.approx((32.98, 35.02))
    assert single.head.halting() == pytest.approx((29.58, 38.42))
    assert ranged.eyes.halting() == pytest.approx((44.5, 65.5))
    assert changed_size(ranged, head=None, eyes=None).head is None
    match = range_here("head 34mm", 5)
    assert match is not None
    assert match["low"] == "34"
