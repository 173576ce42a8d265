"""The head rule, on heads whose points are set: the arithmetic alone."""

from __future__ import annotations

import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.gesture import PhotoContext
from oak_ledge.core.gestures.heads import LayHead
from oak_ledge.core.gestures.move import Move
from oak_ledge.core.gestures.start import StartAgain
from oak_ledge.core.gestures.turn import Mirror, Quarter
from oak_ledge.core.heads.face_points import face_at, read_face
from oak_ledge.core.photos.keep_zones import NOTHING
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.zones.around import suggest_around
from oak_ledge.core.placements.zones.head import head_on_piece as head_there, laid_by_head
from oak_ledge.core.planes.points import rotated
from oak_ledge.core.sizes.text import read as reading


def read_size(text):
    return reading.read_size(text)


UPRIGHT = (4000, 6000)
IDENTITY = read_size("35x45mm@600 head 32-36mm eyes 50-60%")


def leaning(x=2000.0, y=2600.0, tall=1500.0, lean=0.0, eyes=0.05, apart=0.3):
    """Put a face's points: its middle, its height, degrees it leans, its eyes below the middle, their distance."""
    shares = ((-apart / 2, -eyes), (apart / 2, -eyes), (0.0, 0.5), (0.0, -0.5))
    points = []
    for dx, dy in shares:
        step = rotated(dx * tall, dy * tall, lean)
        points.append((x + step[0], y + step[1]))
    return face_at(tuple(points))


def head_on_piece(lying, face):
    return head_there(lying, face)


def came_out(size, face, upright=UPRIGHT):
    lying = lying_on(size, upright, suggest_around(size, upright, NOTHING, None, face))
    return lying, head_on_piece(lying, face)


@given(
    lean=st.floats(-44, 44),
    tall=st.floats(800, 1700),
    x=st.floats(1900, 2100),
    eyes=st.floats(-0.1, 0.15),
    text=st.sampled_from(
        [
            "35x45mm@600 head 32-36mm eyes 50-60%",
            "2x2in@300 head 1-1.375in eyes 56-69%",
            "600x800px head 500px eyes 55%",
        ]
    ),
)
def test_where_there_is_room_the_head_is_its_middle_level_centred_and_as_high_as_asked(
    lean, tall, x, eyes, text
):
    size = read_size(text)
    _, head = came_out(size, leaning(x, 3000, tall, lean, eyes))
    assert head.height == pytest.approx(float(size.head.middle.amount), rel=1e-6)
    assert head.eye_line == pytest.approx(float(size.eyes.middle / 100), abs=1e-6)
    assert head.tilt == pytest.approx(0, abs=1e-6)
    assert head.aside == pytest.approx(0, abs=1e-6)


def test_without_an_eye_line_a_third_of_the_free_height_is_above_the_crown():
    _, head = came_out(read_size("35x45mm@600 head 34mm"), leaning(lean=8))
    _, _, chin, crown = head.points
    assert crown[1] == pytest.approx((1 - (chin[1] - crown[1])) / 3)


def test_a_head_that_leans_too_far_is_turned_only_so_far():
    lying, head = came_out(IDENTITY, leaning(lean=60))
    assert lying.placement.angle == 45
    assert head.tilt == pytest.approx(15)


def test_near_the_edge_the_crop_slides_then_shrinks_and_what_is_missed_shows():
    lying, head = came_out(IDENTITY, leaning(x=3600))
    assert lying.crop.left + lying.crop.width <= 4000 + 1e-6
    assert (head.height, head.aside > 0.05) == (pytest.approx(34), True)
    lying, head = came_out(IDENTITY, leaning(y=930))  # the eyes slide, within their range
    assert (lying.crop.top, head.height) == (pytest.approx(0), pytest.approx(34))
    assert 0.5501 < head.eye_line < 0.6
    lying, head = came_out(IDENTITY, leaning(tall=5200, y=3000))
    assert (lying.crop.width, head.height > 36) == (pytest.approx(4000), True)
    extends = read_size("35x45mm@600 head 32-36mm eyes 50-60% extend")
    assert came_out(extends, leaning(x=3600))[1].aside == pytest.approx(0, abs=1e-9)


def test_another_head_within_both_ranges_is_taken_where_the_middle_has_no_room():
    face = leaning(y=860, tall=1500)  # too little above the crown for 34 mm with the eyes at 55 %
    lying, head = came_out(IDENTITY, face)
    assert 32 <= head.height <= 36
    assert 0.5 <= head.eye_line <= 0.6
    assert lying.crop.top >= -1e-6
    single = read_size("35x45mm@600 head 34mm eyes 55%")
    assert came_out(single, face)[1].eye_line > 0.565  # slid down, as nothing else is allowed


@given(quarter=st.integers(0, 3), mirror=st.booleans())
def test_a_photo_that_is_turned_or_mirrored_shows_the_same_head(quarter, mirror):
    face = leaning(x=1700, lean=7)
    context = PhotoContext(face=face)
    placement = suggest_around(IDENTITY, UPRIGHT, NOTHING, None, face)
    if mirror:
        placement = apply(IDENTITY, UPRIGHT, placement, Mirror(kind="mirror"), context)
        mirrored = lying_on(IDENTITY, UPRIGHT, placement)
        laid = laid_by_head(mirrored, face)
        assert head_on_piece(laid, face).tilt == pytest.approx(0, abs=1e-6)
        assert laid.placement.angle == pytest.approx(-7)
    for _ in range(quarter):
        placement = apply(IDENTITY, UPRIGHT, placement, Quarter(kind="quarter", by=1), context)
    head = head_on_piece(lying_on(IDENTITY, UPRIGHT, placement), face)
    crop = lying_on(IDENTITY, UPRIGHT, placement).crop
    assert head.pixels == pytest.approx(face.height / crop.width * 827, rel=1e-6)


def test_typed_figures_change_one_thing_and_starting_again_goes_back():
    face = leaning()
    context = PhotoContext(face=face)
    first = suggest_around(IDENTITY, UPRIGHT, NOTHING, None, face)

    def after(gesture, placement=first):
        new_placement = apply(IDENTITY, UPRIGHT, placement, gesture, context)
        return new_placement, head_on_piece(lying_on(IDENTITY, UPRIGHT, new_placement), face)

    moved, head = after(Move(kind="move", dx=40, dy=60))
    assert (head.height, head.eye_line > 0.55) == (pytest.approx(34), True)
    assert after(LayHead(kind="lay_head"), moved)[0].cy == pytest.approx(first.cy)
    head = after(LayHead(kind="lay_head", height=35), moved)[1]
    assert head.height == pytest.approx(35)
    taller, head = after(LayHead(kind="lay_head", eyes=52.5))
    assert (head.height, head.eye_line) == (pytest.approx(34), pytest.approx(0.525))
    assert after(StartAgain(kind="start_again"), taller)[0] == first


@pytest.mark.parametrize(
    ("text", "context", "why"),
    [
        ("35x45mm@600 head 34mm", PhotoContext(), "No head is known"),
        ("3:2", PhotoContext(face=read_face("410,520,590,520,500,760,500,300")), "exact edges"),
        (
            "window 400x400px",
            PhotoContext(face=read_face("410,520,590,520,500,760,500,300")),
            "exact edges",
        ),
    ],
)
def test_a_head_that_cannot_be_laid_says_why(text, context, why):
    size = read_size(text)
    placement = suggest_around(size, UPRIGHT, NOTHING)
    with pytest.raises(PlacementError, match=why):
        apply(size, UPRIGHT, placement, LayHead(kind="lay_head"), context)
