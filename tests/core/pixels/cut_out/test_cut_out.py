"""Things cut out, where the true edge is known: within pixels of it, nothing changed inside, cleaned at the edge."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from oak_ledge.core.errors import FillError
from oak_ledge.core.photos.retouches import Retouch
from oak_ledge.core.photos.strokes import Stroke
from oak_ledge.core.pixels.cut_out.cut_out import UNSURE, cut_by_mask, cut_out
from oak_ledge.core.pixels.cut_out.matte import BAND, matte
from tests.samples import grain

WIDE, HIGH = 900, 600


def soft(drawn):
    """A shape's share of each pixel, drawn four times as large."""
    return cv2.resize(drawn, (WIDE, HIGH), interpolation=cv2.INTER_AREA).astype(float) / 255


def ball():
    drawn = np.zeros((4 * HIGH, 4 * WIDE), np.uint8)
    cv2.circle(drawn, (4 * 430, 4 * 310), 4 * 150, 255, -1)
    return soft(drawn)


def ring():
    """A thing with a hole, through which its ground is seen."""
    drawn = np.zeros((4 * HIGH, 4 * WIDE), np.uint8)
    cv2.circle(drawn, (4 * 430, 4 * 310), 4 * 160, 255, -1)
    cv2.circle(drawn, (4 * 430, 4 * 310), 4 * 80, 0, -1)
    return soft(drawn)


def star():
    turns = np.arange(10) * np.pi / 5 - np.pi / 2
    far = np.where(np.arange(10) % 2, 90, 210)
    points = np.stack([450 + far * np.cos(turns), 300 + far * np.sin(turns)], axis=1)
    drawn = np.zeros((4 * HIGH, 4 * WIDE), np.uint8)
    cv2.fillPoly(drawn, [np.rint(points * 4).astype(np.int32)], (255,))
    return soft(drawn)


def plain():
    lit = np.linspace(0.85, 1.05, WIDE)[None, :, None]
    return np.array([205.0, 204.0, 200.0]) * np.repeat(lit, HIGH, axis=0)


def busy():
    waves = np.sin(np.arange(HIGH)[:, None] / 7 + np.arange(WIDE) / 31) * 25
    return np.array([150.0, 105.0, 65.0]) + waves[..., None]


def scene(shares, ground, colour, *, shadow=0.0):
    """Lay a thing of one colour, lit from the left, on a ground that it shades, with a little grain."""
    under = ground.copy()
    if shadow:
        shade = cv2.GaussianBlur(np.roll(shares, (14, 18), (0, 1)), (0, 0), 12)
        under *= (1 - shadow * shade)[..., None]
    lit = np.linspace(1.1, 0.75, WIDE)[None, :, None]
    photo = np.array(colour, float) * lit * shares[..., None] + under * (1 - shares[..., None])
    noisy = photo + (grain(WIDE, HIGH).astype(float) - 128) / 60
    return np.clip(np.rint(noisy), 0, 255).astype(np.uint8)


def around(shares):
    ys, xs = np.nonzero(shares > 0.5)
    left, top, right, bottom = (float(v) for v in (xs.min(), ys.min(), xs.max(), ys.max()))
    return ((left, top), (right, top), (right, bottom), (left, bottom))


def whole(patch):
    """Return a patch's shares over all of the photo."""
    shares = np.zeros((HIGH, WIDE))
    high, wide = patch.pixels.shape[:2]
    there = patch.pixels[..., -1] / np.iinfo(patch.pixels.dtype).max
    shares[patch.top : patch.top + high, patch.left : patch.left + wide] = there
    return shares


def edge_of(shares):
    inside = (shares > 0.5).astype(np.uint8)
    return (inside > 0) & (cv2.erode(inside, np.ones((3, 3), np.uint8)) == 0)


def away(shares, true):
    """How far the edges of two shapes are from each other, in pixels: what nine tenths are within."""
    far = []
    for one, other in ((shares, true), (true, shares)):
        distance = cv2.distanceTransform((~edge_of(one)).astype(np.uint8), cv2.DIST_L2, 5)
        far.append(distance[edge_of(other)])
    return float(np.percentile(np.concatenate(far), 90))


SCENES = {
    "a ball and its shadow on a plain table": (ball, plain, (60, 130, 90), 0.5),
    "a ring and its shadow": (ring, plain, (190, 60, 50), 0.45),
    "a ball on wood": (ball, busy, (70, 150, 170), 0.4),
    "a pale star on wood": (star, busy, (225, 220, 210), 0.0),
    "a star on a plain table": (star, plain, (215, 160, 40), 0.5),
}


