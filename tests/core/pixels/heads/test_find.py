"""Heads found on drawn portraits, whose points are known exactly; what photographs give is in benchmarks/heads.py."""

from __future__ import annotations

import hashlib
import re
from dataclasses import replace
from math import hypot

import numpy as np
import pytest
from PIL import Image, ImageFilter

from oak_ledge.core.heads.face_points import face_at
from oak_ledge.core.pixels.heads.find import find_heads, measure_head
from oak_ledge.core.pixels.heads.networks import MODELS
from oak_ledge.demo.fill import PHOTOS
from tests import samples
from tests.carriers import CARRIERS, HIGH, WIDE, draw_carrier

UPRIGHT = (WIDE, HIGH)


@pytest.fixture(scope="module")
def portraits():
    return [draw_carrier(carrier) for carrier in CARRIERS]


@pytest.fixture
def keep(tmp_path):
    def save(image, name="carrier.jpg"):
        path = tmp_path / name
        image.save(path, quality=92)
        return path

    return save


def test_the_networks_are_those_whose_source_and_licence_are_told():
    told = dict(
        re.findall(
            r"`([\w.]+\.tflite)`.*`([0-9a-f]{64})`", (MODELS / "README.md").read_text("utf-8")
        )
    )
    assert set(told) == {path.name for path in MODELS.glob("*.tflite")}
    for name, digest in told.items():
        assert hashlib.sha256((MODELS / name).read_bytes()).hexdigest() == digest
    assert "Apache License" in (MODELS / "LICENSE.txt").read_text("utf-8")


@pytest.mark.parametrize("number", range(len(CARRIERS)))
def test_eyes_and_chin_are_found_within_two_per_cent_and_the_crown_within_what_is_said(
    portraits, keep, number
):
    carrier = CARRIERS[number]
    (head,) = find_heads(keep(portraits[number]), UPRIGHT)
    for point, drawn in zip(head.points[:3], carrier.points[:3], strict=True):
        assert hypot(point[0] - drawn[0], point[1] - drawn[1]) < 0.02 * carrier.tall
    crown = carrier.points[3]
    assert head.found is not None
    assert head.found.crown_seen
    assert hypot(head.crown[0] - crown[0], head.crown[1] - crown[1]) < max(
        head.found.crown_within, 0.02 * carrier.tall
    )
    assert head.tilt == pytest.approx(carrier.lean, abs=1.2)


def test_a_head_cut_by_the_edge_says_that_its_crown_was_not_seen(keep):
    carrier = replace(CARRIERS[0], y=CARRIERS[0].tall * 0.36)
    (head,) = find_heads(keep(draw_carrier(carrier)), UPRIGHT)
    assert head.found is not None
    assert not head.found.crown_seen
    assert head.found.crown_within > 0.1 * carrier.tall


def test_several_heads_are_found_the_tallest_first(keep):
    wide = Image.new("RGB", (2400, 1200), (168, 178, 184))
    for n, tall in enumerate((420, 520, 380)):
        carrier = replace(CARRIERS[n], x=400, y=420, tall=tall, lean=0)
        wide.paste(draw_carrier(carrier, wide=800, high=1200), (800 * n, 0))
    heads = find_heads(keep(wide), (2400, 1200))
    assert [round(head.eyes[0] / 800 - 0.5) for head in heads] == [1, 0, 2]


def test_no_head_is_seen_in_lanterns_water_or_grain(tmp_path):
    scenes = [path for path in PHOTOS.glob("*.jpg") if not path.name.startswith("carrier")]
    assert len(scenes) >= 8
    for path in (*scenes, samples.save(tmp_path / "g.png", samples.grain(600, 400))):
        assert find_heads(path, (3000, 2000)) == (), path.name


def test_points_are_those_of_the_whole_photo_however_small_it_was_looked_at(portraits, keep):
    small = portraits[0].resize((WIDE // 2, HIGH // 2), Image.Resampling.LANCZOS)
    (of_small,), (of_large,) = (find_heads(keep(image), UPRIGHT) for image in (small, portraits[0]))
    for point, other in zip(of_small.points, of_large.points, strict=True):
        assert point == pytest.approx(other, abs=0.01 * CARRIERS[0].tall)


def measured(image, keep):
    face = face_at(CARRIERS[0].points)
    return measure_head(keep(image), UPRIGHT, face).measured


def test_blur_uneven_ground_and_burnt_skin_are_measured(portraits, keep):
    plain = measured(portraits[0], keep)
    assert plain.ground_spread < 4
    assert plain.clipped < 0.005
    blurs = [
        measured(portraits[0].filter(ImageFilter.GaussianBlur(sigma)), keep).eye_blur
        for sigma in (5, 8, 12)
    ]
    assert plain.eye_blur < blurs[0] < blurs[1] < blurs[2]
    for sigma, blur in zip(
        (5, 8, 12), blurs, strict=True
    ):  # on what the drawing is blurred by already
        assert blur * CARRIERS[0].tall == pytest.approx(hypot(sigma, 2), rel=0.2)
    pixels = np.asarray(portraits[0]).copy()
    pixels[:, : WIDE // 2] = np.where(pixels[:, : WIDE // 2] > 150, 90, pixels[:, : WIDE // 2])
    assert measured(Image.fromarray(pixels), keep).ground_spread > 15
    burnt = np.asarray(portraits[0]).copy()
    burnt[1000:1300, 700:1100] = 255
    assert measured(Image.fromarray(burnt), keep).clipped > 0.2


@pytest.mark.parametrize("extent", [(1, 1), (3, 900), (900, 3), (2500, 1), (1, 2500), (40, 40)])
def test_photos_of_any_shape_are_looked_at_and_measured(keep, extent):
    wide, high = extent
    pixels = np.random.default_rng(7).integers(0, 255, (high, wide, 3), dtype=np.uint8)
    path = keep(Image.fromarray(pixels), "odd.png")
    assert find_heads(path, extent) == ()
    points = (
        (0, high * 0.4),
        (max(wide, 1), high * 0.4),
        (wide / 2, high * 0.4 + 1.5),
        (wide / 2, -1),
    )
    measure = measure_head(path, extent, face_at(points)).measured
    assert measure is not None
    assert measure.clipped is None or 0 <= measure.clipped <= 1
