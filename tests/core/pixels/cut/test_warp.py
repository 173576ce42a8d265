"""Turned and four-corner cuts against pictures that are known at every point."""

from __future__ import annotations

import numpy as np
import pytest
import pyvips

from oak_ledge.core.errors import FileError
from oak_ledge.core.pixels.cut.cut import cut
from oak_ledge.core.pixels.cut.methods import KERNELS
from oak_ledge.core.pixels.cut.warp import warp
from oak_ledge.core.pixels.ground.grounds import cut_on_ground
from oak_ledge.core.pixels.open.photo import open_photo
from oak_ledge.core.pixels.render import render
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.planes.matrices import at, corners_of, crop_matrix, onto_quad
from oak_ledge.core.planes.surface import PlainSurface, Squared
from oak_ledge.demo.fill import PHOTOS
from tests import samples
from tests.core.pixels.cut.test_cut import psnr, shift
from tests.samples import size

EDGE = 700
QUAD = [(130.0, 110.0), (590.0, 60.0), (640.0, 610.0), (80.0, 560.0)]


def zone(x, y):
    """A zone plate up to 0.42 cycles per photo pixel at its rim."""
    radius = (x - EDGE / 2) ** 2 + (y - EDGE / 2) ** 2
    return 127.5 + 127.5 * np.cos(np.pi * 0.42 * radius / (EDGE / 2))


@pytest.fixture(scope="module")
def plate(tmp_path_factory):
    y, x = np.mgrid[0:EDGE, 0:EDGE] + 0.5
    pixels = np.rint(zone(x, y))[..., None].repeat(3, axis=2).astype(np.uint8)
    return samples.save(tmp_path_factory.mktemp("zone") / "zone.png", pixels)


def truth(picture, matrix, asked, step, finer=12):
    """The picture seen through a mapping: taken `finer` times as densely and reduced by Lanczos."""
    if step <= 1:
        finer, edge = 1, 0
    else:
        edge = 4
    u = (np.arange(-edge * finer, (asked[0] + edge) * finer) + 0.5) / finer
    v = (np.arange(-edge * finer, (asked[1] + edge) * finer) + 0.5) / finer
    points = np.stack([part.ravel() for part in np.meshgrid(u, v)], axis=1)
    x, y = at(matrix, points).T
    values = picture(x, y).reshape(len(v), len(u)).astype(np.float32)
    if finer == 1:
        return values
    image = pyvips.Image.new_from_array(values[..., None])
    reduced = image.reducev(finer, kernel="lanczos3").reduceh(finer, kernel="lanczos3").numpy()
    return reduced.reshape(asked[1] + 8, asked[0] + 8)[edge:-edge, edge:-edge]


@pytest.mark.thorough
@pytest.mark.parametrize("step", [0.35, 0.75, 1.0, 1.5, 2.6])
@pytest.mark.parametrize("angle", [0.01, 3.7, 20.0])
def test_a_turned_cut_is_the_picture_itself(plate, angle, step):
    edge = int(min(200, 480 / step))
    asked, wide = (edge, edge), edge * step
    matrix = crop_matrix(350 - wide / 2, 350 - wide / 2, wide, wide, angle, asked)
    found = warp(open_photo(plate), matrix, asked, (EDGE, EDGE))
    assert found.shape == (edge, edge, 3)
    inner = slice(6, -6)
    true = truth(zone, matrix, asked, step)
    assert psnr(found[inner, inner, 0].astype(float), true[inner, inner]) > 38


@pytest.mark.thorough
@pytest.mark.parametrize("asked", [(200, 150), (520, 390)])
def test_four_corners_are_the_picture_itself(plate, asked):
    matrix = onto_quad(asked[0], asked[1], QUAD)
    found = warp(open_photo(plate), matrix, asked, (EDGE, EDGE))
    true = truth(zone, matrix, asked, 560 / asked[0])
    inner = slice(6, -6)
    assert psnr(found[inner, inner, 0].astype(float), true[inner, inner]) > 38


@pytest.mark.parametrize("tag", [1, 3, 6, 7])
@pytest.mark.parametrize("angle", [-8.0, 3.7, 90.0, 151.0])
def test_nothing_is_displaced_whatever_the_tag_and_the_angle(tmp_path, tag, angle):
    pixels = np.rint(samples.waves(360, 240)).astype(np.uint8)
    path = samples.oriented(tmp_path / "waves.png", pixels, tag)
    matrix = crop_matrix(120.3, 70.9, 120, 90, angle, (80, 60))
    found = warp(open_photo(path), matrix, (80, 60), (360, 240)).astype(float)
    grid = np.meshgrid(np.arange(80) + 0.5, np.arange(60) + 0.5)
    x, y = at(matrix, np.stack([part.ravel() for part in grid], axis=1)).T
    true = samples.waves_at(x, y).reshape(60, 80, 3)
    assert psnr(found, true) > 45
    assert np.abs(shift(found, true)).max() < 0.03  # cv2 places its taps to 1/32 photo pixel


def test_a_long_photo_is_enlarged_beyond_what_is_mapped_at_once(tmp_path):
    extent, asked = (11_000, 60), (33_000, 60)
    path = samples.save(tmp_path / "waves.png", np.rint(samples.waves(*extent)).astype(np.uint8))
    matrix = crop_matrix(0, 20, 11_000, 20, 0.05, asked)
    found = warp(open_photo(path), matrix, asked, extent)[:, ::100].astype(float)
    grid = np.meshgrid(np.arange(0, asked[0], 100) + 0.5, np.arange(asked[1]) + 0.5)
    x, y = at(matrix, np.stack([part.ravel() for part in grid], axis=1)).T
    assert psnr(found, samples.waves_at(x, y).reshape(found.shape)) > 45
    with pytest.raises(FileError, match="takes a picture of 33000 × 150 px, where an edge holds"):
        warp(open_photo(path), matrix, asked, extent, border="mirror")


