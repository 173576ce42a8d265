from __future__ import annotations

from contextlib import suppress

import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.errors import CoreError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.typed import Type
from oak_ledge.core.notes.every import NOTES, note_words, notes
from oak_ledge.core.notes.file import over_limit
from oak_ledge.core.notes.note import stops
from oak_ledge.core.notes.zones import eyes_on_third, subject_cut
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import changed
from oak_ledge.core.placements.suggestion import laid, suggest
from oak_ledge.core.reports.tally import tally
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.core.sizes.text.write import write_size
from tests import strategies
from tests.samples import facts, size


def noted(asked, photo, factor=1.0):
    placement = apply(
        asked, photo.upright, suggest(asked, photo.upright), Scale(kind="scale", factor=factor)
    )
    lying = lying_on(asked, photo.upright, placement)
    return {note.code: note for note in notes(lying, photo, tally(lying))}


# size, likely meant
SLIPS = [
    ("6x8px", "6x8in@300"),
    ("8x10px@240", "8x10in@240"),
    ("20x30mm@300", None),  # 0.79 in: small, and possible
    ("8x10mm@300", "8x10in@300"),
    ("210x297in@10", "210x297mm@10"),
    ("1200x1600in@1", "1200x1600px"),
    ("2400x3000in@1", "2400x3000px"),
    ("63x63px", "63x63cm@300"),
    ("0.2x0.3in@300", "stop without a fix"),
    ("8x10in@300", None),
    ("64x64px", None),
    ("30000x30000px", None),
    ("30001x300px", "stop without a fix"),
    ("120x120in@100", None),
]


@pytest.mark.parametrize(("text", "meant"), SLIPS)
def test_a_slipped_unit_is_stopped_with_the_one_likely_meant(text, meant):
    found = noted(size(text), facts()).get("unit-slip")
    if meant is None:
        assert found is None
        return
    assert found is not None
    assert found.level == "stop"
    if meant == "stop without a fix":
        assert found.fix is None
        return
    assert found.fix == meant
    assert "Did you mean" in found.text
    fixed = read_size(meant)
    assert write_size(fixed) == meant
    assert "unit-slip" not in noted(fixed, facts())


def test_a_small_sign_is_a_sign_but_not_a_print():
    sign = size("48x20px", group="screen")
    assert "unit-slip" not in noted(sign, facts())
    assert noted(size("48x20px"), facts())["unit-slip"].level == "stop"


@pytest.mark.parametrize(
    ("factor", "level"),  # 5000 px wide crop onto 3000 px: scale is 0.6 ÷ factor
    [
        (1, None),
        (0.6, None),
        (0.55, "fine"),
        (0.4, "fine"),
        (0.39, "look"),
        (0.3, "look"),
        (0.29, "stop"),
    ],
)
def test_enlarging_is_marked_by_how_far_it_goes(factor, level):
    found = noted(size("8x10in@300"), facts(), factor).get("enlarged")
    assert (found.level if found else None) == level
    if found:
        assert "3000 × 2400 photo pixels, or a scan" in found.text


def test_a_size_may_allow_more_enlarging():
    found = noted(size("8x10in@300", greatest_enlargement="3"), facts(), 0.25)
    assert found["enlarged"].level == "look"


@pytest.mark.parametrize(
    ("factor", "level"),  # real resolution is 500 ppi × factor
    [(1, None), (0.481, None), (0.479, "look"), (0.241, "look"), (0.239, "stop")],
)
def test_a_receiver_gets_the_resolution_it_wants(factor, level):
    asked = size("8x10in@300", receiver={"low": 240, "high": 300}, greatest_enlargement="9")
    found = noted(asked, facts(), factor).get("short-of-ppi")
    assert (found.level if found else None) == level
    if found:
        assert found.text.endswith("Needs a crop 2400 px wide.")
        assert found.way == "Loosen to 240 ppi"


def test_a_photo_too_small_for_its_receiver_is_told_how_much_would_do():
    asked = size("8x10in@300", receiver={"low": 240, "high": 300})
    found = noted(asked, facts(1500, 1000))["short-of-ppi"]
    assert found.text.endswith("Needs a crop 2400 px wide; this photo holds 1250 px of this shape.")


@pytest.mark.parametrize(
    ("text", "factor", "words"),
    [
        ("8x10in@300", 0.78, None),
        ("8x10in@300", 0.77, "keeps 59 % of the largest of its shape; trimmed: 18 % left"),
        ("384x160px", 1, None),
        ("3200x1000px", 1, "costs 53 % of the photo; trimmed: 27 % top, 27 % bottom"),
    ],
)
def test_much_trimming_is_named_with_its_sides(text, factor, words):
    found = noted(size(text), facts(), factor).get("trimmed")
    assert (found is None) == (words is None)
    if found and words:
        assert words in found.text


@pytest.mark.parametrize(
    ("file", "quality", "code", "level", "words"),
    [
        ({}, 92, None, None, ""),
        ({"at_most": "4MB"}, 92, None, None, ""),
        (
            {"at_most": "4MB"},
            84,
            "low-quality",
            "fine",
            "within 4 MB the quality goes down from 92",
        ),
        ({"at_most": "4MB"}, 63, "low-quality", "look", "to about 63."),
        (
            {"at_most": "150kB"},
            None,
            "over-limit",
            "look",
            "more than 150 kB even at quality 60. Raise",
        ),
        (
            {"at_most": "150kB", "format": "png"},
            None,
            "over-limit",
            "look",
            "more than 150 kB. Raise the limit",
        ),
    ],
)
def test_what_a_limit_of_bytes_costs_is_said(file, quality, code, level, words):
    found = over_limit(size("8x10in@300", file=file), quality)
    assert (found.code if found else None, found.level if found else None) == (code, level)
    assert words in (found.text if found else "")


