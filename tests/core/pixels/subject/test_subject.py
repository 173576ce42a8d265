from __future__ import annotations

import cv2
import numpy as np
import pytest

from oak_ledge.core.pixels.subject.faces import find_faces
from oak_ledge.core.pixels.subject.subject import find_subject
from oak_ledge.demo.fill import PHOTOS
from tests import samples
from tests.samples import there

# Left, top, right, bottom of what each demo picture is of, marked by eye, as shares.
SUBJECTS = {
    "framed-chart": (0.26, 0.05, 0.78, 0.85), "glass-float": (0.35, 0.09, 0.81, 0.74),
    "harbour-wall": (0.0, 0.33, 1.0, 0.62), "lantern-pole": (0.28, 0.2, 0.74, 0.72),
    "lighthouse": (0.62, 0.13, 0.71, 0.62), "market-stall": (0.05, 0.2, 0.95, 0.8),
    "paper-boat": (0.16, 0.27, 0.78, 0.7), "quay-lanterns": (0.25, 0.1, 0.95, 0.55),
}  # fmt: skip


def test_found_subjects_hit_what_the_demo_pictures_are_of():
    found = {name: find_subject(PHOTOS / f"{name}.jpg") for name in SUBJECTS}
    sure = {name: one for name, one in found.items() if one is not None}
    assert len(sure) >= 7  # a stall full of lanterns has no one thing it is of
    for name, one in sure.items():
        left, top, right, bottom = SUBJECTS[name]
        across = max(0.0, min(right, one.left + one.width) - max(left, one.left))
        along = max(0.0, min(bottom, one.top + one.height) - max(top, one.top))
        covered = across * along / ((right - left) * (bottom - top))
        assert covered >= 0.45, name  # a box that took in all would hit all
        assert one.width * one.height <= 0.5, name


@pytest.mark.parametrize("at", [(0.2, 0.3), (0.7, 0.25), (0.6, 0.7)])
def test_a_lone_thing_off_centre_is_found_where_it_is(tmp_path, at):
    picture = np.full((400, 600, 3), 90, np.uint8) + samples.grain(600, 400) // 40
    x, y = round(at[0] * 600), round(at[1] * 400)
    picture[y - 40 : y + 40, x - 40 : x + 40] = (200, 60, 40)
    found = find_subject(samples.save(tmp_path / "a.png", picture))
    assert found is not None
    middle = (found.left + found.width / 2, found.top + found.height / 2)
    assert middle == pytest.approx(at, abs=0.02)
    assert found.width * found.height < 0.08  # the thing has 0.027
    assert found.sure > 0.8


def test_a_small_coloured_thing_is_not_lost_to_clouds_at_the_edge(tmp_path):
    clouds = np.clip(samples.waves(600, 400)[..., 0] * 300, 0, 120) * np.linspace(1.3, 0, 600)
    sky = np.array([90, 150, 210]) + np.clip(clouds, 0, 130)[..., None]
    sky[140:190, 400:430] = (210, 50, 40)
    found = find_subject(samples.save(tmp_path / "kite.png", np.clip(sky, 0, 255).astype(np.uint8)))
    assert found is not None
    assert found.left < 400 / 600
    assert found.left + found.width > 430 / 600
    assert found.width * found.height < 0.05  # the thing has 0.006, the clouds most of the picture


def blurry(seed, sigma, strength):
    """Soft matter of many tones, (400, 600, 3)."""
    rng = np.random.default_rng(seed)
    soft = cv2.GaussianBlur(rng.normal(0, 1, (400, 600, 3)), (0, 0), sigma)
    return np.array([70, 110, 60]) + soft / soft.std() * strength


@pytest.mark.parametrize("kind", ["vivid", "sharp", "whole"])
def test_a_ladybird_a_dandelion_and_all_of_a_splash_are_found(tmp_path, kind):
    """Vivid and small on a busy ground; sharp before a blur of its own tones; pale, and quite sharp."""
    picture = blurry(4, 30, {"vivid": 22, "sharp": 34, "whole": 4}[kind])
    x, y = np.meshgrid(np.arange(600), np.arange(400))
    grain = np.random.default_rng(5).normal(0, 1, (400, 600, 1))
    if kind == "vivid":
        picture += 18 * grain
        box = (340, 150, 362, 166)
        thing = ((x - 351) / 11) ** 2 + ((y - 158) / 8) ** 2 < 1
        picture[thing] = (215, 40, 30)
    else:
        box = (150, 100, 290, 240)
        thing = (x - 220) ** 2 + (y - 170) ** 2 < 70**2
        picture = np.where(
            thing[..., None], picture + (28 if kind == "sharp" else 30) * grain, picture
        )
    pixels = np.clip(picture, 0, 255).astype(np.uint8)
    found = there(find_subject(samples.save(tmp_path / "a.png", pixels)))
    edges = (found.left * 600, found.top * 400)
    ends = (edges[0] + found.width * 600, edges[1] + found.height * 400)
    assert np.array((*edges, *ends)) == pytest.approx(np.array(box), abs=22)
    cut = [*(np.array(edges) - box[:2]), *(np.array(box[2:]) - ends)]
    assert max(cut) <= 6


@pytest.mark.parametrize("kind", ["grain", "bricks", "horizon"])
def test_what_is_alike_all_over_and_a_horizon_are_no_subject(tmp_path, kind):
    picture = samples.grain(600, 400)
    if kind == "bricks":
        y, x = np.mgrid[0:400, 0:600]
        joints = (y % 40 < 4) | ((x + y // 40 % 2 * 30) % 60 < 4)
        picture = np.where(joints[..., None], 190, 110 + picture // 16).astype(np.uint8)
    if kind == "horizon":
        picture = picture // 20 + 160
        picture[210:] -= 110
    assert find_subject(samples.save(tmp_path / "all-over.png", picture)) is None


def test_nothing_is_found_where_nothing_stands_out(tmp_path):
    flat = samples.save(tmp_path / "flat.png", np.full((80, 120, 3), 77, np.uint8))
    assert find_subject(flat) is None
    assert find_subject(samples.save(tmp_path / "dot.png", samples.grain(4, 4))) is None


def test_a_face_is_found_with_its_headroom_and_the_line_of_its_eyes(tmp_path):
    (face,) = find_faces(samples.face(tmp_path / "face.png", 420, 260, 60))
    assert face.eyes == pytest.approx((420 / 900, 247 / 600), abs=0.012)
    assert face.left < (420 - 47) / 900
    assert face.left + face.width > (420 + 47) / 900
    assert face.top < (260 - 70) / 600
    assert face.top + face.height > (260 + 60) / 600


def test_no_face_is_seen_in_lanterns_or_textures(tmp_path):
    scenes = [path for path in PHOTOS.glob("*.jpg") if not path.name.startswith("carrier")]
    for path in (*scenes, samples.save(tmp_path / "g.png", samples.grain(600, 400))):
        assert find_faces(path) == (), path.name
