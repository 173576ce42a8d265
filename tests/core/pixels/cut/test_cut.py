from __future__ import annotations

import numpy as np
import pytest
import pyvips
from hypothesis import given, settings, strategies as st
from numpy.testing import assert_array_equal
from PIL import Image

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.pixels.cut.cut import cut, load_shrink
from oak_ledge.core.pixels.cut.methods import KERNELS, taps
from oak_ledge.core.pixels.open.orientation import turn_upright
from oak_ledge.core.pixels.open.photo import open_photo
from oak_ledge.core.placements.crop import Crop
from tests import samples

# crop (left, top, width, height) and output, from ×3.1 larger to ÷5.3 smaller
BOXES = [
    ((12.3, 7.9, 100.4, 80.32), (125, 100)),
    ((0.25, 0.5, 400.5, 300.375), (320, 240)),
    ((31.7, 11.1, 97.0, 60.625), (304, 190)),
    ((3.333, 2.777, 391.1, 293.325), (80, 60)),
    ((100.01, 50.49, 200.0, 150.0), (200, 150)),
    ((0.0, 0.0, 424.0, 318.0), (80, 60)),
]


def psnr(a, b) -> float:
    return float(10 * np.log10(255**2 / (np.mean((a - b) ** 2) + 1e-12)))


def shift(found, true):
    """Sub-pixel displacement of `found` against `true` in output px, by least squares over all
    planes at once: waves in several directions tell across from along."""
    slopes = [np.gradient(true, axis=axis) for axis in (1, 0)]
    basis = np.stack([slope.ravel() for slope in slopes], axis=1)
    return -np.linalg.lstsq(basis, (found - true).ravel(), rcond=None)[0]


@pytest.mark.parametrize(("box", "out"), BOXES)
def test_the_cut_is_right_to_a_fiftieth_of_an_output_pixel(tmp_path, box, out):
    # 16 bits, so that what is measured is the cut and not the rounding of 8
    image = pyvips.Image.new_from_array(
        np.rint(samples.waves(424, 318) * 257).astype(np.uint16), interpretation="rgb16"
    )
    path = tmp_path / "waves.png"
    image.write_to_file(str(path))
    found = cut(open_photo(path), Crop(*box), out, (424, 318)) / 257
    left, top, width, height = box
    true = samples.waves_on(424, 318, left, top, left + width, top + height, *out)
    assert found.shape == true.shape == (out[1], out[0], 3)
    # near the photo's own edge a filter must guess what lies beyond
    inner = found[4:-4, 4:-4], true[4:-4, 4:-4]
    assert psnr(*inner) > 45
    assert np.abs(shift(*inner)).max() < 0.02


@settings(max_examples=60)
@given(st.data())
def test_any_crop_gives_exactly_the_pixels_asked(tmp_path_factory, data):
    width, height = data.draw(st.tuples(st.integers(1, 90), st.integers(1, 90)))
    path = tmp_path_factory.mktemp("cut") / "grain.png"
    samples.save(path, samples.grain(width, height, data.draw(st.sampled_from([1, 3, 4]))))
    shares = st.tuples(st.floats(0, 0.9), st.floats(0.001, 1))
    (left, wide), (top, high) = data.draw(shares), data.draw(shares)
    crop = Crop(left * width, top * height, wide * (1 - left) * width, high * (1 - top) * height)
    out = data.draw(st.tuples(st.integers(1, 130), st.integers(1, 130)))
    found = cut(open_photo(path), crop, out, (width, height))
    assert found.shape[:2] == (out[1], out[0])


@pytest.mark.parametrize("name", ["grain.png", "grain.tif"])
@pytest.mark.parametrize("bands", [1, 3, 4])
def test_whole_pixels_at_scale_one_are_copied_bit_for_bit(tmp_path, name, bands):
    pixels = samples.grain(70, 50, bands)
    if bands == 4:
        pixels[..., 3] |= 1  # fully transparent pixels have no colour to keep
    path = samples.save(tmp_path / name, pixels)
    found = cut(open_photo(path), Crop(11, 7, 40, 30), (40, 30), (70, 50))
    assert_array_equal(found, pixels[7:37, 11:51])


