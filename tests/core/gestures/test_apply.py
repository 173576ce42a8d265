"""Drawing afresh, edges, levelling, holding otherwise, squaring up, ground: old placement → new."""

from __future__ import annotations

from contextlib import suppress
from fractions import Fraction
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import assume, example, given, strategies as st

from oak_ledge.core.errors import CoreError, PlacementError, SizeError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.beyond_photo import Ground
from oak_ledge.core.gestures.gesture import PhotoContext
from oak_ledge.core.gestures.move import Move
from oak_ledge.core.gestures.pixels import Resample
from oak_ledge.core.gestures.pull import Draw, Pull
from oak_ledge.core.gestures.square import Square
from oak_ledge.core.gestures.start import StartAgain
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.turn import Angle, Level, Mirror, Quarter, Turn, level_angle
from oak_ledge.core.gestures.typed import Type
from oak_ledge.core.marks.mark import MarkPicture, PieceMark
from oak_ledge.core.notes.every import notes
from oak_ledge.core.placements.fit import SMALLEST_CROP
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import (
    CropFigures,
    Placement,
    PlacementFields,
    changed,
    crop_of,
    size_at,
)
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.placements.zones.on_surface import to_upright
from oak_ledge.core.planes.matrices import at
from oak_ledge.core.planes.surface import turns_of
from oak_ledge.core.reports.tally import tally
from oak_ledge.core.sizes.size import size_from
from tests import strategies
from tests.core.placements.test_fit import FREE, PHOTO, PRINT, assert_sound
from tests.samples import facts, size

HALF = apply(PRINT, PHOTO, suggest(PRINT, PHOTO), Scale(kind="scale", factor=0.5))
# crop of HALF: (1750, 1000, 2500, 2000)


MARK = PieceMark(name="Quay", picture=MarkPicture(hash="0" * 64, width=80, height=40))


def crop(asked, placement):
    found = lying_on(asked, PHOTO, placement).crop
    return [round(part, 3) for part in (found.left, found.top, found.width, found.height)]


def draw(x0, y0, x1, y1, **how):
    return Draw(kind="draw", x0=x0, y0=y0, x1=x1, y1=y1, **how)


@pytest.mark.parametrize(
    ("gesture", "found"),
    [
        (draw(1000, 800, 2000, 1200), [1000, 800, 1000, 800]),  # the wider wish counts
        (draw(1000, 800, 1100, 1600), [1000, 800, 1000, 800]),  # the higher one too
        (draw(2000, 1600, 1000, 900), [1000, 800, 1000, 800]),  # drawn up and left
        (draw(3000, 2000, 3500, 2100, centre=True), [2500, 1600, 1000, 800]),
        (draw(5500, 3500, 9000, 9000), [5500, 3500, 500, 400]),  # stops at the photo's edge
        (Pull(kind="pull", at="e", x=4000, y=0), [1750, 1100, 2250, 1800]),
        (Pull(kind="pull", at="n", x=0, y=1400), [2000, 1400, 2000, 1600]),
        (Pull(kind="pull", at="w", x=2250, y=0, centre=True), [2250, 1400, 1500, 1200]),
        (Type(kind="type", height=800), [1750, 1000, 1000, 800]),
    ],
)
def test_the_ratio_is_held_however_the_crop_is_drawn(gesture, found):
    assert crop(PRINT, apply(PRINT, PHOTO, HALF, gesture)) == found


@pytest.mark.parametrize(
    ("gesture", "found"),
    [
        (draw(1000, 800, 2000, 1200), [1000, 800, 1000, 400]),
        (draw(1000, 800, 2000, 1200, hold_ratio=True), [1000, 800, 1000, 667]),
        (Pull(kind="pull", at="s", x=0, y=1500), [0, 0, 6000, 1500]),
        (Type(kind="type", width=3000, height=100, top=7), [0, 7, 3000, 100]),
    ],
)
def test_where_the_ratio_is_open_a_crop_takes_any(gesture, found):
    assert crop(FREE, apply(FREE, PHOTO, suggest(FREE, PHOTO), gesture)) == found


def test_figures_are_typed_in_per_cent_and_in_lengths():
    typed = Type(kind="type", unit="%", left=10, top=20, width=25)
    assert crop(PRINT, apply(PRINT, PHOTO, HALF, typed)) == [
        600,
        800,
        1500,
        1200,
    ]
    typed = Type(kind="type", unit="cm", left=2.54, width=12.7)
    assert crop(PRINT, apply(PRINT, PHOTO, HALF, typed, PhotoContext(ppi=300)))[:3] == [
        300,
        1000,
        1500,
    ]
    with pytest.raises(PlacementError, match="no resolution label"):
        apply(PRINT, PHOTO, HALF, typed)


