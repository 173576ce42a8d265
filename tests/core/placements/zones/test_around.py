"""Keep zones and lines: the suggestion around them, the notes, the one-step fix."""

from __future__ import annotations

import pytest
from hypothesis import assume, given, strategies as st

from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.gesture import PhotoContext
from oak_ledge.core.gestures.start import KeepWhole, StartAgain
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.typed import Type
from oak_ledge.core.notes.zones import keep_notes
from oak_ledge.core.photos.keep_zones import Keeps, UncutLine, Zone, within
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import laid
from oak_ledge.core.placements.zones.around import suggest_around
from oak_ledge.core.placements.zones.on_surface import to_upright, zones_on
from oak_ledge.core.sizes.hidden_edges import insets
from oak_ledge.core.sizes.size import size_from
from tests import strategies
from tests.core.placements.test_fit import PHOTO, PRINT

FIX = KeepWhole(kind="keep_whole")
CORNER = apply(PRINT, PHOTO, laid(PRINT, PHOTO), Type(kind="type", left=1000, top=800, width=3000))
"""8 × 10 in on 6000 × 4000: its crop is 3000 × 2400 from (1000, 800) on, as are the zones below."""


def zone(left, top, width, height):
    return Keeps(zones=(Zone(left=1000 + left, top=800 + top, width=width, height=height),))


def mark(x0, y0, x1, y1):
    return Keeps(marks=(UncutLine(x0=1000 + x0, y0=800 + y0, x1=1000 + x1, y1=800 + y1),))


@pytest.mark.parametrize(
    ("keeps", "codes", "words"),
    [
        (zone(500, 500, 600, 600), [], ""),
        (zone(2800, 500, 400, 400), ["keep-cut"], "50 % of it lies beyond the right"),
        (zone(2800, 2200, 400, 400), ["keep-cut"], "beyond the right and bottom"),
        (zone(4000, 500, 400, 400), ["keep-cut"], "100 % of it"),
        (zone(31, 500, 600, 600), ["keep-edge"], "within 1.3 % of the left edge"),
        (zone(60, 500, 600, 600), ["sliver"], "narrow strip, 2 %, is left"),
        (mark(2500, 1000, 3500, 1000), ["cut-line"], "The right edge cuts a line"),
        (mark(500, 2410, 2500, 2390), ["cut-line"], "The bottom edge"),
        (mark(500, 2408, 2500, 2408), ["cut-line"], "bottom edge runs along"),
        (mark(500, 2000, 2500, 2000), [], ""),
        (mark(3500, 2408, 4500, 2408), [], ""),
    ],
)
def test_what_is_not_kept_is_noted_with_its_figures(keeps, codes, words):
    found = [note for note in keep_notes(lying_on(PRINT, PHOTO, CORNER), keeps) if note]
    assert [note.code for note in found] == codes
    assert [note.level for note in found] == ["stop" if "keep-cut" in codes else "look"][
        : len(codes)
    ]
    assert all(words in note.text for note in found)
    if keeps.zones and found:
        assert found[0].way
        fixed = apply(PRINT, PHOTO, CORNER, FIX, PhotoContext(keeps=keeps))
        assert [note for note in keep_notes(lying_on(PRINT, PHOTO, fixed), keeps) if note] == []


def test_what_a_lip_hides_is_noted_and_fixed():
    framed = size_from(dict(PRINT) | {"frame": {"lip": "1/2in"}})
    keeps = zone(120, 500, 600, 600)
    (note,) = (note for note in keep_notes(lying_on(framed, PHOTO, CORNER), keeps) if note)
    assert (note.code, note.level) == ("keep-hidden", "look")
    assert "under the left edge" in note.text
    fixed = apply(framed, PHOTO, CORNER, FIX, PhotoContext(keeps=keeps))
    assert all(
        note is None or note.code == "sliver"
        for note in keep_notes(lying_on(framed, PHOTO, fixed), keeps)
    )


@strategies.often(300)
@given(
    strategies.exact_sizes(), st.tuples(st.integers(100, 9000), st.integers(100, 9000)),
    st.tuples(*[st.floats(0, 1)] * 4),
)  # fmt: skip
def test_the_suggestion_keeps_every_zone_wherever_the_shape_allows_it(asked, extent, shares):
    u, v, wide, high = shares
    left, top = u * extent[0] * 0.9, v * extent[1] * 0.9
    width, height = 1 + wide * (extent[0] - left - 1), 1 + high * (extent[1] - top - 1)
    keeps = zone(left - 1000, top - 800, width, height)
    made = suggest_around(asked, extent, keeps)
    crop = lying_on(asked, extent, made).crop
    hidden = (
        (insets(asked, (1, 1)) or ((0, 0), (0, 0)))[1] if not (asked.bleed or asked.wrap) else None
    )
    assume(hidden is not None)
    fits = width <= crop.width and height <= crop.height
    codes = [note.code for note in keep_notes(lying_on(asked, extent, made), keeps) if note]
    assert ("keep-cut" not in codes) == fits
    assert (
        apply(asked, extent, made, StartAgain(kind="start_again"), PhotoContext(keeps=keeps))
        == made
    )


@strategies.often(150)
@given(
    strategies.exact_sizes(),
    st.integers(0, 3),
    st.booleans(),
    st.tuples(*[st.floats(0.1, 0.4)] * 2),
)
def test_zones_follow_their_photo_however_it_is_held(asked, quarter, mirror, at):
    keeps = zone(at[0] * 4000, at[1] * 2500, 900, 700)
    placement = laid(asked, PHOTO, quarter=quarter, mirror=mirror)
    surface = lying_on(asked, PHOTO, placement).surface
    wide, high = surface.extent
    ((kind, points),) = zones_on(surface, keeps)
    back = to_upright(surface, list(points))
    found = keeps.zones[0]
    assert kind == "zone"
    assert min(back) == pytest.approx((found.left, found.top))
    assert max(back) == pytest.approx((found.left + 900, found.top + 700))
    assert all(-1e-6 <= x <= wide + 1e-6 and -1e-6 <= y <= high + 1e-6 for x, y in points)


def test_zones_are_cut_to_the_photo():
    keeps = Keeps(
        zones=(
            Zone(left=-50, top=10, width=100, height=20),
            Zone(left=7000, top=0, width=9, height=9),
        ),
        marks=(UncutLine(x0=-9, y0=-9, x1=-1, y1=-1), UncutLine(x0=-9, y0=5, x1=9, y1=5)),
    )
    assert within(keeps, PHOTO) == Keeps(
        zones=(Zone(left=0, top=10, width=50, height=20),),
        marks=(UncutLine(x0=-9, y0=5, x1=9, y1=5),),
    )


def test_what_is_too_large_for_its_shape_is_kept_as_far_as_it_goes():
    keeps = zone(-900, 700, 5800, 1000)
    made = suggest_around(PRINT, PHOTO, keeps)
    (note,) = (note for note in keep_notes(lying_on(PRINT, PHOTO, made), keeps) if note)
    assert note.code == "keep-cut"
    tight = apply(PRINT, PHOTO, made, Scale(kind="scale", factor=0.3), PhotoContext(keeps=keeps))
    assert apply(PRINT, PHOTO, tight, FIX, PhotoContext(keeps=keeps)).width == pytest.approx(5000)