def test_what_was_assumed_is_said():
    found = noted(size("8x10in@300"), facts(profile=None, alpha=True))
    assert found["profile-assumed"].text.endswith("sRGB is assumed.")
    assert found["flattened"].level == "fine"
    kept = size("8x10in@300", file={"format": "png"})
    assert noted(kept, facts(alpha=True)) == {}


@pytest.mark.parametrize(
    ("photo", "group", "file", "words"),
    [
        ({"profile": "Display P3"}, "screen", {}, "many screens take every file as sRGB"),
        ({"profile": "Display P3"}, "marketplace", {}, "Give the size the profile sRGB"),
        ({"profile": "Display P3"}, "print", {}, None),
        ({"profile": "Display P3"}, "screen", {"profile": "srgb"}, None),
        ({"profile": "sRGB IEC61966-2.1"}, "screen", {}, None),
        ({"profile": "Press", "profile_fits": False}, "print", {}, "is not for RGB pixels"),
    ],
)
def test_a_profile_that_will_be_read_wrong_is_said(photo, group, file, words):
    found = noted(size("8x10in@300", group=group, file=file), facts(**photo))
    assert ("wrong-profile" in found) == (words is not None)
    assert words is None or words in found["wrong-profile"].text


def test_stops_come_first_and_a_person_can_take_the_responsibility():
    asked = size("6x8px", receiver={"low": 240, "high": 300})
    lying = lying_on(asked, (6000, 4000), suggest(asked, (6000, 4000)))
    found = notes(lying, facts(profile=None), tally(lying))
    assert [note.level for note in found] == ["stop", "look", "fine"]
    assert [note.code for note in stops(found)] == ["unit-slip"]
    assert list(stops(found, frozenset({"unit-slip"}))) == []


def test_a_found_subject_that_is_cut_is_looked_at_and_eyes_on_a_third_are_said():
    face = Zone(left=2600, top=300, width=800, height=1400, eyes=(3000, 1333))
    free = read_size("100%")
    whole = lying_on(free, (6000, 4000), laid(free, (6000, 4000)))
    assert subject_cut(whole, Keeps(zones=(face,))) is None
    note = eyes_on_third(whole, Keeps(zones=(face,)))
    assert note is not None
    assert (note.level, note.text) == ("fine", "The eyes lie on the upper third.")
    low = apply(free, (6000, 4000), whole.placement, Type(kind="type", top=800, height=3000))
    cut = lying_on(free, (6000, 4000), low)
    note = subject_cut(cut, Keeps(zones=(face,)))
    assert note is not None
    assert (note.level, note.text) == (
        "look", "The subject found in this photo is cut: 36 % of it lies beyond the top."
    )  # fmt: skip
    assert eyes_on_third(cut, Keeps(zones=(face,))) is None
    upside = lying_on(free, (6000, 4000), changed(whole.placement, quarter=2))
    assert eyes_on_third(upside, Keeps(zones=(face,))) is None  # the eyes stand below


@given(strategies.laid_sizes, strategies.extents, st.floats(0.05, 1), st.booleans())
def test_every_note_that_is_given_has_its_row_and_comes_in_order(asked, extent, width, alpha):
    photo = facts(*extent, alpha=alpha, profile=None)
    with suppress(CoreError):
        given_notes = [*noted(asked, photo, width).values()]
        assert {note.code for note in given_notes} <= set(NOTES)
        ranks = [["stop", "look", "fine"].index(note.level) for note in given_notes]
        assert ranks == sorted(ranks)


def test_every_note_has_a_word_for_where_it_stands_alone():
    assert not any("-" in kind.words for kind in NOTES.values())
    assert (note_words("joint"), note_words("of-old")) == ("keep zone across a joint", "of-old")


@pytest.mark.parametrize(
    ("frame", "words"),
    [
        ({"mat": {"outer": "16x20in", "window": "7.5x9.5in"}}, None),
        ({"mat": {"outer": "16x20in", "window": "8x9.5in"}}, "The print, 8 × 10 in, is no larger than the mat's window, 8 × 9.5 in"),
        ({"mat": {"outer": "9x11in", "window": "7x9in"}, "opening": "10x12in", "lip": "0.5in"}, "The mat, 9 × 11 in, is no larger than the frame's opening less its lip, 9 × 11 in"),
        ({"opening": "8x10in", "lip": "5mm"}, None),
        ({"opening": "9x11in", "lip": "5mm"}, "The print, 8 × 10 in, is no larger"),
        ({"opening": "9x11in"}, None),  # nobody said what its lip hides
        ({"lip": "5mm"}, None),
    ],
)  # fmt: skip
def test_a_print_that_falls_through_is_looked_at(frame, words):
    found = noted(size("8x10in@100", frame=frame), facts()).get("falls-through")
    assert (found is None) == (words is None)
    assert found is None or found.text.startswith(words)