@pytest.mark.parametrize(
    ("line", "angle"),
    [((0, 0, 100, 0), 0), ((0, 0, 100, 10), 5.711), ((100, 10, 0, 0), 5.711),
     ((0, 0, 100, -10), -5.711), ((0, 0, 10, 100), -5.711), ((0, 100, 10, 0), 5.711),
     ((0, 0, 100, 100), 45)],
)  # fmt: skip
def test_a_drawn_line_becomes_level_or_plumb_by_the_smaller_turn(line, angle):
    made = apply(
        PRINT,
        PHOTO,
        HALF,
        Level(kind="level", **dict(zip(("x0", "y0", "x1", "y1"), line, strict=True))),
    )
    assert made.angle == pytest.approx(angle, abs=0.001)
    with pytest.raises(PlacementError, match="too short"):
        level_angle((5, 5), (6, 5))


@strategies.often(200)
@given(
    strategies.laid_sizes, strategies.extents, strategies.gestures,
    st.lists(st.floats(-45, 45), min_size=1, max_size=4),
)  # fmt: skip
def test_levelling_there_and_back_gives_the_former_crop(asked, extent, gesture, angles):
    start = apply(asked, extent, suggest(asked, extent), gesture)
    made = start = changed(start, former=None)  # a tightening that is levelled is not gone on with
    for angle in angles:
        made = apply(asked, extent, made, Angle(kind="angle", angle=angle))
    assert apply(asked, extent, made, Angle(kind="angle", angle=0)) == start


@strategies.often(400)
@given(asked=strategies.laid_sizes, extent=strategies.extents, data=st.data())
def test_after_gestures_of_every_kind_something_sound_remains(asked, extent, data):
    any_gesture = st.one_of(
        strategies.gestures, strategies.levels, strategies.grounds, strategies.squares(extent),
        strategies.relabels, strategies.resamples,
    )  # fmt: skip
    placement = suggest(asked, extent)
    for gesture in data.draw(st.lists(any_gesture, max_size=8)):
        try:
            placement = apply(asked, extent, placement, gesture)
        except CoreError:  # refused in words, and all is as it was
            continue
        lying, at = lying_on(asked, extent, placement), size_at(asked, placement)
        found, (W, H) = tally(lying), lying.asked
        assert (found.width, found.height) == (W, H)
        assert min(W, H) >= 1
        if placement.corners is None or at.differ != "extend":  # there all of it may be ground
            assert found.uncovered < (1 if at.differ == "extend" else 1e-6)
        across, along = lying.proportions
        assert found.crop[3] == pytest.approx(found.crop[2] * along / across)
        if not placement.angle and placement.corners is None:
            assert_sound(at, extent, placement)
        assert Placement.model_validate_json(placement.model_dump_json()) == placement
    assert apply(asked, extent, placement, StartAgain(kind="start_again")) == suggest(asked, extent)


@given(strategies.exact_sizes(), strategies.extents, st.sampled_from([-1, 1]))
def test_four_quarters_and_two_flips_are_as_it_was(asked, extent, by):
    start = apply(asked, extent, suggest(asked, extent), Scale(kind="scale", factor=0.4))
    before = lying_on(asked, extent, start).crop
    assume(min(before.width, before.height) > 16)
    start = apply(asked, extent, start, Move(kind="move", dx=extent[0] / 50, dy=0))
    made = start
    for _ in range(4):
        made = apply(asked, extent, made, Quarter(kind="quarter", by=by))
    assert made.quarter == 0
    assert (made.cx, made.cy) == pytest.approx((start.cx, start.cy), abs=1e-6)
    flipped = apply(asked, extent, start, Mirror(kind="mirror"))
    assert flipped.cx == pytest.approx(extent[0] - start.cx, abs=1e-6)
    assert apply(asked, extent, flipped, Mirror(kind="mirror")).width == pytest.approx(start.width)


def test_a_crop_goes_round_with_its_photo():
    corner = apply(PRINT, PHOTO, HALF, Type(kind="type", left=0, top=0))
    made = apply(PRINT, PHOTO, corner, Quarter(kind="quarter", by=1))
    found = lying_on(PRINT, PHOTO, made).crop  # what was top left is top right now
    assert (found.right, found.top) == (4000, 0)
    tilted = apply(PRINT, PHOTO, corner, Angle(kind="angle", angle=3))
    assert apply(PRINT, PHOTO, tilted, Mirror(kind="mirror")).angle == -3


