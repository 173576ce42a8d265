from __future__ import annotations

from fractions import Fraction
from math import floor

import pytest
from hypothesis import assume, given, strategies as st

from oak_ledge.core.errors import PlacementError, SizeError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.move import Move, Nudge, Slide
from oak_ledge.core.gestures.pull import Pull
from oak_ledge.core.gestures.start import StartAgain
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.turn import Turn
from oak_ledge.core.gestures.typed import Type
from oak_ledge.core.placements.angle import at_angle
from oak_ledge.core.placements.fit import largest_width, leaves_hairline
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import Placement, size_at
from oak_ledge.core.placements.suggestion import at_centre, suggest
from oak_ledge.core.reports.tally import tally
from oak_ledge.core.sizes.file_geometry import file_pixels, printed_pixels
from oak_ledge.core.sizes.shapes.window import WindowShape
from tests import strategies
from tests.samples import size

PHOTO = (6000, 4000)
PRINT = size("8x10in@300")
FREE = size("100%")
HAIR = 1e-6  # photo pixels


def assert_sound(asked_size, extent, placement):
    """Inside the photo unless it is extended, of the exact ratio of its whole output pixels."""
    lying = lying_on(asked_size, extent, placement)
    (W, H), crop, (wide, high) = lying.asked, lying.crop, lying.extent
    assert W >= 1
    assert H >= 1
    if asked_size.differ == "extend":  # something of the photo is always seen
        assert min(crop.right, wide) - max(crop.left, 0) > 0
        assert min(crop.bottom, high) - max(crop.top, 0) > 0
    else:
        assert crop.left >= -HAIR
        assert crop.top >= -HAIR
        assert crop.right <= wide + HAIR
        assert crop.bottom <= high + HAIR
    dot, stretch = float(asked_size.dot), placement.stretch
    assert crop.width * H * stretch == pytest.approx(crop.height * W * dot, rel=1e-9)
    if asked_size.differ != "stretch":
        assert stretch == 1


@strategies.often(300)
@given(strategies.laid_sizes, strategies.extents, st.lists(strategies.gestures, max_size=8))
def test_after_any_gestures_the_crop_is_inside_and_its_ratio_exact(asked, extent, gestures):
    placement = suggest(asked, extent)
    assert_sound(asked, extent, placement)
    for gesture in gestures:
        placement = apply(asked, extent, placement, gesture)
        assert_sound(asked, extent, placement)
        assert Placement.model_validate_json(placement.model_dump_json()) == placement
    assert apply(asked, extent, placement, StartAgain(kind="start_again")) == suggest(asked, extent)


@strategies.often(200)
@given(
    strategies.laid_sizes,
    strategies.extents,
    st.floats(-179, 180),
    st.lists(strategies.gestures, max_size=5),
)
def test_a_turned_crop_stays_inside_after_any_gestures(asked, extent, angle, gestures):
    placement = at_angle(lying_on(asked, extent, suggest(asked, extent)), angle)
    for gesture in [None, *gestures]:
        if gesture is not None:
            placement = apply(asked, extent, placement, gesture)
        crop = lying_on(asked, extent, placement).crop
        across, along = zip(*crop.corners(), strict=True)
        dust = 1e-6 * max(extent)
        if asked.differ == "extend":
            assert min(across) < extent[0]
            assert max(across) > 0
        elif not isinstance(asked.shape, WindowShape):
            assert min(across) >= -dust
            assert min(along) >= -dust
            assert max(across) <= extent[0] + dust
            assert max(along) <= extent[1] + dust
        W, H = lying_on(asked, extent, placement).asked
        assert crop.width * H * placement.stretch == pytest.approx(
            crop.height * W * float(asked.dot), rel=1e-9
        )
        found = tally(lying_on(asked, extent, placement))
        assert 0 <= found.trimmed <= 1
        assert not (placement.angle and found.copied)


def test_the_largest_turned_crop_touches_the_photo_and_undoing_it_gives_the_former_crop_back():
    start = suggest(PRINT, PHOTO)
    turned = at_angle(lying_on(PRINT, PHOTO, start), 45)
    # a rectangle of 5:4 at 45° stands in a box (w + h)/√2 wide, which is the photo's height
    assert turned.width == pytest.approx(4000 * 2**0.5 / (1 + 4 / 5))
    back = at_angle(lying_on(PRINT, PHOTO, turned), 0)
    assert back.model_dump(exclude={"allow"}) == pytest.approx(start.model_dump(exclude={"allow"}))
    around = at_angle(
        lying_on(size("8x10in@300 extend"), PHOTO, suggest(size("8x10in@300 extend"), PHOTO)), 90
    )
    assert around.width == pytest.approx(7500)


