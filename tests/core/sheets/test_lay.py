"""Sheets changed by hand: moved, turned, put on, taken off; nothing ever lies over anything."""

from __future__ import annotations

from contextlib import suppress
from fractions import Fraction

import pytest
from hypothesis import given, strategies as st
from pydantic import ValidationError

from oak_ledge.core.errors import PlacementError, SizeError
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.sheets.canvas import Rect, canvas_of, read_width, width_on
from oak_ledge.core.sheets.lay import (
    closed_up,
    move_outcome,
    moved,
    placed_by_itself,
    put_on,
    room_of,
    share_used,
    still_fits,
    taken_off,
    turned_over,
    with_more,
)
from oak_ledge.core.sheets.piece import PieceOn, drawn_on, piece_on
from oak_ledge.core.sheets.sheet import Place, Sheet, layout_from, usual_spaces
from tests import strategies
from tests.samples import size

PAPER = size("17x22in@300")
NAMES = ["one", "two", "three", "four"]


def layout(paper="17x22in@300", **said):
    return layout_from(canvas=size(paper), **{"margin": "0.5in", "gap": "0.25in"} | said)


def prints(*edges, below=0):
    return {
        n: PieceOn(Fraction(w), Fraction(h), Fraction(0), Fraction(below))
        for n, (w, h) in enumerate(edges)
    }


def sheet(pieces, **said):
    bare = Sheet(layout=layout(**said), places=tuple(Place(piece=n) for n in pieces))
    return placed_by_itself(bare, pieces)


@pytest.mark.parametrize(
    ("text", "kept", "inches"),
    [
        ("0.5in", "0.5in", "1/2"),
        ("10 mm", "10mm", "50/127"),
        ("30px", "30px", "1/10"),
        (0, "0", "0"),
    ],
)
def test_margins_and_gaps_are_read_in_lengths_and_pixels(text, kept, inches):
    assert read_width(text) == kept
    assert width_on(PAPER, kept) == Fraction(inches)


@pytest.mark.parametrize("text", ["5", "-3mm", "2.5px", "wide", "9" * 200 + "mm", "3 mm mm"])
def test_what_is_no_width_is_refused(text):
    with pytest.raises(SizeError):
        read_width(text)


@pytest.mark.parametrize(
    ("paper", "why"),
    [
        ("3:2", "both edges"),
        ("8x10in@300 panels 2", "a plain size"),
        ("8x10in@300 outline circle", "a plain size"),
        ("300x10in@300", "longer than 200 in"),
        ("100%", "both edges"),
    ],
)
def test_what_is_no_paper_is_refused(paper, why):
    with pytest.raises(SizeError, match=why):
        canvas_of(size(paper))
    with pytest.raises(SizeError, match=why):
        layout(paper)


def test_a_paper_lies_as_it_is_written_and_has_usual_spaces():
    assert canvas_of(size("22x17in@300")).turn == "fixed"
    assert usual_spaces(PAPER) == ("0.4in", "0.2in")
    assert usual_spaces(size("A4@300")) == ("10mm", "5mm")
    assert usual_spaces(size("384x160px")) == ("0", "0")
    with pytest.raises(PlacementError, match="leaves nothing"):
        room_of(layout(margin="9in"))
    with pytest.raises(SizeError, match="no lengths"):
        width_on(size("384x160px"), "3mm")


