"""What was brushed, as pixels: against the areas of circles, capsules and polygons."""

from __future__ import annotations

from math import hypot, pi

import numpy as np
import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.errors import FillError
from oak_ledge.core.photos.retouches import Retouch
from oak_ledge.core.photos.strokes import Stroke
from oak_ledge.core.pixels.retouch.area import area_of, within
from oak_ledge.core.pixels.retouch.copy_texture import copy_texture
from oak_ledge.core.pixels.retouch.mask import read_mask
from tests import samples

spots = st.tuples(st.floats(20, 180), st.floats(20, 120))


@given(spots, spots, st.floats(3, 18))
def test_a_stroke_covers_a_capsule(one, other, radius):
    stroke = Stroke(points=(one, other), radius=radius)
    mask = area_of((stroke,), (), (0, 0, 200, 140))
    exact = pi * radius**2 + 2 * radius * hypot(one[0] - other[0], one[1] - other[1])
    rim = 2 * pi * radius + 2 * hypot(one[0] - other[0], one[1] - other[1])
    assert abs(mask.sum() - exact) <= 0.75 * rim + 4
    ys, xs = np.nonzero(mask)
    middle = ((one[0] + other[0]) / 2, (one[1] + other[1]) / 2)
    assert abs(xs.mean() + 0.5 - middle[0]) < 1
    assert abs(ys.mean() + 0.5 - middle[1]) < 1


def test_the_widest_brush_covers_its_circle_too():
    wide = Stroke(points=((1500.0, -800.0),), radius=1750)
    mask = area_of((wide,), (), (0, 0, 3000, 1200))
    ys, xs = np.mgrid[:1200, :3000] + 0.5
    exact = np.hypot(xs - 1500, ys + 800) <= 1750
    assert (mask != exact).mean() < 0.004


def test_strokes_add_and_take_away_in_their_order():
    dab = Stroke(points=((50, 50),), radius=20)
    less = Stroke(points=((50, 50),), radius=8, away=True)
    square = ((10.0, 10.0), (90.0, 10.0), (90.0, 90.0), (10.0, 90.0))
    box = (0, 0, 100, 100)
    ring = area_of((dab, less), (), box)
    assert not ring[50, 50]
    assert ring[50, 66]
    assert area_of((less, dab), (), box)[50, 50]
    assert abs(area_of((), (square,), box).sum() - 6400) <= 330
    assert not area_of((less,), (square,), box)[50, 50]
    part = area_of((dab,), (square,), (40, 0, 100, 60))  # the same, seen from another corner
    assert np.array_equal(part, area_of((dab,), (square,), box)[:60, 40:])


@pytest.mark.parametrize("depth", [np.uint8, np.uint16])
def test_texture_is_copied_under_the_brush_and_nothing_else_changes(depth):
    photo = samples.grain(120, 90).astype(depth) * (257 if depth == np.uint16 else 1)
    dab = Stroke(points=((40.5, 40.5), (60.5, 40.5)), radius=12)
    retouch = Retouch(kind="copy_texture", strokes=(dab,), offset=(30.2, 20.4), soft=0.5)
    patch = copy_texture(photo, retouch)
    high, wide = patch.pixels.shape[:2]
    there = np.s_[patch.top : patch.top + high, patch.left : patch.left + wide]
    brushed = area_of((dab,), (), (patch.left, patch.top, patch.left + wide, patch.top + high))
    assert patch.pixels.dtype == depth
    assert np.array_equal(patch.pixels[~brushed], photo[there][~brushed])
    assert np.array_equal(patch.pixels[40 - patch.top, 50 - patch.left], photo[60, 80])
    edge = patch.pixels[40 - patch.top, 40 - patch.left - 9].astype(float)  # soft there: between
    assert not np.array_equal(edge, photo[60, 61])


def test_a_wide_stroke_beside_the_photo_takes_nothing_from_the_others():
    photo = samples.grain(120, 90)
    dab = Stroke(points=((30.0, 40.0),), radius=15)
    beside = Stroke(points=((30.0, 5000.0),), radius=600)
    alone, both = (
        copy_texture(photo, Retouch(kind="copy_texture", strokes=strokes, offset=(60.0, 0.0)))
        for strokes in ((dab,), (dab, beside))
    )
    there = both.pixels[alone.top - both.top :, alone.left - both.left :]
    assert np.array_equal(there[: alone.pixels.shape[0], : alone.pixels.shape[1]], alone.pixels)
    assert (alone.pixels != photo[alone.top :, alone.left :][:30, :30]).any()


def test_texture_from_beyond_the_photo_leaves_the_photo():
    photo = samples.grain(80, 60)
    dab = Stroke(points=((70, 30),), radius=9)
    patch = copy_texture(photo, Retouch(kind="copy_texture", strokes=(dab,), offset=(40, 0)))
    box = within(Retouch(kind="copy_texture", strokes=(dab,), offset=(40, 0)).box, (80, 60))
    assert np.array_equal(patch.pixels, photo[box[1] : box[3], box[0] : box[2]])


def test_a_mask_is_read_upright_from_half_white_on(tmp_path):
    light = np.zeros((40, 60, 3), np.uint8)
    light[5:15, 20:50] = 128
    light[20:30, 20:50] = 127
    mask = read_mask(samples.oriented(tmp_path / "mask.png", light, 6), (60, 40))
    assert (mask.sum(), bool(mask[5, 20]), bool(mask[20, 20])) == (300, True, False)


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda path: samples.save(path, samples.grain(30, 20)), "the mask is 30 × 20 px"),
        (lambda path: path.write_bytes(b"no picture"), "can't be read"),
        (lambda path: None, "there is no mask"),
    ],
)
def test_a_wrong_mask_is_refused_in_words(tmp_path, make, words):
    path = tmp_path / "mask.png"
    make(path)
    with pytest.raises(FillError, match=words):
        read_mask(path, (60, 40))