@strategies.often(200)
@given(strategies.laid_sizes, strategies.extents, strategies.gestures, strategies.relabels)
def test_relabelling_keeps_every_pixel_and_the_crop(asked, extent, gesture, relabel):
    before = apply(asked, extent, suggest(asked, extent), gesture)
    try:
        after = apply(asked, extent, before, relabel)
    except SizeError as exc:
        assert "more than" in str(exc)  # noqa: PT017 - pixels or ppi beyond all printers
        return
    own = size_at(asked, after)
    pixels = lying_on(asked, extent, before).asked
    assert lying_on(own, extent, after).asked == pixels
    whole = file_pixels(size_at(asked, before), pixels)
    ppi = relabel.ppi or whole[0] / relabel.width.inches
    assert own.ppi == ppi
    assert lying_on(own, extent, after).crop.width == pytest.approx(before.width, rel=1e-9)
    assert apply(asked, extent, after, StartAgain(kind="start_again")) == suggest(asked, extent)


@strategies.often(200)
@given(strategies.laid_sizes, strategies.extents, strategies.gestures, strategies.resamples)
def test_resampling_keeps_the_physical_size_to_half_a_pixel(asked, extent, gesture, resample):
    before = apply(asked, extent, suggest(asked, extent), gesture)
    try:
        after = apply(asked, extent, before, resample)
    except SizeError:
        assert asked.ppi is None or asked.dot != 1 or resample.ppi > asked.ppi
        return
    own = size_at(asked, after)
    assert_sound(own, extent, after)
    assert own.ppi == resample.ppi
    if asked.shape.kind in ("exact", "ratio", "window", "photo") and asked.differ != "inside":
        was = lying_on(asked, extent, before).asked
        now = lying_on(own, extent, after).asked
        for old, new in zip(was, now, strict=True):
            most = Fraction(1, 2) * (1 / own.ppi + 1 / asked.ppi)
            assert 1 in (old, new) or abs(old / asked.ppi - new / own.ppi) <= most


# size, photo, output of the first suggestion, its crop: by hand from the table of shapes
OPEN = [
    ("long 12in@220", (6000, 4000), (2640, 1760), (6000, 4000)),
    ("long 12in@220", (4000, 6000), (1760, 2640), (4000, 6000)),
    ("short 2000px", (6000, 4000), (3000, 2000), (6000, 4000)),
    ("width 18cm@300", (6000, 4000), (2126, 1417), (6000, 3999.06)),
    ("height 900px", (4000, 6000), (600, 900), (4000, 6000)),
    ("3:1", (6000, 4000), (6000, 2000), (6000, 2000)),
    ("3:1", (4000, 6000), (2000, 6000), (2000, 6000)),
    ("3:1 fixed", (4000, 6000), (3999, 1333), (3999, 1333)),
    ("16:9", (3601, 2400), (3600, 2025), (3600, 2025)),
    ("1.85:1", (3600, 2400), (3589, 1940), (3589, 1940)),
    ("239:100", (3600, 2400), (3600, 1506), (3600, 1506)),
    ("100%", (3601, 2399), (3601, 2399), (3601, 2399)),
    ("40%", (3600, 2400), (1440, 960), (3600, 2400)),
    ("within 2048x2048px", (6000, 4000), (2048, 1365), (6000, 3999.02)),
    ("within 2048x1024px", (4000, 6000), (683, 1024), (4000, 5997.07)),
    ("within 2048x1024px suit", (4000, 6000), (1024, 1536), (4000, 6000)),
    ("within 2048x2048px", (1200, 800), (1200, 800), (1200, 800)),
    ("within 2400x2400px enlarge", (1200, 800), (2400, 1600), (1200, 800)),
    ("window 2560x1440px", (6000, 4000), (2560, 1440), (2560, 1440)),
    ("window 2560x1440px suit", (4000, 6000), (1440, 2560), (1440, 2560)),
    ("photo", (3601, 2399), (3601, 2399), (3601, 2399)),
    # extended: the smallest crop around the photo
    ("8x10in@300 extend", (6000, 4000), (3000, 2400), (6000, 4800)),
    ("3:1 extend", (6000, 4000), (12000, 4000), (12000, 4000)),
    ("4:3 extend", (6001, 4000), (6000, 4500), (6000, 4500)),  # 3 px of ground would be a hairline
    ("16:9 extend", (1200, 669), (1184, 666), (1184, 666)),
    ("16:9 extend", (1080, 1920), (3408, 1917), (3408, 1917)),  # a page does not turn
    ("16:9 extend suit", (1080, 1920), (1080, 1920), (1080, 1920)),
    ("12.5%", (1777, 2741), (222, 343), (1774.06, 2741)),
    ("12.5%", (2741, 1777), (343, 222), (2741, 1774.06)),
    ("900x1101px extend", (900, 700), (900, 1101), (900, 1101)),
    ("window 2560x1440px extend", (2000, 2000), (2560, 1440), (2560, 1440)),
    # inside: one edge comes out short
    ("8x10in@300 inside", (6000, 4000), (3000, 2000), (6000, 4000)),
    ("8x10in@300 inside", (600, 400), (3000, 2000), (600, 400)),
    ("384x160px inside", (4000, 6000), (107, 160), (4000, 5981.3)),
    # stretched: the whole photo onto other proportions
    ("2000x1000px stretch", (6000, 4000), (2000, 1000), (6000, 4000)),
    # oblong dots: the crop has the proportions of the face
    ("400x100px dot 1:2", (6000, 4000), (400, 100), (6000, 3000)),
    ("long 1000px dot 2:1", (6000, 3000), (1000, 1000), (6000, 3000)),
    ("within 400x400px dot 2:1", (6000, 4000), (300, 400), (6000, 4000)),
    # bleed and wrap make the file larger
    ("10x8in@300 bleed 3mm", (6000, 4000), (3071, 2471), (4971.27, 4000)),
]


