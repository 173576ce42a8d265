"""The box a crop needs around its photo, and how both lie on the canvas that this makes."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given, strategies as st

from oak_ledge.core.errors import FillError, PlacementError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.beyond_photo import Continue
from oak_ledge.core.gestures.gesture import PhotoContext
from oak_ledge.core.gestures.move import Move
from oak_ledge.core.gestures.square import Square
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.turn import Angle, Mirror, Quarter
from oak_ledge.core.notes.ground import continued, ground_unmade
from oak_ledge.core.photos.keep_zones import Zone
from oak_ledge.core.photos.strokes import Stroke
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.scene_geometry import (
    box_made,
    box_needed,
    ground_needed,
    ground_taken,
    is_unmade,
    on_canvas,
    on_scene,
    with_ground,
)
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.planes.matrices import at, inverse
from oak_ledge.core.planes.surface import turns_of
from oak_ledge.core.reports.tally import tally
from tests.samples import size, there

PHOTO = (1200, 800)
WIDE = size("16:9 extend", ground="continued")
TAKE = Continue(kind="continue", attempt=2)
KNOWN = PhotoContext(never_copied=(Zone(left=10, top=10, width=50, height=50),))


def laid(asked, *gestures):
    placement = suggest(asked, PHOTO)
    for gesture in gestures:
        placement = apply(asked, PHOTO, placement, gesture, KNOWN)
    return lying_on(asked, PHOTO, placement)


turns = st.lists(
    st.one_of(
        st.builds(Quarter, kind=st.just("quarter"), by=st.sampled_from([-1, 1])),
        st.just(Mirror(kind="mirror")),
        st.builds(Angle, kind=st.just("angle"), angle=st.floats(-30, 30)),
        st.builds(Move, kind=st.just("move"), dx=st.floats(-400, 400), dy=st.floats(-400, 400)),
        st.builds(Scale, kind=st.just("scale"), factor=st.floats(1, 1.5)),
        st.just(Square(kind="square", corners=((200, 150), (1000, 220), (980, 600), (150, 700)))),
    ),
    max_size=4,
)


@given(turns)
def test_the_canvas_holds_the_crop_and_shows_the_photo_where_it_was(gestures):
    try:
        lying = laid(size("8x10in@100 extend"), *gestures)
    except PlacementError:
        assume(False)
    surface, crop = lying.surface, lying.crop
    needed = box_needed(surface, crop, PHOTO) or (0, 0, *PHOTO)
    seen, moved = on_canvas(surface, crop, needed)
    left, top, right, bottom = needed
    assert left <= 0
    assert top <= 0
    assert (right, bottom) >= PHOTO
    corners = np.array(seen.to_photo(moved.corners()))
    assert (corners >= -1e-3).all()
    assert (corners <= np.array(seen.photo) + 1e-3).all()
    before = np.array(surface.to_photo(crop.corners()))
    upright_before = at(inverse(turns_of(surface)), before)
    upright_after = at(inverse(turns_of(seen)), corners)
    assert np.allclose(upright_after + np.array([left, top]), upright_before, atol=1e-4)


def test_a_try_is_taken_kept_inside_its_box_and_left():
    lying = laid(WIDE, TAKE)
    ground = there(lying.placement.continued)
    assert (ground.attempt, ground.avoid) == (2, KNOWN.never_copied)
    assert ground.box[0] < 0
    assert (ground.box[1], ground.box[3]) == (0, 800)
    assert ground_taken(lying) == ground
    nudged = laid(WIDE, TAKE, Move(kind="move", dx=8, dy=0))
    assert ground_taken(nudged) == ground
    gone = laid(WIDE, TAKE, Move(kind="move", dx=200, dy=0))
    assert is_unmade(gone)
    assert there(ground_unmade(gone)).way == "Continue the ground"
    made = there(with_ground(gone, KNOWN.never_copied).continued)
    assert made.attempt == 2
    assert made.box[2] > ground.box[2]
    assert on_scene(gone)[3] is None
    assert with_ground(lying, ()) == lying.placement


BRUSHED = (Stroke(points=((300.0, 400.0),), radius=90),)


@pytest.mark.parametrize(
    ("turns", "sides"),
    [
        ((), {"left": "left", "top": "top", "right": "right", "bottom": "bottom"}),
        (
            (Quarter(kind="quarter", by=1),),
            {"left": "bottom", "top": "left", "right": "top", "bottom": "right"},
        ),
        (
            (Mirror(kind="mirror"),),
            {"left": "right", "top": "top", "right": "left", "bottom": "bottom"},
        ),
        (
            (Mirror(kind="mirror"), Quarter(kind="quarter", by=-1)),
            {"left": "top", "top": "left", "right": "bottom", "bottom": "right"},
        ),
    ],
)
def test_a_source_is_said_for_one_side_as_it_is_seen(turns, sides):
    for seen, upright in sides.items():
        of_side = Continue(kind="continue", take_from=BRUSHED, side=seen)
        wider = Scale(kind="scale", factor=1.5)
        ground = there(laid(WIDE, *turns, wider, of_side).placement.continued)
        assert [source.side for source in ground.side_sources] == [upright]
        assert ground.take_from == ()


def test_a_source_stays_until_it_is_said_anew():
    of_left = Continue(kind="continue", take_from=BRUSHED, side="left")
    of_all = Continue(kind="continue", take_from=BRUSHED)
    both = there(laid(WIDE, of_all, of_left, TAKE).placement.continued)
    assert (both.attempt, both.take_from, both.source_of("left")) == (2, BRUSHED, BRUSHED)
    none = Continue(kind="continue", take_from=(), side="left")
    back = there(laid(WIDE, of_left, none).placement.continued)
    assert (back.side_sources, back.source_of("left")) == ((), ())
    assert there(laid(WIDE, of_left, of_all).placement.continued).side_sources == ()


def test_within_the_photo_no_ground_is_needed():
    inside = laid(WIDE, TAKE, Scale(kind="scale", factor=0.5))
    assert ground_needed(inside) is None
    assert ground_taken(inside) is None
    assert continued(inside, tally(inside)) is None
    trimmed = laid(size("16:9", ground="continued"))
    assert ground_needed(trimmed) is None


@pytest.mark.parametrize(
    ("factor", "words"), [(1.0, "it is continued from it"), (1.3, "over a quarter is invented")]
)
def test_made_up_ground_is_noted_with_its_share(factor, words):
    lying = laid(WIDE, Scale(kind="scale", factor=factor), TAKE)
    note = there(continued(lying, tally(lying)))
    assert (note.level, words in note.text) == ("look", True)
    assert ground_unmade(lying) is None


def test_a_ground_that_would_be_nearly_all_of_the_picture_is_refused():
    with pytest.raises(FillError, match="more than 6 times the photo"):
        box_made((-4000, -3000, 1200, 800), PHOTO)


def test_a_turned_photo_keeps_the_ground_that_was_taken():
    lying = laid(WIDE, TAKE, Mirror(kind="mirror"))
    assert ground_taken(lying) == laid(WIDE, TAKE).placement.continued