@pytest.mark.parametrize("name", SCENES)
def test_the_edge_lies_within_pixels_of_the_truth(name):
    shape, ground, colour, shadow = SCENES[name]
    true = shape()
    photo = scene(true, ground(), colour, shadow=shadow)
    cut = cut_out(photo, Retouch(kind="cut_out", polygons=(around(true),)))
    assert away(whole(cut.patch), true) <= 2
    partly = (true > 0.02) & (true < 0.98)
    assert np.abs(whole(cut.patch) - true)[partly].mean() < 0.12


@pytest.mark.parametrize("kind", [np.uint8, np.uint16])
def test_inside_not_one_value_changes_and_the_edge_is_free_of_the_old_ground(kind):
    true = ball()
    photo = scene(true, plain(), (20, 40, 30))
    scaled = photo.astype(kind) * (1 if kind is np.uint8 else 257)
    patch = cut_out(scaled, Retouch(kind="cut_out", polygons=(around(true),))).patch
    high, wide = patch.pixels.shape[:2]
    part = scaled[patch.top : patch.top + high, patch.left : patch.left + wide]
    top = np.iinfo(kind).max
    opaque = patch.pixels[..., -1] == top
    assert np.array_equal(patch.pixels[..., :3][opaque], part[opaque])
    mixed = (patch.pixels[..., -1] > 0) & ~opaque
    assert mixed.sum() > 100
    # dark as the thing all over, where the photo had a bright rim of the table
    assert patch.pixels[..., :3][mixed].max() < 0.45 * top < part[mixed].max()
    inside = cv2.distanceTransform((true > 0.5).astype(np.uint8), cv2.DIST_L2, 5)
    beyond = cv2.distanceTransform((true <= 0.5).astype(np.uint8), cv2.DIST_L2, 5)
    shares = whole(patch)
    assert (shares[inside > BAND + 2] == 1).all()
    assert (shares[beyond > BAND + 2] == 0).all()


def test_a_brush_says_what_belongs_to_it_and_what_does_not():
    two = np.maximum(ball(), np.roll(ball(), 330, axis=1) * 0)
    other = np.zeros((4 * HIGH, 4 * WIDE), np.uint8)
    cv2.circle(other, (4 * 720, 4 * 310), 4 * 70, 255, -1)
    photo = scene(np.maximum(two, soft(other)), plain(), (60, 130, 90))
    both = (around(np.maximum(two, soft(other))),)
    assert whole(cut_out(photo, Retouch(kind="cut_out", polygons=both)).patch)[310, 720] == 1
    off = Stroke(points=((660.0, 310.0), (790.0, 310.0)), radius=80, away=True)
    without = cut_out(photo, Retouch(kind="cut_out", polygons=both, strokes=(off,))).patch
    assert whole(without)[310, 720] == 0
    assert whole(without)[310, 430] == 1
    on = Stroke(points=((720.0, 310.0),), radius=60)
    again = cut_out(photo, Retouch(kind="cut_out", polygons=both, strokes=(off, on))).patch
    assert whole(again)[310, 720] == 1


def test_it_is_the_same_each_time_and_of_grey_and_clear_photos_too():
    true = ball()
    photo, how = (
        scene(true, plain(), (20, 40, 30)),
        Retouch(kind="cut_out", polygons=(around(true),)),
    )
    first, again = (cut_out(photo, how).patch for _ in range(2))
    assert np.array_equal(first.pixels, again.pixels)
    grey = np.ascontiguousarray(photo[..., :1])
    assert away(whole(cut_out(grey, how).patch), true) <= 2
    clear = np.dstack([photo, np.full(photo.shape[:2], 128, np.uint8)])
    patch = cut_out(clear, how, alpha=True).patch
    assert patch.pixels.shape[2] == 4
    assert patch.pixels[..., -1].max() == 128


def test_where_colours_tell_nothing_of_the_edge_it_wants_a_look():
    true = ball()
    clear, like = ((60, 130, 90), plain()), ((118, 104, 88), busy())
    unsure = []
    for colour, ground in (clear, like):
        mask = true > 0.5
        unsure.append(matte(scene(true, ground, colour), mask).unsure)
    assert unsure[0] < UNSURE < unsure[1]


def test_what_is_no_thing_is_refused_in_words_and_a_mask_is_taken_as_it_is():
    flat = np.full((HIGH, WIDE, 3), 128, np.uint8)
    with pytest.raises(FillError, match="dark all over"):
        cut_by_mask(flat, np.zeros((HIGH, WIDE), np.bool_))
    mask = np.zeros((HIGH, WIDE), np.bool_)
    mask[100:300, 200:500] = True
    shares = whole(cut_by_mask(flat, mask))
    assert (shares[105:295, 205:495] == 1).all()
    assert shares[:90].max() == shares[:, 520:].max() == 0