@pytest.mark.parametrize(("text", "extent", "out", "crop"), OPEN)
def test_every_shape_asks_for_its_pixels(text, extent, out, crop):
    text, _, bleed = text.partition(" bleed ")
    asked = size(text, bleed=bleed or None)
    placement = suggest(asked, extent)
    found = tally(lying_on(asked, extent, placement))
    assert (found.width, found.height) == out
    assert found.crop[2:] == pytest.approx(crop, abs=0.01)
    unscaled = (
        text.split()[0].rstrip("0123456789.:%px") in ("", "window", "photo")
        and text not in ("40%", "12.5%")
    ) and not text.startswith(("384x", "2000x", "400x"))
    assert found.copied == (unscaled or (out == crop))


@given(strategies.extents, strategies.windows, st.lists(strategies.gestures, max_size=6))
def test_a_window_stays_as_large_as_it_is_on_whole_pixels_or_is_refused(extent, asked, gestures):
    try:
        placement = suggest(asked, extent)
        for gesture in gestures:
            placement = apply(asked, extent, placement, gesture)
            assert tally(lying_on(asked, extent, placement)).copied
    except PlacementError as exc:
        assert "larger than the photo's" in str(exc)  # noqa: PT017 - at first, or when turned


@given(strategies.extents, strategies.open_sizes(), strategies.gestures)
def test_what_is_unscaled_is_copied(extent, asked, gesture):
    found = tally(lying_on(asked, extent, apply(asked, extent, suggest(asked, extent), gesture)))
    if asked.shape.kind in ("ratio", "photo"):
        assert found.copied
    if asked.shape.kind == "within" and not asked.shape.enlarge:
        # a crop can't be snapped to oblong dots: half a dot more, as every rounding is halves up
        short = min(found.width, found.height)
        assert found.scale <= (1 if asked.dot == 1 else short / (short - 0.5)) + 1e-9


@given(strategies.exact_sizes(), strategies.extents)
def test_the_suggestion_is_the_largest_crop_in_the_middle(asked, extent):
    placement = suggest(asked, extent)
    crop = lying_on(asked, extent, placement).crop
    middle = (extent[0] / 2, extent[1] / 2)
    if crop.width.is_integer() and crop.height.is_integer():  # then on whole pixels, to be copied
        assert crop.left.is_integer()
        assert crop.top.is_integer()
        middle = (middle[0] - crop.width / 2, middle[1] - crop.height / 2)
        assert (crop.left, crop.top) == tuple(map(floor, middle)), (
            "an odd pixel goes at right and foot"
        )
    else:
        assert (placement.cx, placement.cy) == middle
    assert crop.width == pytest.approx(extent[0]) or crop.height == pytest.approx(extent[1])


