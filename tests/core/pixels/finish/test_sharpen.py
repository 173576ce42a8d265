from __future__ import annotations

import numpy as np
import pytest
from PIL import Image

from oak_ledge.core.pixels.cut.content import choose_for, look_into
from oak_ledge.core.pixels.finish.sharpen import OVERSHOOT, Sharpening, sharpened, sharpening_of
from oak_ledge.core.pixels.render import render
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.planes.surface import PlainSurface
from tests import samples
from tests.samples import size

HOW = Sharpening(1.0, 0.8)


def edge(low, high, deep=False):
    """A soft upright edge in colour."""
    ramp = 1 / (1 + np.exp(-(np.arange(64) - 31.5) / 0.8))
    values = low + (high - low) * ramp
    pixels = np.stack([values, values * 0.6, values * 0.3], axis=1)[None].repeat(40, axis=0)
    return np.rint(pixels * (257 if deep else 1)).astype(np.uint16 if deep else np.uint8)


@pytest.mark.parametrize("deep", [False, True])
def test_an_edge_gets_steeper_in_lightness_alone_without_a_halo(deep):
    pixels = edge(40, 200, deep)
    found = sharpened(pixels, HOW, alpha=False).astype(int)
    before, after = pixels[20].astype(int), found[20]
    assert np.diff(after[:, 0]).max() > 1.1 * np.diff(before[:, 0]).max()
    step = after - before
    assert np.abs(step - step[:, :1]).max() <= 1  # every channel moves alike: colours stay
    top = np.iinfo(pixels.dtype).max
    assert after[:, 0].max() <= before[:, 0].max() + OVERSHOOT * top + 1
    assert (after[:8] == before[:8]).all()


def test_highlights_and_shadows_are_never_clipped():
    rng = np.random.default_rng(4)
    pixels = np.clip(rng.normal(235, 18, (60, 60, 3)), 0, 254).astype(np.uint8)
    found = sharpened(pixels, Sharpening(0.8, 3.0), alpha=False)
    assert (found < 255).all()
    even = np.full((30, 30, 3), 255, np.uint8)
    assert (sharpened(even, HOW, alpha=False) == 255).all()


def test_transparency_is_left_alone_and_strips_leave_no_seam():
    pixels = samples.grain(40, 1100, 4)
    found = sharpened(pixels, HOW, alpha=True)
    assert (found[..., 3] == pixels[..., 3]).all()
    turned = sharpened(pixels[::-1].copy(), HOW, alpha=True)[::-1]
    assert (np.abs(turned.astype(int) - found) <= 1).all()


@pytest.mark.parametrize(
    ("text", "changes", "asked", "sigma", "amount"),
    [
        ("8x10in@300", {}, (2400, 3000), None, None),
        ("8x10in@300", {"sharpen_for": "smooth"}, (2400, 3000), 0.838, 0.6),
        ("8x10in@300", {"sharpen_for": "rough", "sharpen": 100}, (2400, 3000), 0.838, 1.9),
        ("4x6in@300", {"sharpen_for": "smooth"}, (1200, 1800), 0.524, 0.6),  # 12 in, no closer
        ("40x60cm@200", {"sharpen_for": "smooth"}, (3150, 4724), 1.239, 0.6),
        ("1920x1080px", {"sharpen_for": "screen"}, (1920, 1080), 0.5, 0.35),
        ("8x10in@300", {"sharpen_for": "smooth", "sharpen": 0}, (2400, 3000), None, None),
    ],
)
def test_sharpening_follows_from_resolution_and_distance(text, changes, asked, sigma, amount):
    how = sharpening_of(size(text, **changes), asked)
    if sigma is None:
        assert how is None
        return
    assert how is not None
    assert how.sigma == pytest.approx(sigma, abs=0.002)
    assert how.amount == pytest.approx(amount)


def test_sharpening_comes_last_at_the_outputs_own_pixels(tmp_path):
    path = samples.photo(tmp_path / "photo.png", 300, 240)
    crop, asked = Crop(20, 20, 250, 200), (100, 80)
    plain, _ = render(path, size("100x80px"), crop, asked, PlainSurface((300, 240)))
    sharp_size = size("100x80px", sharpen_for="screen", sharpen=100)
    found, _ = render(path, sharp_size, crop, asked, PlainSurface((300, 240)))
    how = sharpening_of(sharp_size, asked)
    assert how is not None
    assert (found == sharpened(plain, how, alpha=False)).all()
    shown, _ = render(path, sharp_size, crop, (50, 40), PlainSurface((300, 240)), whole=asked)
    smaller, _ = render(path, size("100x80px"), crop, (50, 40), PlainSurface((300, 240)))
    assert (shown == smaller).all()


@pytest.mark.thorough
def test_the_kernel_is_chosen_by_scale_and_by_what_is_in_the_photo(tmp_path):
    drawn = tmp_path / "drawn.png"
    blocks = np.random.default_rng(2).integers(0, 5, (40, 60)) * 50
    Image.fromarray(blocks.astype(np.uint8)).convert("RGB").save(drawn)
    smooth = samples.photo(tmp_path / "smooth.png", 600, 400)
    waves = samples.waves(600, 400)
    noise = np.random.default_rng(3).normal(0, 9, waves.shape)
    noisy = samples.save(tmp_path / "noisy.png", np.clip(waves + noise, 0, 255).astype(np.uint8))
    assert look_into(noisy).noise == pytest.approx(9 / np.sqrt(3), rel=0.35)
    assert look_into(smooth).noise < 1.5
    crop = Crop(0, 0, 30, 20)
    assert choose_for(drawn, crop, (90, 60)) == "nearest"
    assert choose_for(drawn, crop, (100, 67)) != "nearest"
    assert choose_for(smooth, crop, (90, 60)) == "bicubic"
    assert choose_for(noisy, crop, (90, 60)) == "mitchell"
    assert choose_for(smooth, crop, (20, 13)) is None


def test_blocks_stay_blocks(tmp_path):
    pixels = samples.grain(20, 12)
    path = samples.save(tmp_path / "art.png", pixels)
    found, _ = render(
        path,
        size("60x36px", method="nearest"),
        Crop(0, 0, 20, 12),
        (60, 36),
        PlainSurface((20, 12)),
    )
    assert (found == pixels.repeat(3, axis=0).repeat(3, axis=1)).all()
