"""Borders: written, read and said; the picture keeps its own window exactly, whichever way it is turned."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from PIL import Image

from oak_ledge.core.errors import PlacementError, SizeError, SizeTextError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.pixels import Relabel, Resample
from oak_ledge.core.gestures.print.border import SetBorder
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.turn import Turn
from oak_ledge.core.measures.lengths import read_measure
from oak_ledge.core.pixels.render import render
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.reports.hanging import hung
from oak_ledge.core.reports.tally import tally
from oak_ledge.core.sizes.file_geometry import border_box, file_pixels, picture_of, picture_shares
from oak_ledge.core.sizes.geometry import file_edges, written_pixels
from oak_ledge.core.sizes.hidden_edges import insets
from oak_ledge.core.sizes.text.sentence import say_size
from oak_ledge.core.sizes.text.write import write_size
from oak_ledge.core.sizes.variants import twin_of
from tests import strategies
from tests.samples import size, there


@pytest.mark.parametrize(
    ("text", "picture", "file", "words"),
    [
        ("8x10in@300 border 1in", (1800, 2400), (2400, 3000), "a border of 1 in all round"),
        (
            "20x30cm@254 border 10mm 10mm 30mm 10mm",
            (1800, 2600),
            (2000, 3000),
            "10 mm above, 10 mm right, 30 mm below, 10 mm left, which leaves 1800 × 2600 px",
        ),
        ("1200x1600px border 40px", (1120, 1520), (1200, 1600), "which leaves 1120 × 1520 px"),
        ("1200x1600px@100 border 1in", (1000, 1400), (1200, 1600), "a border of 1 in all round"),
        (
            "5x7in@100 bleed 0.1in border 0.5in",
            (400, 600),
            (520, 720),
            "520 × 720 px with its bleed",
        ),
    ],
)
def test_a_border_is_read_written_and_said(text, picture, file, words):
    bordered = size(text)
    assert write_size(bordered) == text
    assert (written_pixels(bordered), file_edges(bordered)) == (picture, file)
    assert words in say_size(bordered)


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("8x10in@300 border", "the length of “border” is missing"),
        ("8x10in@300 border 10", "the length of “border” is missing"),
        ("8x10in@300 border 0mm", "a border of nothing is none"),
        ("8x10in@300 border 1mm 2mm", "one length, or four; here are 2"),
        ("8x10in@300 border 4in", "leaves nothing of 2400 × 3000 px"),
        ("8x10in@300 fixed border 0mm 0mm 9in 0mm", "leaves nothing of 3000 × 2400 px"),
        ("8x10in@300 border 40px", "goes with a size in pixels"),
        ("1200x1600px border 1in", "needs a resolution"),
        ("1200x1600px border 2.5px", "2.5px"),
        ("long 12in@300 border 1in", "within the exact edges of a print"),
        ("8x10in@300 inside border 1in", "not “inside”"),
        ("8x10in@300 wrap 3cm border 1in", "leave out wrap, outline and panels"),
        ("8x10in@300 outline circle border 1in", "leave out wrap, outline and panels"),
        ("8x10in@300 panels 3 border 1in", "leave out wrap, outline and panels"),
    ],
)
def test_what_has_no_border_is_refused_in_one_sentence(text, why):
    with pytest.raises(SizeTextError, match=why):
        size(text)


@pytest.mark.parametrize("text", ["9" * 10**7, " " * 10**7, "1mm " * 10**6, "", "1mm 2mm", "1mm x"])
def test_a_text_that_is_no_border_is_refused_at_once(text):
    with pytest.raises(ValueError, match="one length, or four"):
        SetBorder(kind="border", border=text)


def test_a_heavier_foot_stays_at_the_foot_when_the_print_is_turned():
    mounted = size("8x10in@100 border 0.5in 0.5in 1.5in 0.5in bleed 0.1in")
    for photo, picture, file in (
        ((4000, 6000), (700, 800), (820, 1020)),
        ((6000, 4000), (900, 600), (1020, 820)),
    ):
        lying = lying_on(mounted, photo, suggest(mounted, photo))
        assert (lying.asked, file_pixels(mounted, lying.asked)) == (picture, file)
        assert picture_of(mounted, file) == picture
        assert border_box(mounted) == (60, 60, 60, 160)
    tall = lying_on(
        mounted,
        (6000, 4000),
        apply(mounted, (6000, 4000), suggest(mounted, (6000, 4000)), Turn(kind="turn")),
    )
    assert tall.asked == (700, 800)
    assert twin_of(mounted).border == mounted.border
    assert "with a border of 0.5 in above" in tally(tall).sentence


def test_a_print_lies_as_itself_even_where_its_picture_lies_the_other_way():
    """10 × 11 in is tall, the picture above its heavy foot is wide: the frame is as the print."""
    mounted = size("10x11in@100 border 0in 0in 3in 0in opening 10x11in lip 0.25in")
    photo = (4000, 6000)
    lying = lying_on(mounted, photo, suggest(mounted, photo))
    assert lying.asked == (1000, 800)
    assert tally(lying).printed == (10, 11)
    assert there(hung(mounted, lying.asked)).words == "hangs 11.1 × 12.1 in"
    assert lying_on(
        mounted, photo, apply(mounted, photo, lying.placement, Turn(kind="turn"))
    ).asked == (1100, 700)


@pytest.mark.parametrize(
    ("frame", "hidden"),
    [("lip 0.25in", (0, 0)), ("lip 0.5in", (0, 0)), ("lip 0.75in", (0.25 / 7, 0.25 / 9))],
)
def test_what_a_lip_hides_of_a_picture_begins_behind_its_border(frame, hidden):
    mounted = size(f"8x10in@300 border 0.5in {frame}")
    printed, seen = there(insets(mounted, (2100, 2700)))
    assert printed == (0, 0)
    assert seen == pytest.approx(hidden)
    assert picture_shares(mounted, (2100, 2700)) == pytest.approx((1 / 16, 1 / 20, 7 / 8, 9 / 10))


@given(strategies.exact_sizes())
def test_picture_and_border_add_up_to_the_file(bordered):
    for photo in ((600, 400), (400, 600)):
        lying = lying_on(bordered, photo, suggest(bordered, photo))
        left, top, right, bottom = border_box(bordered)
        if bordered.border is None:
            assert (left, top, right, bottom) == (0, 0, 0, 0)
            continue
        wide, high = file_pixels(bordered, lying.asked)
        assert (left + lying.asked[0] + right, top + lying.asked[1] + bottom) == (wide, high)
        assert picture_of(bordered, (wide, high)) == lying.asked
        assert {wide, high} == set(file_edges(bordered))


@pytest.mark.parametrize(
    ("words", "paper"),
    [
        ("on #f3efe6", (243, 239, 230)),
        ("on blur", (255, 255, 255)),
        ("on black", (0, 0, 0)),
        ("", (255, 255, 255)),
    ],
)
@pytest.mark.parametrize("differ", ["trim", "extend"])
def test_the_picture_is_as_without_a_border_and_around_it_is_paper(tmp_path, words, paper, differ):
    y, x = np.mgrid[0:120, 0:200]
    picture = np.stack([x * 255 / 200, y * 2, (x + y) % 256], 2).astype(np.uint8)
    path = tmp_path / "photo.png"
    Image.fromarray(picture).save(path)
    mounted = size(f"120x120px {differ} {words} border 10px 10px 30px 20px png")
    bare = size(f"90x80px {differ} {words} png")
    drawn = {}
    for asked in (mounted, bare):
        lying = lying_on(asked, (200, 120), suggest(asked, (200, 120)))
        file = file_pixels(asked, lying.asked)
        drawn[asked.border is None], _ = render(
            path, asked, lying.crop, lying.asked, lying.surface, sides=file
        )
    whole = drawn[False]
    assert whole.shape == (120, 120, 3)
    assert np.array_equal(whole[10:90, 20:110], drawn[True])
    whole[10:90, 20:110] = paper
    assert (whole == np.array(paper)).all()


@pytest.mark.parametrize(
    ("text", "gesture", "now"),
    [
        ("8x10in@300 border 1in", Relabel(kind="relabel", ppi=Fraction(150)), "16x20in@150 border 2in"),
        ("8x10in@300 border 1in", Resample(kind="resample", ppi=Fraction(150)), "8x10in@150 border 1in"),
        ("1200x1600px border 40px", Resample(kind="resample", percent=Fraction(50)), "600x800px border 20px"),
        ("1200x1600px@100 border 40px", Resample(kind="resample", ppi=Fraction(50)), "12x16in@50 fixed border 0.4in"),
        ("8x10in@300 panels 2 gap 2in", Relabel(kind="relabel", ppi=Fraction(150)), "16x20in@150 panels 2 gap 4in"),
        ("800x600px panels 2 overlap 40px", Resample(kind="resample", percent=Fraction(50)), "400x300px panels 2 overlap 20px"),
    ],
)  # fmt: skip
def test_border_and_gap_follow_what_is_relabelled_and_resampled(text, gesture, now):
    asked = size(text)
    own = size_at(asked, apply(asked, (4000, 6000), suggest(asked, (4000, 6000)), gesture))
    assert write_size(own) == now


def test_a_border_is_dragged_side_by_side_and_taken_away():
    asked, photo = size("8x10in@300 border 10mm"), (4000, 6000)
    start = apply(asked, photo, suggest(asked, photo), Scale(kind="scale", factor=0.5))
    foot = apply(asked, photo, start, SetBorder(kind="border", side="bottom", to=358.6))
    own = size_at(asked, foot)
    assert write_size(own) == "8x10in@300 border 10mm 10mm 30mm 10mm"
    assert (foot.cx, foot.cy) == (start.cx, start.cy)
    whole = apply(asked, photo, foot, SetBorder(kind="border", side="bottom", to=118.1))
    assert whole.size is None  # as its size has it: no exception any more
    none = apply(asked, photo, foot, SetBorder(kind="border", border=None))
    assert write_size(size_at(asked, none)) == "8x10in@300"
    assert (
        write_size(
            size_at(asked, apply(asked, photo, none, SetBorder(kind="border", border="1/2in")))
        )
        == "8x10in@300 border 0.5in"
    )
    with pytest.raises(PlacementError, match="write how wide"):
        apply(asked, photo, none, SetBorder(kind="border", side="left", to=10))
    with pytest.raises(SizeError, match="leaves nothing"):
        apply(asked, photo, start, SetBorder(kind="border", side="left", to=3000))


@pytest.mark.parametrize(
    ("text", "to", "side"),
    [
        ("8x10in@300 border 0.5in", 75.0, "1/4in"),
        ("20x30cm@254 border 1cm", 155.0, "1.6cm"),
        ("1200x1600px border 40px", 51.4, "51px"),
    ],
)
def test_a_dragged_side_stops_at_steps_of_its_unit(text, to, side):
    asked = size(text)
    made = apply(
        asked,
        (4000, 6000),
        suggest(asked, (4000, 6000)),
        SetBorder(kind="border", side="left", to=to),
    )
    assert there(size_at(asked, made).border).left == read_measure(side)