@given(strategies.exact_sizes(st.just("extend")), strategies.extents)
def test_an_extended_suggestion_is_the_smallest_around_the_whole_photo(asked, extent):
    found = tally(lying_on(asked, extent, suggest(asked, extent)))
    if leaves_hairline(asked, extent, (found.width, found.height), 0.0):
        assert found.uncovered == 0
        assert "no hairline" in found.sentence
        return
    assert found.trimmed == 0
    left, top, width, height = found.crop
    assert left == pytest.approx(0, abs=HAIR) or top == pytest.approx(0, abs=HAIR)
    share = 1 - extent[0] * extent[1] / (width * height)
    assert found.uncovered == pytest.approx(max(share, 0), abs=1e-6)


@given(strategies.exact_sizes(st.just("stretch")), strategies.extents)
def test_a_stretch_is_measured_against_the_screens_dots(asked, extent):
    found = tally(lying_on(asked, extent, suggest(asked, extent)))
    face = found.width * asked.dot / found.height
    true = float(face / Fraction(extent[0], extent[1]))
    assert found.trimmed == pytest.approx(0, abs=1e-9)
    assert 1 + found.stretch == pytest.approx(true, rel=1e-9, abs=1e-9)


@given(strategies.laid_sizes, strategies.extents, strategies.gestures)
def test_turning_there_and_back_keeps_shape_and_tightness(asked, extent, gesture):
    before = apply(asked, extent, suggest(asked, extent), gesture)
    W, H = lying_on(asked, extent, before).asked
    wide, high = printed_pixels(asked, (W, H))  # with its border, which stays where it is
    assume(wide != high)
    turned = apply(asked, extent, before, Turn(kind="turn"))
    if before.free is None:
        assert printed_pixels(asked, lying_on(asked, extent, turned).asked) == (high, wide)
        back = apply(asked, extent, turned, Turn(kind="turn"))
        assert lying_on(asked, extent, back).asked == (W, H)
        assert back.turned == before.turned or before.turned is not None
        crop = tally(lying_on(asked, extent, turned))
        if min(crop.crop[2], crop.crop[3]) > 8.1 and min(before.width, before.width * H / W) > 8.1:
            assert back.width == pytest.approx(before.width, rel=1e-9)


@pytest.mark.parametrize("corner", ["nw", "ne", "se", "sw"])
@pytest.mark.parametrize("centre", [False, True])
def test_a_dragged_corner_follows_and_its_opposite_or_the_centre_is_held(corner, centre):
    start = apply(PRINT, PHOTO, suggest(PRINT, PHOTO), Scale(kind="scale", factor=0.5))
    before = lying_on(PRINT, PHOTO, start).crop
    east, south = "e" in corner, "s" in corner
    # inward along the diagonal, so that the corner can sit right under the pointer
    x = (before.right - 250) if east else (before.left + 250)
    y = (before.bottom - 200) if south else (before.top + 200)
    moved = apply(PRINT, PHOTO, start, Pull(kind="pull", at=corner, x=x, y=y, centre=centre))
    after = lying_on(PRINT, PHOTO, moved).crop
    assert (after.right if east else after.left) == pytest.approx(x)
    assert (after.bottom if south else after.top) == pytest.approx(y)
    if centre:
        assert (moved.cx, moved.cy) == pytest.approx((start.cx, start.cy))
    else:
        assert (after.left if east else after.right) == pytest.approx(
            before.left if east else before.right
        )
        assert (after.top if south else after.bottom) == pytest.approx(
            before.top if south else before.bottom
        )


def test_a_corner_dragged_past_the_photo_stops_at_its_edge():
    start = apply(PRINT, PHOTO, suggest(PRINT, PHOTO), Scale(kind="scale", factor=0.5))
    far = apply(PRINT, PHOTO, start, Pull(kind="pull", at="se", x=99_999, y=99_999))
    before, after = lying_on(PRINT, PHOTO, start).crop, lying_on(PRINT, PHOTO, far).crop
    assert (after.left, after.top) == pytest.approx((before.left, before.top))
    assert after.right == pytest.approx(PHOTO[0]) or after.bottom == pytest.approx(PHOTO[1])