@pytest.mark.parametrize(
    ("text", "edges"),
    [
        ("8x10in@300", ("10", "8")),
        ("66x66mm@300", ("330/127", "330/127")),  # its length, not 780 px ÷ 300
        ("600x300px", ("2", "1")),  # counts in the paper's pixels
        ("600x300px@150", ("4", "2")),
        ("20x30cm@254 panels 2", ("1000/127", "1500/127")),  # one panel of two
    ],
)
def test_a_piece_takes_exactly_its_own_size(text, edges):
    asked = size(text)
    lying = lying_on(asked, (6000, 4000), suggest(asked, (6000, 4000)))
    on = piece_on(PAPER, lying)
    assert (on.width, on.height) == tuple(map(Fraction, edges))
    face = piece_on(size("9000x9000px"), lying)
    assert face.width == (lying.asked[0] // 2 if "panels" in text else lying.asked[0])


def test_bleed_is_counted_and_trimmed_inside_it():
    asked = size("8x10in@300", bleed="1/8in")
    lying = lying_on(asked, (6000, 4000), suggest(asked, (6000, 4000)))
    on = piece_on(PAPER, lying, named=True)
    assert (on.width, on.height) == (Fraction(41, 4), Fraction(33, 4))
    trimmed = on.trimmed(Fraction(1), Fraction(2), turned=True)
    assert trimmed == Rect(Fraction(9, 8), Fraction(17, 8), Fraction(8), Fraction(10))
    assert on.taken(Fraction(0), Fraction(0), turned=False).height > on.height


@pytest.mark.parametrize(
    ("text", "paper", "pixels"),
    [
        ("8x10in@240", "17x22in@300", (3000, 2400)),
        ("66x66mm@150", "A4@300", (780, 780)),
        ("8x10in@300", "17x22in@300", (3000, 2400)),
        ("600x300px", "17x22in@300", (600, 300)),
        ("600x300px", "384x160px", (600, 300)),
    ],
)
def test_a_piece_is_drawn_at_the_papers_own_resolution(text, paper, pixels):
    asked = size(text)
    lying = lying_on(asked, (6000, 4000), suggest(asked, (6000, 4000)))
    drawn = drawn_on(size(paper), lying)
    assert drawn.asked == pixels
    assert drawn.crop.width == pytest.approx(lying.crop.width, rel=1e-3)


def test_a_move_is_drawn_to_its_neighbours_and_says_what_is_in_its_way():
    pieces = prints((4, 6), (5, 7))
    made = sheet(pieces)
    made = (
        moved(made, pieces, NAMES, 0, Fraction(1, 2), Fraction(1, 2), snap=False)
        if made.places[1].x > 5
        else made
    )
    one = made.places[0]
    lies = pieces[0].whole(one.x, one.y, turned=one.turned)
    low = lies.y + lies.height + Fraction(1, 4)
    near = move_outcome(
        made, pieces, NAMES, 1, lies.x + Fraction(1, 40), low + Fraction(1, 50), snap=True
    )
    assert (near.x, near.y, near.why) == (lies.x, low, "")
    assert lies.x in near.vertical
    free = move_outcome(made, pieces, NAMES, 1, Fraction(9), Fraction(12), snap=False)
    assert (int(free.x), int(free.y), free.why) == (9, 12, "")
    assert free.vertical == free.horizontal == ()
    over = move_outcome(made, pieces, NAMES, 1, one.x, one.y, snap=False)
    assert over.why == "two would lie over one."
    with pytest.raises(PlacementError, match="two would lie over one"):
        moved(made, pieces, NAMES, 1, one.x, one.y, snap=False)
    out = moved(made, pieces, NAMES, 1, Fraction(90), Fraction(90), snap=False)
    room, wide = room_of(made.layout), 7 if out.places[1].turned else 5
    assert out.places[1].x == room.x + room.width - wide


def test_turned_where_there_is_room_and_refused_where_there_is_none():
    pieces = prints((16, 4))
    made = sheet(pieces)
    turned = turned_over(made, pieces, NAMES, 0)
    assert turned.places[0].turned != made.places[0].turned
    assert still_fits(turned, pieces)
    wide = prints((16, 4), (16, 16))
    full = sheet(wide)
    with pytest.raises(PlacementError, match="no room here when it is turned"):
        turned_over(full, wide, NAMES, 0)


def test_put_on_where_there_is_room_taken_off_and_pages_close_up():
    pieces = prints((12, 20), (12, 20), (3, 3), (40, 3))
    made = sheet(pieces)
    assert sorted(one.page for one in made.places[:2]) == [0, 1]
    assert made.places[3].page is None
    shared = made.places[2].page
    left = taken_off(made, 0 if made.places[0].page != shared else 1)
    assert left.pages == 1
    assert still_fits(left, pieces)
    with pytest.raises(
        PlacementError, match=r"four is larger than 17 × 22 in at 300 ppi with a margin of 0\.5in"
    ):
        put_on(made, pieces, NAMES, 3)
    again = put_on(made, pieces, NAMES, 2, page=1)
    assert again.places[2].page == 1
    other = made.places[0].page
    with pytest.raises(PlacementError, match=f"page {other + 1} has no room for two"):
        put_on(made, pieces, NAMES, 1, page=other)
    off = made.model_copy(update={"places": (made.places[1].model_copy(update={"page": 5}),)})
    assert closed_up(off).places[0].page == 0
    with pytest.raises(PlacementError, match="lies on no page yet"):
        moved(made, pieces, NAMES, 3, Fraction(1), Fraction(1), snap=True)


@given(
    st.lists(st.tuples(st.integers(1, 18), st.integers(1, 21)), min_size=1, max_size=4),
    st.lists(st.integers(0, 3), max_size=14),
    st.sampled_from([Fraction(0), Fraction(1, 8), Fraction(10, 254)]),
)
def test_many_at_once_lie_where_one_after_the_other_would(edges, wanted, below):
    pieces = prints(*edges, below=below)
    made = sheet(pieces)
    more = [Place(piece=one % len(edges)) for one in wanted]
    one_by_one = made
    for place in more:
        grown = one_by_one.model_copy(update={"places": (*one_by_one.places, place)})
        with suppress(PlacementError):  # it is larger than the room, and lies on no page
            grown = put_on(grown, pieces, ["x"] * len(grown.places), len(grown.places) - 1)
        one_by_one = grown
    assert with_more(made, pieces, more) == one_by_one


def test_names_have_room_below_and_what_is_used_is_told():
    named = prints((8, 10), (8, 10), below=Fraction(40, 254))
    made = sheet(named, names=True, margin="0.4in", gap="0.2in")
    assert made.pages == 1
    assert still_fits(made, named)
    assert share_used(
        made, named, [n for n, place in enumerate(made.places) if place.page == 0]
    ) == pytest.approx(160 / (17 * 22))


@strategies.often(150)
@given(st.data())
def test_whatever_is_done_nothing_lies_over_anything(data):
    edge = st.fractions(1, 9, max_denominator=16)
    pieces = prints(*data.draw(st.lists(st.tuples(edge, edge), min_size=1, max_size=6)))
    made = sheet(pieces)
    names = [str(n) for n in pieces]
    for _ in range(data.draw(st.integers(1, 6))):
        n = data.draw(st.integers(0, len(made.places) - 1))
        what = data.draw(st.sampled_from(["move", "turn", "off and on"]))
        try:
            if what == "move":
                x, y = (data.draw(st.fractions(-3, 25, max_denominator=100)) for _ in range(2))
                made = moved(made, pieces, names, n, x, y, snap=data.draw(st.booleans()))
            elif what == "turn":
                made = turned_over(made, pieces, names, n)
            else:
                made = closed_up(put_on(made, pieces, names, n))
        except PlacementError:
            pass
        assert still_fits(made, pieces)
        assert len(made.places) == len(pieces)
        assert {one.page for one in made.places if one.page is not None} == set(range(made.pages))


def test_a_sheet_holds_no_more_than_it_may_and_only_what_is_one():
    with pytest.raises(ValidationError):
        Sheet(layout=layout(), places=tuple(Place(piece=1) for _ in range(2001)))
    with pytest.raises(ValidationError):
        Place(piece=1, page=-1)
    with pytest.raises(SizeError):
        layout(kind="webp")