def test_sixteen_bits_are_copied_bit_for_bit(tmp_path):
    path = samples.deep(tmp_path / "deep.tif")
    true = pyvips.Image.new_from_file(str(path)).numpy()
    found = cut(open_photo(path), Crop(5, 3, 40, 30), (40, 30), (60, 40))
    assert found.dtype == np.uint16
    assert_array_equal(found, true[3:33, 5:45])


@pytest.mark.parametrize("tag", range(1, 9))
def test_every_orientation_tag_gives_the_same_upright_cut(tmp_path, tag):
    pixels = np.rint(samples.waves(90, 60)).astype(np.uint8)
    path = samples.oriented(tmp_path / "tag.png", pixels, tag)
    plain = samples.save(tmp_path / "plain.png", pixels)
    crop, out = Crop(10.3, 5.7, 60, 45), (84, 63)
    found = cut(open_photo(path), crop, out, (90, 60)).astype(int)
    assert np.abs(found - cut(open_photo(plain), crop, out, (90, 60))).max() <= 1
    assert_array_equal(turn_upright(np.asarray(Image.open(path)), tag), pixels)


def test_hidden_colour_does_not_bleed_out_of_transparent_parts(tmp_path):
    pixels = np.zeros((40, 40, 4), np.uint8)
    pixels[:, :20] = (200, 40, 20, 255)
    pixels[:, 20:] = (0, 255, 0, 0)
    path = samples.save(tmp_path / "alpha.png", pixels)
    found = cut(open_photo(path), Crop(0, 0, 40, 40), (17, 17), (40, 40))
    seen = found[found[..., 3] > 40]
    assert (np.abs(seen[:, :3].astype(int) - (200, 40, 20)) <= 3).all()


@pytest.mark.parametrize("scale", [0.1, 0.5, 0.97, 1.0, 1.4, 3.0])
def test_an_even_tone_stays_even_up_to_the_photos_edge(tmp_path, scale):
    path = samples.save(tmp_path / "even.png", np.full((80, 100, 3), 201, np.uint8))
    out = (round(100 * scale), round(80 * scale))
    assert (cut(open_photo(path), Crop(0, 0, 100, 80), out, (100, 80)) == 201).all()


def test_fine_stripes_fade_when_shrunk_instead_of_making_false_ones(tmp_path):
    stripes = np.zeros((64, 600, 3), np.uint8)
    stripes[:, ::2] = 255
    path = samples.save(tmp_path / "stripes.png", stripes)
    found = cut(open_photo(path), Crop(0, 0, 600, 64), (170, 18), (600, 64)).astype(float)
    assert np.abs(found[2:-2, 4:-4] - 127.5).max() < 4


def test_a_jpeg_shrunk_on_load_looks_like_one_that_was_not(tmp_path):
    path = samples.photo(tmp_path / "big.jpg", 1600, 1200)
    crop, out = Crop(40.2, 30.7, 1500, 1125), (160, 120)
    assert load_shrink(crop, out) == 4
    small = cut(open_photo(path, shrink=4), crop, out, (1600, 1200)).astype(float)
    whole = cut(open_photo(path), crop, out, (1600, 1200)).astype(float)
    assert psnr(small, whole) > 45
    assert np.abs(shift(small, whole)).max() < 0.02


def test_a_photo_cut_short_below_the_crop_is_still_found(tmp_path):
    path = samples.photo(tmp_path / "whole.jpg", 400, 400)
    path.write_bytes(path.read_bytes()[:-200])
    with pytest.raises(PhotoError, match="cut short"):
        cut(open_photo(path), Crop(0, 0, 100, 20), (100, 20), (400, 400))


@pytest.mark.parametrize("method", list(KERNELS))
@given(st.integers(1, 60), st.floats(0, 30), st.floats(0.5, 60), st.integers(1, 90))
def test_taps_of_every_output_pixel_add_up_to_one(method, source, start, extent, outputs):
    found = taps(source, start, extent, outputs, method)
    rows = np.concatenate([block.sum(axis=1) for _, _, block in found.blocks])
    assert len(rows) == outputs
    assert np.allclose(rows, 1, atol=1e-5)
    assert all(0 <= first <= source - block.shape[1] for _, first, block in found.blocks)


@given(st.floats(-4, 4))
def test_lanczos_is_the_product_of_its_two_sincs(x):
    true = np.sinc(x) * np.sinc(x / 3) if abs(x) < 3 else 0
    assert KERNELS["lanczos"][0](np.array([x]))[0] == pytest.approx(true, abs=1e-14)
