"""What is cut for a framed piece, against lengths worked out by hand; its page, read by another reader."""

from __future__ import annotations

from fractions import Fraction
from io import BytesIO

import pytest
from pypdf import PdfReader

from oak_ledge.core.notes.zones import keep_notes
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.pixels.paper.cut_card import draw_cut_card
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.reports.cut_card import cut_card, millimetres, mouldings, sixteenths
from oak_ledge.core.reports.hanging import hung
from oak_ledge.core.sizes.text.sentence import say_size
from oak_ledge.core.sizes.text.write import write_size
from oak_ledge.core.sizes.variants import twin_of
from tests.samples import size, there

MATTED = size(
    "210x297mm@300",
    frame={
        "opening": "30x40cm",
        "lip": "6mm",
        "moulding": "20mm",
        "mat": {"outer": "30x40cm", "window": "200x287mm"},
    },
)


def mm(pair):
    return tuple(millimetres(edge) for edge in pair)


def test_a_matted_print_is_cut_by_its_own_lengths_turned_as_it_lies():
    for asked, way in (((2480, 3508), 1), ((3508, 2480), -1)):
        card = there(cut_card(MATTED, asked))
        cuts = {one.what: one for one in card.cuts}
        assert mm(cuts["Print"].inches) == ("210", "297")[::way]
        assert mm(cuts["Mat"].inches) == ("300", "400")[::way]
        assert mm(cuts["Window of the mat"].inches) == ("200", "287")[::way]
        assert mm(cuts["Glass and backing"].inches) == ("298", "398")[::way]
        # 20 mm of moulding, of which 6 mm lap over the opening: 14 mm more on every side
        assert mm(cuts["Moulding, two of each"].inches) == ("328", "428")[::way]
        place = ("50 mm) from the sides", "56.5 mm) from the sides")[way < 0]
        assert place in cuts["Window of the mat"].remark
        assert mm(card.sight) == ("288", "388")[::way]


def test_mouldings_add_up_by_their_width():
    plain = there(cut_card(size("8x10in@300", frame={"moulding": "1in"}), (2400, 3000)))
    matted = there(cut_card(MATTED, (2480, 3508)))
    found = mouldings([plain, matted, plain])
    assert [(one.width_mm, one.pieces) for one in found] == [(20, 1), (25.4, 2)]
    assert found[1].feet == pytest.approx(2 * 2 * (10 + 12) / 12)
    assert found[0].metres == pytest.approx(2 * (0.328 + 0.428))
    assert found[0].words == "20 mm moulding for 1 piece: 1.51 m, 5 ft"
    assert mouldings([]) == []


@pytest.mark.parametrize(
    ("inches", "words"),
    [
        (Fraction(1, 32), "1/16"),
        (Fraction(63, 64), "1"),
        (Fraction(129, 16), "8 1/16"),
        (Fraction(17, 2), "8 1/2"),
    ],
)
def test_inches_are_said_to_the_nearest_sixteenth(inches, words):
    assert sixteenths(inches) == words


def test_without_a_frame_nothing_is_cut():
    assert cut_card(size("8x10in@300"), (2400, 3000)) is None


def test_a_round_window_is_said_and_hides_what_lies_in_its_corners():
    framed = size("8x10in@300 mat 16x20in window 7x9in round lip 5mm")
    assert write_size(framed) == "8x10in@300 lip 5mm mat 16x20in window 7x9in round"
    assert "7 × 9 in seen in the mat's round window" in say_size(framed)
    assert there(there(twin_of(framed).frame).mat).round
    card = there(cut_card(framed, (2400, 3000)))
    assert card.round
    assert "Round window of the mat" in [cut.what for cut in card.cuts]
    assert draw_cut_card(card, "float.jpg", "round") != draw_cut_card(
        card.model_copy(update={"round": False}), "float.jpg", "round"
    )
    hangs = there(hung(framed, (2400, 3000)))
    assert hangs.round
    assert hangs.window == pytest.approx((7 / 8, 9 / 10))
    lying = lying_on(framed, (2400, 3000), suggest(framed, (2400, 3000)))
    middle = Keeps(zones=(Zone(left=900, top=1200, width=600, height=600),))
    corner = Keeps(zones=(Zone(left=260, top=260, width=400, height=400),))
    assert [note.code for note in keep_notes(lying, middle) if note] == []
    (hidden,) = [note for note in keep_notes(lying, corner) if note]
    assert (hidden.code, "under the round mat" in hidden.text) == ("keep-hidden", True)


def test_the_page_is_a5_and_says_every_length():
    card = there(cut_card(MATTED, (2480, 3508)))
    data = draw_cut_card(card, "quay — “lanterns” ✓.jpg", "A4 in a mat · Evening")
    (page,) = PdfReader(BytesIO(data)).pages
    assert [float(edge) for edge in page.mediabox[2:]] == pytest.approx([419.53, 595.28], abs=0.01)
    text = page.extract_text()
    for cut in card.cuts:
        assert cut.in_inches in text
        assert cut.in_mm in text
    assert "quay — “lanterns” ?.jpg" in text
    assert draw_cut_card(card, "a", "b") == draw_cut_card(card, "a", "b")