@pytest.mark.parametrize("by", [-1, 1])
def test_a_mirrored_photo_is_turned_the_way_it_is_seen(by):
    """What lies under the crop's centre of the upright photo stays there, and the turn is seen as asked."""
    off = apply(PRINT, PHOTO, HALF, Type(kind="type", left=0, top=0))
    mirror = apply(PRINT, PHOTO, off, Mirror(kind="mirror"))
    turned = apply(PRINT, PHOTO, mirror, Quarter(kind="quarter", by=by))
    there = lying_on(PRINT, PHOTO, turned)
    assert there.surface.mirror
    here = to_upright(there.surface, [(turned.cx, turned.cy)])[0]
    assert here == pytest.approx((off.cx, off.cy))
    # The photo's left edge is at the right of its mirror: a clockwise turn brings it to the foot.
    edge = at(turns_of(there.surface), np.array([(0.0, 2000.0)]))[0]
    assert tuple(edge) == ((2000, 6000) if by == 1 else (2000, 0))


QUAD = ((1000.0, 900.0), (4000.0, 700.0), (4100.0, 3300.0), (900.0, 3000.0))


def test_four_corners_are_squared_up_go_round_with_the_photo_and_are_left_again():
    made = apply(PRINT, PHOTO, HALF, Square(kind="square", corners=QUAD))
    assert made.corners == QUAD
    flipped = apply(PRINT, PHOTO, made, Mirror(kind="mirror"))
    assert flipped.corners == ((2000, 700), (5000, 900), (5100, 3000), (1900, 3300))
    quarter = apply(PRINT, PHOTO, made, Quarter(kind="quarter", by=1))
    assert quarter.corners == ((1000, 900), (3100, 1000), (3300, 4000), (700, 4100))
    assert apply(PRINT, PHOTO, made, Square(kind="square", corners=None)) == suggest(PRINT, PHOTO)
    crossed = (QUAD[0], QUAD[2], QUAD[1], QUAD[3])
    with pytest.raises(PlacementError, match="cross"):
        apply(PRINT, PHOTO, HALF, Square(kind="square", corners=crossed))


def test_ground_is_chosen_where_the_photo_sits_and_left_again():
    made = apply(PRINT, PHOTO, HALF, Ground(kind="ground", beyond=True, fill="mirror"))
    own = size_at(PRINT, made)
    assert (own.differ, own.ground, own.name) == ("extend", "mirror", PRINT.name)
    assert crop(PRINT, made) == [0, -400, 6000, 4800]
    for sit, top in (((0.5, 0), 0), ((0.5, 1), -800), ((0, 0.5), -400)):
        assert crop(PRINT, apply(PRINT, PHOTO, made, Ground(kind="ground", sit=sit)))[1] == top
    pulled = apply(PRINT, PHOTO, made, Pull(kind="pull", at="w", x=-600, y=0))
    assert crop(PRINT, pulled) == [-600, -640, 6600, 5280]
    back = apply(PRINT, PHOTO, pulled, Ground(kind="ground", beyond=False, fill="white"))
    assert back.size is None
    assert crop(PRINT, back) == [200, 0, 5000, 4000]
    beyond = apply(FREE, PHOTO, suggest(FREE, PHOTO), Ground(kind="ground", beyond=True))
    wider = apply(FREE, PHOTO, beyond, Pull(kind="pull", at="w", x=-600, y=0))
    assert (crop(FREE, beyond), crop(FREE, wider)) == ([0, 0, 6000, 4000], [-600, 0, 6600, 4000])


@given(strategies.laid_sizes, strategies.extents, strategies.levels, strategies.gestures)
def test_nothing_a_hand_does_is_silently_nonsense(asked, extent, level, gesture):
    """A gesture gives a sound placement, or says in plain words why not; never another error."""
    placement = suggest(asked, extent)
    for one in (level, Ground(kind="ground", beyond=True, fill="edge"), gesture):
        with suppress(CoreError):
            placement = apply(asked, extent, placement, one)
    found = lying_on(asked, extent, placement).crop
    assert found.width > 0
    assert found.height > 0


def test_the_size_of_a_print_is_in_its_own_words():
    assert size("8x10in@300 extend", ground="blur").ground == "blur"
    with pytest.raises(SizeError, match="let blur, mirror, edge, continued or clear fill"):
        size_from(dict(PRINT) | {"ground": "fog"})


