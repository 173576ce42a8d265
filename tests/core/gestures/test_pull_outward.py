"""Pulling an edge or a corner past the photo: it stops, gives way, and comes back, on every size."""

from __future__ import annotations

import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.pull import Draw, Pull
from oak_ledge.core.gestures.square import Square
from oak_ledge.core.placements.fit import has_room
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.reports.tally import tally
from tests.samples import size

PHOTO = (600, 400)
GIVES = 40.0


def pull(text, at, x, y, start=None, **how):
    asked = size(text)
    begun = start or suggest(asked, PHOTO)
    gesture = Pull(kind="pull", at=at, x=x, y=y, gives_way=GIVES, **how)
    lying = lying_on(asked, PHOTO, apply(asked, PHOTO, begun, gesture))
    return lying, tuple(round(part) for part in lying.crop.box)


@pytest.mark.parametrize(
    ("text", "box", "output"),
    [
        # on a free one by as much as is pulled, its pixels counted like any others
        ("100%", (0, 0, 700, 400), (700, 400)),
        ("50%", (0, 0, 700, 400), (350, 200)),
        ("long 1400px", (0, 0, 700, 400), (1400, 800)),
        ("height 200px", (0, 0, 700, 400), (350, 200)),
        ("within 350x350px", (0, 0, 700, 400), (350, 200)),
        # where the ratio is held along both axes
        ("photo", (0, -33, 700, 467), (700, 467)),
        ("3:2", (0, -33, 699, 466), (699, 466)),
        ("6x4in@100", (0, -33, 700, 467), (600, 400)),
        ("600x400px extend", (0, -33, 700, 467), (600, 400)),
    ],
)
def test_an_edge_pulled_far_enough_gives_way(text, box, output):
    lying, found = pull(text, "e", 700, 200)
    assert (found, lying.asked) == (box, output)
    assert (lying.size.differ, tally(lying).uncovered > 0) == ("extend", True)


@pytest.mark.parametrize("text", ["100%", "long 1400px", "photo", "3:2", "6x4in@100", "3:2 extend"])
@pytest.mark.parametrize(
    ("at", "x", "y"), [("e", 635, 0), ("se", 630, 420), ("nw", -30, -20), ("n", 0, -39)]
)
def test_pulled_less_it_stops_at_the_photos_edge(text, at, x, y):
    lying, _ = pull(text, at, x, y)
    assert lying.placement == suggest(size(text), PHOTO)


def test_what_was_pulled_out_is_pushed_back_stops_at_the_edge_and_is_an_exception_no_more():
    begun = pull("100%", "e", 700, 200, ground="blur")[0]
    assert begun.placement.size is not None
    assert begun.size.ground == "blur"
    further, box = pull("100%", "e", 650, 200, begun.placement)
    assert (box, further.size.ground) == ((0, 0, 650, 400), "blur")
    back, box = pull("100%", "e", 565, 200, begun.placement)  # less than gives way inside the edge
    assert (box, back.placement.size) == ((0, 0, 600, 400), None)
    inside, box = pull("100%", "e", 500, 200, begun.placement)
    assert (box, inside.placement.size) == ((0, 0, 500, 400), None)
    # on a size that extends it stays one that does
    wide = pull("3:2 extend", "e", 700, 200)[0]
    back, box = pull("3:2 extend", "e", 620, 200, wide.placement)
    assert back.size.differ == "extend"


def test_only_the_edges_that_gave_way_reach_beyond():
    _, box = pull("100%", "se", 700, 420)  # far to the right, hardly below
    assert box == (0, 0, 700, 400)
    _, box = pull("100%", "se", 700, 300)
    assert box == (0, 0, 700, 300)
    _, box = pull("100%", "w", -100, 0, centre=True)
    assert box == (-100, 0, 800, 400)


def test_a_crop_that_the_other_edges_stop_gives_way_too():
    """5:4 fills the height; pulled to the right, still on the photo, it can grow only beyond it."""
    lying, box = pull("5x4in@100", "e", 600, 200)
    assert box == (50, -20, 550, 440)
    assert tally(lying).uncovered > 0


def test_a_window_says_why_it_is_not_pulled_and_comes_to_lie_where_it_is_drawn():
    with pytest.raises(PlacementError, match="exactly 300 × 200 px of the photo, no more"):
        pull("window 300x200px", "e", 700, 0)
    asked = size("window 300x200px")
    drawn = Draw(kind="draw", x0=10, y0=20, x1=400, y1=300)
    lying = lying_on(asked, PHOTO, apply(asked, PHOTO, suggest(asked, PHOTO), drawn))
    assert lying.crop.box == (55, 60, 300, 200)


def test_on_a_squared_plane_and_at_an_angle_it_gives_way_as_well():
    asked = size("100%")
    corners = ((100.0, 80.0), (500.0, 100.0), (480.0, 330.0), (120.0, 300.0))
    squared = apply(asked, PHOTO, suggest(asked, PHOTO), Square(kind="square", corners=corners))
    begun = lying_on(asked, PHOTO, squared)
    far = begun.crop.right + 4 * begun.crop.width
    lying, _ = pull("100%", "e", far, begun.crop.top + 10, squared)
    assert (lying.size.differ, lying.crop.width > begun.crop.width) == ("extend", True)


@given(
    text=st.sampled_from(["100%", "33%", "long 9in@50", "within 99x70px", "photo", "7:5", "5x7in@30"]),
    at=st.sampled_from(["nw", "n", "ne", "e", "se", "s", "sw", "w"]),
    x=st.floats(-900, 1500), y=st.floats(-900, 1300), centre=st.booleans(),
)  # fmt: skip
def test_every_pull_is_answered_and_pushed_back_where_it_was_nothing_remains(
    text, at, x, y, centre
):
    lying, _ = pull(text, at, x, y, centre=centre)
    found = tally(lying)
    assert (found.width, found.height) == lying.asked
    assert (found.uncovered > 1e-9) <= (lying.size.differ == "extend")
    if lying.placement.size is not None:
        assert lying.placement.size.differ == "extend"


@pytest.mark.parametrize(
    ("text", "room"),
    [("3:2", False), ("100%", False), ("5x4in@100", True), ("599x400px", False),
     ("window 300x200px", True), ("3:2 extend", True)],
)  # fmt: skip
def test_a_crop_that_fills_its_photo_has_no_room_to_move(text, room):
    asked = size(text)
    assert has_room(lying_on(asked, PHOTO, suggest(asked, PHOTO))) == room
