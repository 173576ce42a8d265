"""Keep zones and joints: noted where one lies across, slid off, and off from the first suggestion."""

from __future__ import annotations

import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.gesture import PhotoContext
from oak_ledge.core.gestures.move import Move
from oak_ledge.core.gestures.start import OffJoint
from oak_ledge.core.gestures.typed import Type
from oak_ledge.core.notes.zones import joint, keep_notes
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.placements.zones.around import suggest_around
from oak_ledge.core.placements.zones.off_joints import across_joints
from tests import strategies
from tests.samples import size, there

PHOTO = (6000, 3000)
STRIP = size("400x500px panels 3")  # 1200 × 500
FREE = OffJoint(kind="off_joint")


def crop(asked, left, top, width):
    return apply(
        asked, PHOTO, suggest(asked, PHOTO), Type(kind="type", left=left, top=top, width=width)
    )


def keeps(*zones):
    return Keeps(zones=tuple(Zone(left=x, top=y, width=w, height=h) for x, y, w, h in zones))


@pytest.mark.parametrize(
    ("text", "zone", "between"),
    [
        ("400x500px panels 3", (1100, 600, 300, 300), None),
        ("400x500px panels 3", (2000, 600, 400, 300), (1, 2)),
        ("400x500px panels 3", (3300, 600, 400, 300), (2, 3)),
        ("600x125px panels 2x4", (1200, 700, 400, 200), (1, 3)),
        ("600x125px panels 2x4", (2600, 1300, 500, 400), (5, 6)),
        ("600x250px panels 2x2", (3000, 1100, 400, 300), (2, 4)),
        ("16x20in@25 panels 3 overlap 2in", (2100, 600, 90, 300), None),
        ("400x500px panels 3 gap 150px", (1100, 600, 700, 300), None),
        ("400x500px panels 3 gap 150px", (2000, 600, 90, 300), (1, 2)),  # all of it in the gap
        ("400x500px panels 3 gap 150px", (1800, 600, 250, 300), (1, 2)),
        ("400x500px panels 3 gap 150px", (3200, 600, 500, 300), (2, 3)),
        ("16x20in@25 panels 3 overlap 2in", (2100, 600, 500, 300), (1, 2)),
    ],
)
def test_a_zone_across_a_joint_is_noted_with_its_panels(text, zone, between):
    asked = size(text)
    lying = lying_on(asked, PHOTO, crop(asked, 1000, 500, 3600))
    found = joint(lying, keeps(zone))
    if between is None:
        assert found is None
        return
    assert there(found).text.endswith(f"between panels {between[0]} and {between[1]}.")
    assert there(found).level == "look"


def test_the_slide_that_frees_it_is_the_smallest_and_cuts_nothing_else():
    lies = crop(STRIP, 1000, 500, 3600)  # joints at 2200 and 3400
    zone = keeps((2100, 600, 400, 300))
    assert there(joint(lying_on(STRIP, PHOTO, lies), zone)).way == "Slide it off the joint"
    slid = apply(STRIP, PHOTO, lies, FREE, PhotoContext(keeps=zone))
    assert slid.cx - lies.cx == pytest.approx(-124)  # 100 to the joint, and a little air
    assert (slid.cy, slid.width) == (lies.cy, lies.width)
    with_neighbour = keeps((2100, 600, 400, 300), (4400, 600, 190, 300))
    other = apply(STRIP, PHOTO, lies, FREE, PhotoContext(keeps=with_neighbour))
    assert other.cx - lies.cx == pytest.approx(324)  # not to the left: that would cut the other
    assert [
        note for note in keep_notes(lying_on(STRIP, PHOTO, other), with_neighbour) if note
    ] == []


def test_where_no_slide_frees_it_none_is_offered():
    whole = crop(STRIP, 0, 100, 6000)  # all of the photo's width
    zone = keeps((1900, 600, 400, 300))
    found = joint(lying_on(STRIP, PHOTO, whole), zone)
    assert there(found).way is None
    assert apply(STRIP, PHOTO, whole, FREE, PhotoContext(keeps=zone)) == whole
    wide = keeps((2000, 600, 1500, 300))  # wider than a panel
    assert there(joint(lying_on(STRIP, PHOTO, crop(STRIP, 1000, 500, 3600)), wide)).way is None


@strategies.often(300)
@given(
    st.sampled_from(["400x500px panels 3", "600x500px panels 2x2", "16x20in@25 panels 3 overlap 1in",
      "400x500px panels 3 gap 90px"]),
    st.tuples(st.integers(0, 5000), st.integers(0, 2500), st.integers(20, 900), st.integers(20, 400)),
    st.floats(-1000, 1000),
    st.floats(-300, 300),
)  # fmt: skip
def test_a_slide_offered_keeps_its_word(text, zone, dx, dy):
    asked, zones = size(text), keeps(zone)
    lies = apply(asked, PHOTO, crop(asked, 1000, 500, 3300), Move(kind="move", dx=dx, dy=dy))
    found = joint(lying_on(asked, PHOTO, lies), zones)
    slid = apply(asked, PHOTO, lies, FREE, PhotoContext(keeps=zones))
    assert (slid.width, slid.angle) == (lies.width, lies.angle)
    if found is None or found.way is None:
        assert slid == lies
    else:
        assert across_joints(lying_on(asked, PHOTO, slid), zones) == []


def test_a_first_suggestion_is_off_the_joints_where_that_can_be():
    asked = size("500x700px panels 2")  # 1000 × 700 on 6000 × 3000: room to both sides
    subject = keeps((2800, 1000, 400, 800))
    lying = lying_on(asked, PHOTO, suggest_around(asked, PHOTO, subject))
    assert across_joints(lying, subject) == []
    assert joint(lying, subject) is None
    narrow = lying_on(STRIP, PHOTO, suggest_around(STRIP, PHOTO, keeps((1900, 1000, 400, 800))))
    assert narrow.asked == (1200, 500)  # no room to slide: noted instead
