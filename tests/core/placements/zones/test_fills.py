"""What a subject shall fill: laid so at first, noted where it does not, mended in one step."""

from __future__ import annotations

import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.errors import SizeTextError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.gesture import PhotoContext
from oak_ledge.core.gestures.move import Move
from oak_ledge.core.gestures.start import FillSubject, StartAgain
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.turn import Angle
from oak_ledge.core.notes.zones import FILLS_ROUGHLY, fills
from oak_ledge.core.photos.keep_zones import NOTHING, Keeps, Zone
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.placements.zones.around import filled_share, suggest_around
from oak_ledge.core.sizes.text.sentence import say_size
from oak_ledge.core.sizes.text.write import write_size
from tests.samples import size, there

PHOTO = (3000, 2000)
SHOP = size("2000x2000px extend on white fills 85%")


def keeps(*zones):
    return Keeps(zones=tuple(Zone(left=x, top=y, width=w, height=h) for x, y, w, h in zones))


@pytest.mark.parametrize(
    ("text", "zones", "crop"),
    [
        # 850 high: 85 % of 1000
        ("2000x2000px fills 85%", [(1000, 600, 400, 850)], (700, 525, 1000, 1000)),
        ("2000x2000px fills 85%", [(1000, 600, 850, 400)], (925, 300, 1000, 1000)),
        # two zones are one box, 1700 wide: 2000 wide and 1000 high
        ("4:2 fills 85%", [(500, 800, 200, 200), (2000, 900, 200, 200)], (350, 450, 2000, 1000)),
        # wider than the photo is high: the rest is ground where it may be
        ("2000x2000px extend fills 50%", [(900, 300, 1200, 1200)], (300, -300, 2400, 2400)),
        ("2000x2000px fills 50%", [(900, 300, 1200, 1200)], (500, 0, 2000, 2000)),
        # it can't be in the middle of what is there
        ("2000x2000px fills 85%", [(0, 0, 850, 850)], (0, 0, 1000, 1000)),
    ],
)
def test_the_first_crop_is_filled_as_the_size_says(text, zones, crop):
    asked = size(text)
    lying = lying_on(asked, PHOTO, suggest_around(asked, PHOTO, keeps(*zones)))
    assert lying.crop.box == pytest.approx(crop, abs=1)


@given(
    st.tuples(st.integers(0, 2500), st.integers(0, 1500), st.integers(60, 500), st.integers(60, 500)),
    st.integers(20, 100),
    st.floats(-20, 20),
)  # fmt: skip
def test_on_a_size_that_extends_it_fills_exactly_that_and_is_in_the_middle(zone, share, angle):
    asked, zones = size(f"2000x1500px extend on white fills {share}%"), keeps(zone)
    turned = apply(asked, PHOTO, suggest(asked, PHOTO), Angle(kind="angle", angle=angle))
    placement = apply(
        asked, PHOTO, turned, FillSubject(kind="fill_subject"), PhotoContext(keeps=zones)
    )
    lying = lying_on(asked, PHOTO, placement)
    assert filled_share(lying, zones) == pytest.approx(share / 100, abs=1e-6)
    middle = (zone[0] + zone[2] / 2, zone[1] + zone[3] / 2)
    assert (placement.cx, placement.cy) == pytest.approx(middle)
    assert fills(lying, zones) is None


def test_what_does_not_fill_is_looked_at_and_mended_in_one_step():
    zones = keeps((1000, 600, 600, 600))
    context = PhotoContext(keeps=zones)
    first = suggest_around(SHOP, PHOTO, zones)
    assert fills(lying_on(SHOP, PHOTO, first), zones) is None
    loose = apply(SHOP, PHOTO, first, Scale(kind="scale", factor=1.5), context)
    note = there(fills(lying_on(SHOP, PHOTO, loose), zones))
    assert (note.level, note.code, note.way) == ("look", "fills", "Make it fill 85 %")
    assert note.text == "The subject fills 57 % of the piece, not 85 %."
    mended = apply(SHOP, PHOTO, loose, FillSubject(kind="fill_subject"), context)
    assert filled_share(lying_on(SHOP, PHOTO, mended), zones) == pytest.approx(0.85)
    away = apply(SHOP, PHOTO, loose, Move(kind="move", dx=300, dy=0), context)
    assert apply(SHOP, PHOTO, away, StartAgain(kind="start_again"), context) == first
    none = there(fills(lying_on(SHOP, PHOTO, first), NOTHING))
    assert none.text.startswith("No subject is known that could fill 85 %.")
    assert apply(SHOP, PHOTO, loose, FillSubject(kind="fill_subject")) == loose
    narrow = size("2000x2000px fills 20%")  # the photo has not so much around it
    lying = lying_on(narrow, PHOTO, suggest_around(narrow, PHOTO, zones))
    stuck = there(fills(lying, zones))
    assert (stuck.way, stuck.text) == (None, "The subject fills 30 % of the piece, not 20 %.")
    assert abs(there(filled_share(lying, zones)) - 0.2) > FILLS_ROUGHLY


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("2000x2000px fills", "how much the subject fills is missing"),
        ("2000x2000px fills 85", "per cent of an edge"),
        ("2000x2000px fills 0.5%", "1 to 100 % of an edge, not 0.5 %"),
        ("2000x2000px fills 101%", "1 to 100 %"),
        ("long 2000px fills 85%", "needs a size|fixes a shape"),
        ("2000x2000px inside fills 85%", "may be scaled"),
        ("window 200x200px fills 85%", "may be scaled"),
    ],
)
def test_what_can_fill_nothing_is_refused(text, why):
    with pytest.raises(SizeTextError, match=why):
        size(text)


def test_it_is_written_and_said():
    assert write_size(SHOP) == "2000x2000px extend fills 85%"
    assert "extended with white, the subject filling 85 %" in say_size(SHOP)