def test_corners_that_fit_a_size_lie_on_the_same_plane_whether_it_extends_or_not():
    corners = ((400.0, 850.0), (1200.0, 850.0), (1200.0, 2550.0), (200.0, 2550.0))
    placement = suggest(PRINT, PHOTO)
    for gesture in (
        Ground(kind="ground", beyond=True),
        Square(kind="square", corners=corners, fit=True),
        Ground(kind="ground", beyond=False),
    ):
        placement = apply(PRINT, PHOTO, placement, gesture)
    assert tally(lying_on(PRINT, PHOTO, placement)).uncovered < 1e-6


@given(
    strategies.laid_sizes, strategies.extents, st.floats(0.3, 1), st.integers(1, 12), st.booleans()
)
@example(size("3:1"), (27, 9), 1.0, 1, False)  # one step of its whole pixels is a ninth
def test_tightened_and_loosened_again_or_turned_back_a_crop_is_the_former(
    asked, extent, width, times, alternately
):
    start = apply(asked, extent, suggest(asked, extent), Scale(kind="scale", factor=width))
    start = apply(asked, extent, start, Move(kind="move", dx=3.3, dy=-1.7))
    steps = [1 / 1.02] * times + [1.02] * times
    if alternately:
        steps[::2], steps[1::2] = [1 / 1.02] * times, [1.02] * times
    ways = [start]
    for factor in steps:
        ways.append(apply(asked, extent, ways[-1], Scale(kind="scale", factor=factor)))
    # what a crop at its smallest could not be tightened by is not owed on the way back
    crop = lying_on(asked, extent, start).crop
    roomy = min(crop.width, crop.height) > SMALLEST_CROP * 1.02**times
    if roomy and all(before != after for before, after in pairwise(ways)):
        assert ways[-1] == start
    over = apply(asked, extent, start, Turn(kind="turn"))
    assert apply(asked, extent, over, Turn(kind="turn")) == start


def test_what_could_not_be_loosened_is_not_in_the_way_of_tightening():
    made = suggest(PRINT, PHOTO)
    for factor in (1.02,) * 9 + (1 / 1.02,):
        made = apply(PRINT, PHOTO, made, Scale(kind="scale", factor=factor))
    assert made.width == pytest.approx(5000 / 1.02)


def test_a_drag_replaces_the_crops_figures_and_leaves_all_else_as_it_was():
    told = {
        "quarter": 1, "mirror": True, "corners": ((10, 20), (900, 30), (880, 700), (5, 690)),
        "fit_corners": True, "focal": 900.0, "size": FREE, "allow": ("stretched",), "mark": MARK,
    }  # fmt: skip
    crops = set(crop_of(suggest(FREE, PHOTO)))
    assert crops | set(told) | {"before_levelling", "continued"} == set(Placement.model_fields)
    begun = changed(suggest(FREE, PHOTO), **told, before_levelling=None)
    for gesture in (Move(kind="move", dx=-30, dy=-20), Scale(kind="scale", factor=0.5)):
        made = apply(FREE, PHOTO, begun, gesture)
        assert made != begun
        assert {name: getattr(made, name) for name in told} == told


def test_a_placement_is_changed_by_names_it_has():
    with pytest.raises(TypeError, match="widht"):
        changed(suggest(FREE, PHOTO), widht=5)  # type: ignore[call-arg]
    assert set(PlacementFields.__annotations__) == set(Placement.model_fields)
    assert set(crop_of(suggest(FREE, PHOTO))) == set(CropFigures.__annotations__)


def test_edges_that_are_untied_stretch_the_picture_by_what_is_noted():
    free = size("100%")
    begun = suggest(free, (600, 400))
    made = apply(free, (600, 400), begun, Resample(kind="resample", width_px=300, height_px=250))
    lying = lying_on(free, (600, 400), made)
    assert (lying.asked, lying.crop.box) == ((300, 250), (0, 0, 600, 400))
    assert tally(lying).stretch == pytest.approx(-0.2)  # narrower than it is
    (note,) = [note for note in notes(lying, facts(), tally(lying)) if note.code == "stretched"]
    assert note.text == "The picture is stretched: 25 % taller than it is."


def test_the_resolution_a_photo_came_with_is_its_physical_size_when_it_is_resampled():
    free = size("100%")
    begun, context = suggest(free, (600, 400)), PhotoContext(ppi=300)
    made = apply(free, (600, 400), begun, Resample(kind="resample", ppi=150), context)
    lying = lying_on(free, (600, 400), made)
    assert lying.asked == (300, 200)
    assert lying.size.ppi == Fraction(150)
    with pytest.raises(SizeError):
        apply(free, (600, 400), begun, Resample(kind="resample", ppi=150))
