"""So much beyond a side, a shape of its own, and the notes on corners and strips."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from oak_ledge.core.errors import PlacementError, SizeError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.beyond_photo import Extend, Ground, reaches
from oak_ledge.core.gestures.gesture import PhotoContext
from oak_ledge.core.gestures.pixels import AsSeen
from oak_ledge.core.gestures.turn import Angle
from oak_ledge.core.notes.every import notes
from oak_ledge.core.pixels.subject.edge_strip import strip_at_edge
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import changed, size_at
from oak_ledge.core.placements.suggestion import laid
from oak_ledge.core.reports.tally import tally
from oak_ledge.core.sizes.text.read import read_size
from tests.core.gestures.test_apply import crop
from tests.core.placements.test_fit import PHOTO, PRINT
from tests.samples import facts, size as sized


@pytest.mark.parametrize("side", ["left", "top", "right", "bottom"])
@pytest.mark.parametrize("text", ["100%", "photo", "3:2"])
def test_an_unscaled_photo_gains_exactly_so_many_pixels_on_a_side(text, side):
    size = read_size(text)
    made = apply(size, PHOTO, laid(size, PHOTO), Extend(kind="extend", side=side, by=301))
    own = size_at(size, made)
    wide = side in ("left", "right")
    assert lying_on(own, PHOTO, made).asked == ((6301, 4000) if wide else (6000, 4301))
    assert reaches(lying_on(own, PHOTO, made)) == {"left": 0, "top": 0, "right": 0, "bottom": 0} | {
        side: 301
    }
    assert tally(lying_on(own, PHOTO, made)).copied
    # a second side is added to the first
    both = apply(size, PHOTO, made, Extend(kind="extend", side="left", by=20))
    assert reaches(lying_on(size, PHOTO, both))["left"] == 20


@pytest.mark.parametrize("angle", [0, 3.5])
@pytest.mark.parametrize("side", ["left", "top", "right", "bottom"])
def test_a_shape_of_its_own_is_held_and_the_side_reaches_so_far(side, angle):
    lying = apply(PRINT, PHOTO, laid(PRINT, PHOTO), Angle(kind="angle", angle=angle))
    made = apply(PRINT, PHOTO, lying, Extend(kind="extend", side=side, by=250))
    own = size_at(PRINT, made)
    assert reaches(lying_on(own, PHOTO, made))[side] == pytest.approx(250)
    _, _, width, height = crop(PRINT, made)
    assert width / height == pytest.approx(5 / 4)


def test_a_photo_is_extended_to_a_ratio_and_a_size_with_pixels_of_its_own_refuses():
    size = read_size("100%")
    made = apply(size, PHOTO, laid(size, PHOTO), Ground(kind="ground", beyond=True, ratio="2:1"))
    assert crop(size, made) == [-1000, 0, 8000, 4000]
    corner = apply(size, PHOTO, made, Ground(kind="ground", sit=(0, 0)))
    assert crop(size, corner)[0] == 0
    for text, wrong, match in (
        ("8x10in@300", "2:1", "of its own"),
        ("100%", "2000px", "height is missing"),
        ("100%", "20%", "not a ratio"),
    ):
        asked = read_size(text)
        with pytest.raises((PlacementError, SizeError), match=match):
            apply(asked, PHOTO, laid(asked, PHOTO), Ground(kind="ground", beyond=True, ratio=wrong))


def test_reaches_are_typed_in_the_photos_own_units():
    asked = Extend(kind="extend", side="top", by=2, unit="in")
    size = read_size("8x10in@300")
    first, labelled = laid(size, PHOTO), PhotoContext(ppi=240)
    for gesture, by in ((asked, 480), (asked.model_copy(update={"unit": "%"}), 80)):
        in_px = Extend(kind="extend", side="top", by=by)
        assert apply(size, PHOTO, first, gesture, labelled) == apply(size, PHOTO, first, in_px)
    with pytest.raises(PlacementError, match="no resolution label"):
        apply(size, PHOTO, first, asked)


@pytest.mark.parametrize(
    ("text", "scale", "pixels", "becomes"),
    [
        ("8x10in@300", 0.1, (300, 240), "8x10in@30"),
        ("long 12in@220", 0.25, (660, 440), "long 12in@55"),
        ("40%", 0.5, (1200, 800), "20%"),
        ("photo", 0.1, (600, 400), "600x400px"),
        ("within 2048x2048px", 0.5, (1024, 683), "1024x683px"),
    ],
)
def test_the_output_is_as_large_as_seen(text, scale, pixels, becomes):
    size = read_size(text)
    made = apply(size, PHOTO, laid(size, PHOTO), AsSeen(kind="as_seen", scale=scale))
    own = size_at(size, made)
    assert lying_on(own, PHOTO, made).asked == pixels
    answer = read_size(becomes)
    assert (own.shape, own.ppi) == (answer.shape, answer.ppi)


def test_a_crop_beyond_the_photo_without_a_ground_is_stopped():
    lying = changed(laid(PRINT, PHOTO), cx=100.0)  # as no gesture leaves it
    on_print = lying_on(PRINT, PHOTO, lying)
    found = {note.code: note for note in notes(on_print, facts(), tally(on_print))}
    assert found["blank-corners"].level == "stop"
    assert "48 %" in found["blank-corners"].text
    extended = sized("8x10in@300", differ="extend")
    on_ground = lying_on(extended, PHOTO, lying)
    answer = notes(on_ground, facts(), tally(on_ground))
    assert "blank-corners" not in {note.code for note in answer}


@pytest.mark.parametrize(
    ("side", "deep", "found"),
    [("left", 6, True), ("right", 12, True), ("top", 8, True), ("bottom", 4, True),
     ("left", 40, False), ("top", 0, False)],
)  # fmt: skip
def test_a_narrow_strip_of_other_content_is_found_at_its_edge(side, deep, found):
    across, down = np.meshgrid(np.linspace(60, 190, 600), np.linspace(0, 40, 400))
    picture = np.repeat((across + down)[..., None], 3, axis=2).astype(np.uint8)  # a soft sky
    parts: dict[str, Any] = {
        "left": np.s_[:, :deep], "right": np.s_[:, 600 - deep :],
        "top": np.s_[:deep], "bottom": np.s_[400 - deep :],
    }  # fmt: skip
    part = parts[side]
    if deep:
        picture[part] //= 9
    answer = strip_at_edge(picture, np.diag([600.0, 400.0, 1.0]))
    if not found:
        assert answer is None
        return
    assert answer is not None
    assert answer[0] == side
    assert answer[1] == pytest.approx(deep / (600 if side in ("left", "right") else 400), abs=0.006)
