"""What is painted over: lines run through it, and no other such thing is put in its place."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from oak_ledge.core.photos.retouches import Retouch
from oak_ledge.core.photos.strokes import Stroke
from oak_ledge.core.pixels.fill.likeness import like_the_thing
from oak_ledge.core.pixels.retouch.area import area_of
from oak_ledge.core.pixels.retouch.paint_over import paint_over
from oak_ledge.core.pixels.retouch.softness import grown, softness
from tests.known_scenes import KNOWN, across, apart


def without(photo, at, radius, attempt):
    """Paint over a disc that is brushed a little wider; return the photo without it, and where."""
    strokes = (Stroke(points=(at,), radius=radius + 5.0),)
    patch = paint_over(photo, Retouch(kind="paint_over", strokes=strokes, attempt=attempt)).patch
    made = photo.copy()
    high, wide = patch.pixels.shape[:2]
    made[patch.top : patch.top + high, patch.left : patch.left + wide] = patch.pixels
    brushed = area_of(strokes, (), (0, 0, photo.shape[1], len(photo)))
    assert np.array_equal(made[~brushed], photo[~brushed])
    return made, brushed


@pytest.mark.parametrize(
    ("name", "line", "at", "radius", "kind", "attempt"),
    [
        ("cables", 0, (500.0, 134.0), 32, np.uint8, 1),
        ("cables", 1, (300.0, 225.0), 50, np.uint16, 2),
        ("horizon", 0, (520.0, 290.0), 60, np.uint8, 3),
        ("railing", 1, (420.0, 400.0), 60, np.uint8, 4),
    ],
)
def test_what_runs_through_a_place_is_joined(name, line, at, radius, kind, attempt):
    scene = KNOWN[name]()
    unit = 257 if kind == np.uint16 else 1
    photo = scene.photo.astype(kind) * kind(unit)
    cv2.circle(photo, tuple(map(int, at)), radius, (250 * unit, 120 * unit, 60 * unit), -1)
    made, brushed = without(photo, at, radius, attempt)
    made = made // kind(unit)
    rows = scene.lines[line]
    middle = np.arange(int(at[0]) - 12, int(at[0]) + 13)
    truth, seen = (across(picture, rows, middle, 26) for picture in (scene.photo, made))
    assert abs(apart(truth, seen)) <= 3
    assert 0.7 < np.ptp(seen[12:-12].mean(1)) / np.ptp(truth[12:-12].mean(1)) < 1.4
    off = np.abs(made[brushed].astype(float) - scene.photo[brushed]).mean()
    assert off < 9


@pytest.mark.parametrize("slope", [0.45, -0.6])
def test_a_line_that_cuts_a_corner_of_a_place_is_joined(slope):
    """It enters at the left and leaves above or below: no side of the place faces the one it came by."""
    y, x = np.mgrid[0:420, 0:640]
    grain = np.random.default_rng(5).normal(0, 3, (420, 640))

    def rows(columns):
        return 210 + slope * (columns - 260)

    cable = np.clip(3.5 - np.abs(y - rows(x)) / np.hypot(1, slope), 0, 1)
    truth = np.clip((190 - 0.1 * y + grain) * (1 - cable) + 50 * cable, 0, 255)[..., None]
    truth = np.repeat(truth, 3, 2).astype(np.uint8)
    edge = rows(320)
    top, foot = sorted((edge, edge - np.sign(slope) * 110))
    photo = truth.copy()
    photo[round(top) + 4 : round(foot) - 3, 264:396] = (250, 120, 60)
    corners = ((260.0, top), (400.0, top), (400.0, foot), (260.0, foot))
    patch = paint_over(photo, Retouch(kind="paint_over", polygons=(corners,))).patch
    made, (high, wide) = photo.copy(), patch.pixels.shape[:2]
    made[patch.top : patch.top + high, patch.left : patch.left + wide] = patch.pixels
    within = np.arange(266, 312)
    was, now = (across(picture, rows, within, 22) for picture in (truth, made))
    assert abs(apart(was, now)) <= 1
    assert 0.8 < np.ptp(now[8:-8].mean(1)) / np.ptp(was[8:-8].mean(1)) < 1.25


def test_a_thing_is_not_replaced_by_another_such_thing():
    rng = np.random.default_rng(3)
    water = (
        np.array((60, 90, 120))
        + cv2.GaussianBlur(rng.normal(0, 30, (420, 640)), (0, 0), 3, sigmaY=1)[..., None] * 4
    )
    photo = np.clip(water, 0, 255).astype(np.uint8)
    for x in (180, 440):
        cv2.ellipse(photo, (x, 210), (46, 24), 0, 0, 360, (190, 60, 40), -1)
        cv2.ellipse(photo, (x, 200), (30, 8), 0, 0, 360, (235, 220, 190), -1)
    hole = np.zeros(photo.shape[:2], np.bool_)
    hole[180:240, 125:235] = True
    alike = like_the_thing(photo.astype(np.float32), hole)
    assert alike[195:225, 405:475].mean() > 0.9
    assert alike[:150].mean() < 0.01
    assert not alike[hole].any()
    for attempt in (1, 4):
        made, brushed = without(photo, (180.0, 210.0), 50, attempt)
        red = (made[..., 0].astype(int) - made[..., 2]) > 60
        assert not red[brushed].any()


@pytest.mark.parametrize(("soft", "tight"), [(0.8, 0), (3, 0), (5, 2)])
def test_a_tight_brush_grows_as_far_as_the_edge_is_soft_and_a_generous_one_does_not(soft, tight):
    photo = KNOWN["horizon"]().photo
    disc = np.zeros(photo.shape[:2], np.float32)
    cv2.circle(disc, (420, 250), 60, 1.0, -1)
    share = cv2.GaussianBlur(disc, (0, 0), soft)[..., None]
    picture = np.rint(photo * (1 - share) + np.array((200, 60, 40)) * share).astype(np.uint8)
    y, x = np.ogrid[: len(photo), : photo.shape[1]]
    away = np.hypot(x - 420, y - 250)
    by = softness(picture, away < 60 - tight)
    left = share[(away > 60 - tight + by) & (away < 90)]
    assert 2 <= by <= 11
    assert left.max() < 0.12  # of the thing, beside what is brushed then
    for wide in (75, 90):
        assert softness(picture, away < wide) == 0
    assert softness(photo, away < 60) == 0  # nothing is there
    corners = ((10.0, 10.0), (50.0, 10.0), (50.0, 40.0))
    taken = Stroke(points=((42.0, 20.0),), radius=4, away=True)
    box = (0, 0, 80, 60)
    before, after = (
        area_of(strokes, (corners,), box) for strokes in ((taken,), grown((taken,), (corners,), 3))
    )
    away = cv2.distanceTransform((~area_of((), (corners,), box)).astype(np.uint8), cv2.DIST_L2, 5)
    assert (after >= before).all()
    assert after[(away > 0) & (away < 2)].all()
    assert not after[away > 4].any()