def test_moving_the_crop_and_sliding_the_photo_are_the_same_two_ways_round():
    start = apply(PRINT, PHOTO, suggest(PRINT, PHOTO), Scale(kind="scale", factor=0.5))
    moved = apply(PRINT, PHOTO, start, Move(kind="move", dx=90, dy=-30))
    per_output = start.width / 3000
    slid = Slide(kind="slide", dx=-90 / per_output, dy=30 / per_output)
    assert apply(PRINT, PHOTO, start, slid).model_dump(exclude={"allow"}) == pytest.approx(
        moved.model_dump(exclude={"allow"})
    )


def test_a_nudge_is_one_output_pixel():
    start = apply(PRINT, PHOTO, suggest(PRINT, PHOTO), Scale(kind="scale", factor=0.5))
    nudged = apply(PRINT, PHOTO, start, Nudge(kind="nudge", dx=3, dy=-1))
    assert nudged.cx - start.cx == pytest.approx(3 * 2500 / 3000)
    assert nudged.cy - start.cy == pytest.approx(-1 * 2500 / 3000)


def test_tightening_holds_the_point_under_the_hand():
    start = suggest(PRINT, PHOTO)
    tight = apply(PRINT, PHOTO, start, Scale(kind="scale", factor=0.8, u=0.25, v=1))
    before, after = lying_on(PRINT, PHOTO, start).crop, lying_on(PRINT, PHOTO, tight).crop
    assert after.left + 0.25 * after.width == pytest.approx(before.left + 0.25 * before.width)
    assert after.bottom == pytest.approx(before.bottom)
    assert after.width == pytest.approx(0.8 * before.width)


@given(strategies.extents, st.lists(strategies.gestures, max_size=6))
def test_a_free_crop_lies_on_whole_pixels_and_is_copied(extent, gestures):
    placement = suggest(FREE, extent)
    for gesture in gestures:
        placement = apply(FREE, extent, placement, gesture)
    found = tally(lying_on(FREE, extent, placement))
    assert found.copied
    assert found.scale == 1


def test_a_free_corner_takes_any_shape_and_with_shift_holds_it():
    start = suggest(FREE, PHOTO)
    free = apply(FREE, PHOTO, start, Pull(kind="pull", at="se", x=1000.4, y=3000.6))
    assert lying_on(FREE, PHOTO, free).asked == (1000, 3001)
    holds = apply(FREE, PHOTO, start, Pull(kind="pull", at="se", x=3000, y=2000, hold_ratio=True))
    assert lying_on(FREE, PHOTO, holds).asked == (3000, 2000)


def test_typed_figures_are_taken_and_what_is_left_out_stays():
    start = suggest(PRINT, PHOTO)
    typed = apply(PRINT, PHOTO, start, Type(kind="type", left=100, width=2500))
    crop = lying_on(PRINT, PHOTO, typed).crop
    assert (crop.left, crop.top, crop.width) == (100, 0, 2500)


def test_the_crop_never_gets_smaller_than_eight_photo_pixels():
    tiny = apply(PRINT, PHOTO, suggest(PRINT, PHOTO), Scale(kind="scale", factor=1e-6))
    crop = lying_on(PRINT, PHOTO, tiny).crop
    assert (crop.width, crop.height) == (10, 8)


def test_a_centre_is_a_share_of_the_photo_and_slides_inside():
    placed = at_centre(lying_on(PRINT, PHOTO, suggest(PRINT, PHOTO)), 0.9, 0.1)
    crop = lying_on(PRINT, PHOTO, placed).crop
    assert (crop.right, crop.top) == (6000, 0)
    with pytest.raises(PlacementError, match="outside the photo"):
        at_centre(lying_on(PRINT, PHOTO, placed), 1.5, 0.5)


def test_a_free_placement_without_its_pixels_is_refused():
    with pytest.raises(PlacementError, match="must carry its output pixels"):
        assert lying_on(FREE, PHOTO, Placement(cx=1, cy=1, width=1)).asked


def test_the_history_names_what_was_done():
    names = {
        Scale(kind="scale", factor=0.9).name,
        Scale(kind="scale", factor=1.1).name,
        Turn(kind="turn").name,
    }
    assert names == {"tightened", "loosened", "turned"}


@given(strategies.extents, strategies.exact_sizes())
def test_the_largest_width_touches_two_sides_and_passes_none(extent, asked):
    W, H = lying_on(asked, extent, suggest(asked, extent)).asked
    width = Fraction(largest_width(extent, (W, H)))
    assert float(width) <= extent[0]
    assert float(width * H / W) <= extent[1] * (1 + 1e-12)
