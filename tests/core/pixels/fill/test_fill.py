"""Grounds and painted-over places: photo pixels stay, nothing forbidden is copied, the same call gives the same."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import cv2
import numpy as np
import pytest
import pyvips
from PIL import Image

from oak_ledge.core.errors import FillError
from oak_ledge.core.photos.continued import Continued, SideSource
from oak_ledge.core.photos.keep_zones import Zone
from oak_ledge.core.photos.retouches import Retouch, Retouches
from oak_ledge.core.photos.strokes import Stroke
from oak_ledge.core.pixels.fill.grid import Grid, around_photo, with_hole
from oak_ledge.core.pixels.fill.guide import rays, rows
from oak_ledge.core.pixels.open.orientation import as_stored, turn_upright
from oak_ledge.core.pixels.open.photo import open_photo, upright_pixels
from oak_ledge.core.pixels.retouch.area import area_of
from oak_ledge.core.pixels.retouch.paint_over import paint_over
from oak_ledge.core.pixels.scene_maker import Maker
from oak_ledge.core.pixels.tries.ranking import Look, by_score, by_way
from tests import samples


def textured(width=150, height=100, seed=1, bands=3):
    """A sky over a striped sea with a little grain: something to go on with."""
    rng = np.random.default_rng(seed)
    down = np.linspace(0, 1, height)[:, None]
    waves = cv2.GaussianBlur(rng.normal(0, 60, (height, width)), (0, 0), 3, sigmaY=1)
    tone = np.where(down > 0.6, 70 + waves, 170 + 40 * down)
    picture = np.stack([tone, tone + 10, tone + 25], -1) + rng.normal(0, 2, (height, width, 3))
    return np.clip(picture[..., :bands], 0, 255).astype(np.uint8)


def saved(path, pixels, interpretation="srgb"):
    image = pyvips.Image.new_from_array(np.ascontiguousarray(pixels), interpretation=interpretation)
    image.write_to_file(str(path))
    return path


def box(photo, left=0, top=0, right=0, bottom=0):
    high, wide = photo.shape[:2]
    return (-left, -top, wide + right, high + bottom)


@pytest.mark.parametrize(
    ("bands", "depth", "tag", "sides"),
    [
        (3, np.uint8, 1, {"left": 24, "right": 15}),
        (3, np.uint16, 1, {"top": 20}),
        (1, np.uint8, 1, {"right": 30, "bottom": 12}),
        (4, np.uint8, 1, {"left": 22}),
        (3, np.uint8, 6, {"left": 24, "top": 9}),
        (3, np.uint8, 4, {"bottom": 20, "right": 3}),
    ],
)
def test_photo_pixels_stay_as_they_are_inside_their_ground(tmp_path, bands, depth, tag, sides):
    pixels = textured(bands=3)
    if bands == 4:
        pixels = np.dstack([pixels, samples.grain(150, 100, 1)])
    pixels = pixels[..., :bands].astype(depth) * (257 if depth == np.uint16 else 1)
    kind = {1: "b-w", 3: "rgb16" if depth == np.uint16 else "srgb", 4: "srgb"}[bands]
    path = saved(tmp_path / "photo.png", pixels, kind)
    if tag != 1:
        path = samples.oriented(tmp_path / "turned.png", pixels, tag)
    ground = Continued(box=box(pixels, **sides), attempt=1)
    scene = Maker(path).scene(ground)
    canvas = upright_pixels(scene)
    left, top, right, bottom = ground.box
    assert canvas.shape == (bottom - top, right - left, bands)
    assert canvas.dtype == depth
    assert np.array_equal(canvas[-top : 100 - top, -left : 150 - left], pixels)
    beyond = np.ones(canvas.shape[:2], np.bool_)
    beyond[-top : 100 - top, -left : 150 - left] = False
    made = canvas[beyond][:, : min(3, bands)].astype(float)
    unit = 257 if depth == np.uint16 else 1
    assert 40 * unit < made.mean() < 230 * unit
    assert made.std() > 5 * unit


def test_inks_and_profiles_are_continued_in_the_colours_they_are_opened_in(tmp_path):
    inks = Image.fromarray(textured()).convert("CMYK")
    inks.save(tmp_path / "inks.jpg", quality=95, icc_profile=samples.press())
    wide = Image.fromarray(textured())
    wide.save(tmp_path / "wide.png", icc_profile=samples.p3())
    for name in ("inks.jpg", "wide.png"):
        photo, opened = upright_pixels(tmp_path / name), open_photo(tmp_path / name)
        scene = Maker(tmp_path / name).scene(Continued(box=box(photo, left=20)))
        assert np.array_equal(upright_pixels(scene)[:, 20:], photo)
        assert open_photo(scene).icc == opened.icc


def test_the_same_call_gives_the_same_pixels_and_another_seed_others(tmp_path):
    path = saved(tmp_path / "photo.png", textured())
    ground = Continued(box=box(textured(), right=40))
    one, same, other = (
        upright_pixels(Maker(path).scene(ground.model_copy(update={"seed": seed})))
        for seed in (1, 1, 2)
    )
    assert np.array_equal(one, same)
    assert not np.array_equal(one, other)


def test_a_horizon_goes_on_at_its_height_without_a_seam(tmp_path):
    pixels = textured(270, 180)
    path = saved(tmp_path / "photo.png", pixels)
    canvas = upright_pixels(
        Maker(path).scene(Continued(box=box(pixels, right=66), attempt=1))
    ).astype(float)
    ground, near = canvas[:, 274:330].mean(axis=(1, 2)), canvas[:, 200:262].mean(axis=(1, 2))
    assert abs(int(np.argmin(np.diff(ground))) - int(np.argmin(np.diff(near)))) <= 0.015 * 180 + 1
    steps = np.abs(np.diff(canvas.mean(axis=2), axis=1)).mean(axis=0)
    assert steps[269] <= 1.6 * steps[220:268].mean()


@pytest.mark.parametrize("attempt", [1, 2, 3, 4])
def test_what_must_not_be_copied_is_not(tmp_path, attempt):
    pixels = textured(200, 130)
    pixels[50:100, 125:180] = (220, 30, 190)  # a magenta thing near the edge
    path = saved(tmp_path / "photo.png", pixels)
    zone = Zone(left=121, top=46, width=62, height=58)
    ground = Continued(box=box(pixels, right=50), attempt=attempt, avoid=(zone,))
    made = upright_pixels(Maker(path).scene(ground))[:, 207:].astype(int)
    magenta = (made[..., 0] - made[..., 1] > 110) & (made[..., 2] - made[..., 1] > 90)
    assert magenta.mean() < 0.002


def test_only_what_was_brushed_is_copied(tmp_path):
    left, right = textured(240, 130, seed=3), textured(240, 130, seed=4)
    pixels = left.copy()
    pixels[..., 0] = np.clip(left[..., 0].astype(int) + 55, 0, 255)  # redder at the left half
    pixels[:, 120:] = right[:, 120:]
    path = saved(tmp_path / "photo.png", pixels)
    brushed = Stroke(points=((30, 20), (30, 110)), radius=60)
    plain = Continued(box=box(pixels, right=50))
    only = plain.model_copy(update={"take_from": (brushed,)})
    red = [
        float((made[..., 0].astype(int) - made[..., 1]).mean())
        for made in (upright_pixels(Maker(path).scene(one))[:, 256:] for one in (plain, only))
    ]
    assert red[1] > red[0] + 25


def test_each_side_is_copied_from_its_own_source(tmp_path):
    """Red above, green below: each is asked for beyond the side where it is not."""
    pixels = textured(200, 160)
    pixels[:80, :, 0] = np.clip(pixels[:80, :, 0].astype(int) + 60, 0, 255)
    pixels[80:, :, 1] = np.clip(pixels[80:, :, 1].astype(int) + 60, 0, 255)
    path = saved(tmp_path / "photo.png", pixels)
    red, green = (Stroke(points=((30, y), (170, y)), radius=35) for y in (38, 122))
    plain = Continued(box=box(pixels, left=40, top=40, bottom=40))
    crossed = plain.model_copy(
        update={
            "take_from": (red,),
            "side_sources": (SideSource(side="top", take_from=(green,)),),
        }
    )
    kept: dict[str, Any] = {}

    def keep(of, make, is_sound):
        arrays = kept.get(of)
        if arrays is None:
            arrays = kept[of] = make()
        assert is_sound(arrays)
        return arrays

    def redness(maker, ground):
        canvas = upright_pixels(maker.scene(ground)).astype(int)
        assert np.array_equal(canvas[40:200, 40:], pixels)
        beyond = (canvas[:34], canvas[206:, 46:], canvas[46:194, :34])
        return [float((part[..., 0] - part[..., 1]).mean()) for part in beyond]

    top, bottom, left = redness(Maker(path, keep=keep), crossed)
    assert top < -20
    assert bottom > 20
    assert left > 20
    assert redness(Maker(path, keep=keep), plain)[0] > 20
    again = upright_pixels(Maker(path, keep=keep).scene(crossed))
    assert np.array_equal(again, upright_pixels(Maker(path).scene(crossed)))
    every = tuple(
        SideSource(side=side, take_from=(green,)) for side in ("top", "bottom", "left", "right")
    )
    alone = crossed.model_copy(update={"side_sources": every})
    assert max(redness(Maker(path, keep=keep), alone)) < -15


def test_nothing_left_to_copy_is_said(tmp_path):
    pixels = textured()
    path = saved(tmp_path / "photo.png", pixels)
    zone = Zone(left=-5, top=-5, width=300, height=300)
    with pytest.raises(FillError, match="nothing left of the photo"):
        Maker(path).scene(Continued(box=box(pixels, left=30), avoid=(zone,)))


def disc(x, y, radius, **more):
    stroke = Stroke(points=((x, y),), radius=radius)
    return Retouch(kind="paint_over", strokes=(stroke,), **more)


@pytest.mark.parametrize("attempt", [1, 2, 3, 4])
@pytest.mark.parametrize("depth", [np.uint8, np.uint16])
def test_a_thing_painted_over_is_gone_and_all_else_stays(attempt, depth):
    unit = 257 if depth == np.uint16 else 1
    photo = textured(200, 140).astype(depth) * unit
    cv2.circle(photo, (100, 50), 11, (240 * unit, 60 * unit, 20 * unit), -1)
    retouch = disc(100.5, 50.5, 15, attempt=attempt)
    patch = paint_over(photo, retouch).patch
    high, wide = patch.pixels.shape[:2]
    place = (patch.left, patch.top, patch.left + wide, patch.top + high)
    there = np.s_[place[1] : place[3], place[0] : place[2]]
    mask = area_of(retouch.strokes, (), place)
    assert np.array_equal(patch.pixels[~mask], photo[there][~mask])
    made = patch.pixels[mask].astype(int) // unit
    assert ((made[:, 0] - made[:, 2]) > 60).mean() < 0.01  # nothing of the thing
    assert np.abs(made.mean(0) - photo[30:70, 50:80].reshape(-1, 3).mean(0) / unit).max() < 25


def test_what_else_was_to_go_is_not_copied(tmp_path):
    pixels = textured(200, 140)
    for x in (60, 140):
        cv2.circle(pixels, (x, 50), 10, (240, 60, 20), -1)
    path = saved(tmp_path / "photo.png", pixels)
    first, second = disc(60.5, 50.5, 14, number=1), disc(140.5, 50.5, 14, number=2)
    made = upright_pixels(Maker(path, Retouches(retouches=(first, second))).scene()).astype(int)
    assert ((made[..., 0] - made[..., 2]) > 60).sum() == 0
    hidden = first.model_copy(update={"shown": False})
    less = upright_pixels(Maker(path, Retouches(retouches=(hidden, second))).scene()).astype(int)
    assert np.array_equal(less[:, 100:], made[:, 100:])  # the other is as it was
    assert np.array_equal(less[:, :100], pixels[:, :100])


@pytest.mark.parametrize(
    ("retouch", "words"),
    [
        (disc(1000, 1000, 5), "nothing is painted over"),
        (disc(100, 70, 400), "which leaves too little to fill it from"),
    ],
)
def test_too_little_and_too_much_are_refused(retouch, words):
    with pytest.raises(FillError, match=words):
        paint_over(textured(200, 140), retouch)


def fan(x, y, angle=0.0):
    """Lines that run to a point, seen at the left of a hole."""
    ys, xs = np.mgrid[:200, :300].astype(np.float32)
    turned = np.arctan2(ys - y, xs - x)
    light = 128 + 90 * np.sin(turned * 150)
    colours = np.repeat(light[..., None], 3, 2).astype(np.float32)
    hole = np.zeros((200, 300), np.bool_)
    hole[:, 220:] = True
    return Grid(np.where(hole[..., None], np.float32(0), colours), hole, 1, (0, 0))


def test_rays_lead_along_lines_that_meet():
    grid = fan(900, -400)
    led = rays(grid, 1)
    assert led is not None
    ys, xs = np.mgrid[20:180:20, 240:290:10]
    for y, x in zip(ys.ravel(), xs.ravel(), strict=True):  # along a line the coordinate stays
        back = 60 / (900 - x)
        other = (round(y + back * (y + 400)), round(x - 60))
        if 0 <= other[0] < 200:
            assert abs(led[y, x] - led[other]) < 2.5


def test_level_lines_and_noise_need_no_rays():
    level = np.repeat((128 + 90 * np.sin(np.arange(200) / 4))[:, None], 300, 1)
    noise = np.random.default_rng(2).normal(128, 40, (200, 300))
    grid = fan(0, 0)
    for light in (level, noise):
        colours = np.repeat(light[..., None], 3, 2).astype(np.float32) * ~grid.hole[..., None]
        assert rays(replace(grid, colours=colours), 1) is None
    assert rows(grid)[17, 250] == 17


def test_photo_blocks_lie_exactly_on_the_grid():
    photo = samples.grain(233, 171)
    grid = around_photo(photo, (31, 52), (10, 0), 7)
    first = ((31 + grid.lead[0]) // 7, (52 + grid.lead[1]) // 7)
    block = photo[7:14, 14:21].reshape(-1, 3).mean(0)
    assert (31 + grid.lead[0]) % 7 == (52 + grid.lead[1]) % 7 == 0
    assert np.allclose(grid.colours[first[0] + 1, first[1] + 2], block, atol=0.51)
    assert not grid.known[:, : first[1]].any()
    mask = np.zeros((171, 233), np.bool_)
    mask[80:90, 100:110] = True
    holed = with_hole(photo, mask, 7)
    assert holed.hole.repeat(7, 0).repeat(7, 1)[:171, :233][mask].all()


def test_twins_and_soft_tries_are_left_out_the_best_first():
    def seen(score, soft, tone):
        thumb = np.full((240, 240, 3), tone, np.float32)
        return Look(score, soft, thumb, np.ones((240, 240), np.float32))

    looks = [seen(5, 0, 100), seen(7, 0.1, 120), seen(6.9, 0.1, 121), seen(9, 0.9, 10)]
    assert by_score(looks) == [1, 0]
    # Grounds come in the order of their ways, but for what is spoilt.
    grounds = [seen(-1.5, 0, 100), seen(-0.9, 0, 120), seen(-0.2, 0, 121), seen(-0.1, 0.9, 10)]
    assert by_way(grounds) == [1, 0]
    assert by_way([seen(-1.0, 0, 100), seen(-0.2, 0, 120)]) == [0, 1]
    # Where most are soft, one that is sharp leaves none of them out.
    assert by_way([seen(0, 0.8, 90), seen(0, 0.8, 120), seen(0, 0, 10)]) == [0, 1, 2]


@pytest.mark.parametrize("tag", range(1, 9))
def test_stored_and_upright_undo_each_other(tag):
    pixels = samples.grain(5, 3)
    assert np.array_equal(turn_upright(as_stored(pixels, tag), tag), pixels)