@pytest.mark.thorough
@pytest.mark.parametrize("step", [0.6, 1.2, 2.5])
def test_a_hundredth_of_a_degree_looks_like_none(step):
    path = PHOTOS / "quay-lanterns.jpg"
    crop = Crop(900.3, 700.7, 900, 720)
    asked = (int(900 / step), int(720 / step))
    upright = cut(open_photo(path), crop, asked, (3600, 2400)).astype(float)
    matrix = crop_matrix(crop.left, crop.top, crop.width, crop.height, 0.01, asked)
    assert psnr(warp(open_photo(path), matrix, asked, (3600, 2400)).astype(float), upright) > 46


@pytest.mark.parametrize("method", [*KERNELS, "nearest"])
@pytest.mark.parametrize("step", [0.4, 1.6])
def test_every_method_looks_turned_as_it_does_upright(tmp_path, method, step):
    path = samples.photo(tmp_path / "photo.png", 300, 240)
    crop, asked = Crop(60, 50, 120, 96), (int(120 / step), int(96 / step))
    upright = cut(open_photo(path), crop, asked, (300, 240), method).astype(float)
    matrix = crop_matrix(60, 50, 120, 96, 1e-4, asked)
    turned = warp(open_photo(path), matrix, asked, (300, 240), method).astype(float)
    assert psnr(turned, upright) > 38


@pytest.mark.parametrize("angle", [0.0, 12.0])
@pytest.mark.parametrize("deep", [False, True])
def test_an_even_photo_has_no_rim_and_stands_on_its_ground(tmp_path, angle, deep):
    value = 40 * (257 if deep else 1)
    pixels = np.full((80, 120, 3), value, np.uint16 if deep else np.uint8)
    path = tmp_path / "even.png"
    image = pyvips.Image.new_from_array(pixels, interpretation="rgb16" if deep else "srgb")
    image.write_to_file(str(path))
    crop = Crop(-40, -40, 200, 160, angle)
    top = 65535 if deep else 255
    found = cut_on_ground(open_photo(path), crop, (150, 120), (120, 80), "#ffffff").astype(int)
    dust = top // 4000  # libvips reduces 16 bits with weights of 12
    assert abs(found.min() - value) <= dust
    assert found.max() == top
    assert (found[0, 0] == top).all()
    between = (found > value + dust) & (found < top)
    assert between.mean() < 0.05  # the blended edge, a pixel wide
    assert (np.abs(found[55:65, 70:80] - value) <= dust).all()


def test_what_lies_inside_is_never_touched_by_the_ground(tmp_path):
    path = samples.photo(tmp_path / "photo.png", 300, 240)
    crop = Crop(80, 70, 120, 90, 9.0)
    matrix = crop_matrix(80, 70, 120, 90, 9.0, (100, 75))
    assert np.array(corners_of(matrix, 100, 75)) == pytest.approx(np.array(crop.corners()))
    plain = warp(open_photo(path), matrix, (100, 75), (300, 240))
    found = cut_on_ground(open_photo(path), crop, (100, 75), (300, 240), "#ff0000")
    assert np.array_equal(plain, found)


def test_hidden_colour_does_not_bleed_when_turned(tmp_path):
    pixels = np.zeros((60, 60, 4), np.uint8)
    pixels[:, :30] = (200, 40, 20, 255)
    pixels[:, 30:] = (0, 255, 0, 0)
    path = samples.save(tmp_path / "alpha.png", pixels)
    for edge in (23, 90):
        matrix = crop_matrix(15, 15, 30, 30, 17, (edge, edge))
        found = warp(open_photo(path), matrix, (edge, edge), (60, 60))
        seen = found[found[..., 3] > 60].astype(int)
        assert (np.abs(seen[:, :3] - (200, 40, 20)) <= 4).all()


@pytest.mark.parametrize("tag", range(1, 9))
@pytest.mark.parametrize("quarter", [0, 1, 2, 3])
@pytest.mark.parametrize("mirror", [False, True])
def test_quarter_turns_and_mirror_come_after_the_tag(tmp_path, tag, quarter, mirror):
    pixels = samples.grain(24, 16)
    path = samples.oriented(tmp_path / "tag.png", pixels, tag)
    wanted = np.rot90(pixels, -quarter)
    wanted = wanted[:, ::-1] if mirror else wanted
    extent = (wanted.shape[1], wanted.shape[0])
    surface = PlainSurface(extent, quarter, mirror)
    found, _ = render(path, size("100%"), Crop(2, 3, 10, 9), (10, 9), surface)
    assert np.array_equal(found, wanted[3:12, 2:12])


def test_a_squared_picture_is_the_picture_that_was_photographed(tmp_path):
    flat = np.rint(samples.waves(400, 300)).astype(np.uint8)
    corners = ((130.0, 90.0), (560.0, 60.0), (600.0, 430.0), (90.0, 400.0))
    y, x = np.mgrid[0:520, 0:700] + 0.5
    inverse = np.linalg.inv(onto_quad(400, 300, corners))
    u, v = at(inverse, np.stack([x.ravel(), y.ravel()], axis=1)).T
    taken = np.rint(samples.waves_at(u, v).reshape(520, 700, 3)).astype(np.uint8)
    path = samples.save(tmp_path / "taken.png", taken)
    plane = Squared((400, 300), corners, (700, 520))
    found, _ = render(path, size("400x300px"), Crop(0, 0, 400, 300), (400, 300), plane)
    assert psnr(found[3:-3, 3:-3].astype(float), flat[3:-3, 3:-3].astype(float)) > 42
