from __future__ import annotations

import pytest

from oak_ledge.core.heads.face_points import FaceFound, FaceMeasured, Faces
from oak_ledge.core.notes.heads import head_notes, surely_found
from oak_ledge.core.photos.keep_zones import NOTHING
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import changed
from oak_ledge.core.placements.zones.around import suggest_around
from oak_ledge.core.reports.tally import tally
from oak_ledge.core.sizes.text.read import read_size
from tests.core.placements.zones.test_head import IDENTITY, UPRIGHT, leaning

FACE = leaning()


def noted(faces, size=IDENTITY, **changes):
    face = faces.meant if faces else None
    placement = changed(suggest_around(size, UPRIGHT, NOTHING, None, face), **changes)
    lying = lying_on(size, UPRIGHT, placement)
    return {note.code: note for note in head_notes(lying, faces, tally(lying))}


def of_width(share):
    """Return the crop's width that makes the head so many times as tall as asked."""
    return {"width": suggest_around(IDENTITY, UPRIGHT, NOTHING, None, FACE).width / share}


# the head's share of 34 mm, level, and what is said of it
MISSED = [
    (1.0, None, ""),
    (36 / 34 - 1e-4, None, ""),
    (36.2 / 34, "look", "The head is 36.2 mm, not 32 to 36 mm."),
    (31.8 / 34, "look", "The head is 31.8 mm"),
    (39.3 / 34, "look", "39.3 mm"),
    (39.5 / 34, "stop", "39.5 mm"),
    (28.5 / 34, "stop", "28.5 mm"),
]


@pytest.mark.parametrize(("share", "level", "says"), MISSED)
def test_a_head_off_its_range_is_said_by_how_much_with_its_step(share, level, says):
    note = noted(Faces(set=FACE), **of_width(share)).get("head")
    assert (None if note is None else note.level) == level
    if note is not None:
        assert says in note.text
        assert note.way == "Make it 34 mm, eyes at 55 %"


def test_eyes_off_their_range_and_a_head_to_the_side_are_said():
    first = suggest_around(IDENTITY, UPRIGHT, NOTHING, None, FACE)
    high = first.width * 45 / 35
    notes = noted(Faces(set=FACE), cy=first.cy - 0.07 * high, cx=first.cx - 0.08 * first.width)
    assert notes["head"].text == "The eyes lie at 48 % of the height, not 50 to 60 %."
    assert notes["head-aside"].text == "The eyes lie 2.8 mm to the right of the middle."
    assert noted(Faces(set=FACE), cy=first.cy - 0.12 * high)["head"].level == "stop"


def test_a_head_that_leans_is_said_and_one_that_was_turned_far():
    assert noted(Faces(set=FACE), angle=6.0)["head-tilt"].way == "Level the eyes"
    assert "head-tilt" not in noted(Faces(set=FACE), angle=4.0)
    far = noted(Faces(set=leaning(lean=24)))["head-tilt"]
    assert (far.level, far.way) == ("look", None)
    assert "turned by 24°" in far.text


def test_points_that_were_found_ask_for_one_look():
    sure = FaceFound(sure=0.9, chin_within=40, crown_within=60, crown_seen=True)
    found = FACE.model_copy(update={"found": sure})
    note = noted(Faces(found=(found,)))["face-found"]
    assert [way.key for way in note.ways] == ["right", "right_for_all"]
    for rough in ({"crown_within": 90.0}, {"crown_seen": False}):
        unsure = FACE.model_copy(update={"found": sure.model_copy(update=rough)})
        note = noted(Faces(found=(unsure,)))["face-found"]
        assert "could not be found for sure" in note.text
        assert [way.key for way in note.ways] == ["right"]
        assert not surely_found(Faces(found=(unsure,)))
    assert "face-found" not in noted(Faces(found=(found,), set=FACE))


def test_without_a_face_a_piece_stops_and_other_sizes_say_nothing():
    assert noted(None)["head"].text.startswith("No face was found.")
    two = noted(Faces(found=(FACE, leaning(x=900))))["head"]
    assert (two.level, two.text) == ("stop", "2 faces were found. Click the one that is meant.")
    assert noted(Faces(set=FACE), read_size("35x45mm@600")) == {}


# what was measured, the note it gives, what that says
MEASURED = [
    ({"ground_spread": 10.0, "eye_blur": 0.0035, "clipped": 0.02}, None, ""),
    ({"ground_spread": 12.4}, "ground-uneven", "ΔE 12.4"),
    ({"eye_blur": 0.0036}, "eyes-soft", "0.12 mm"),
    ({"clipped": 0.031}, "face-clipped", "3.1 % of the face"),
]


@pytest.mark.parametrize(("figures", "code", "says"), MEASURED)
def test_what_the_pixels_of_a_face_say_is_a_note_with_its_figure(figures, code, says):
    face = FACE.model_copy(update={"measured": FaceMeasured(**figures)})
    notes = noted(Faces(set=face))
    assert {"ground-uneven", "eyes-soft", "face-clipped"} & set(notes) == (
        {code} if code else set()
    )
    if code:
        assert says in notes[code].text
    record = notes["head-measured"]
    assert record.level == "fine"
    assert record.text.startswith(
        "Head 34 mm, eyes at 55 % of the height, 0° off level, 0 mm off the middle"
    )
    assert "real ppi" in record.text
