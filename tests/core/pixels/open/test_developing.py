"""Photos of the newer kinds: AVIF, HEIC and camera raw, read as any other."""

from __future__ import annotations

import sys

import numpy as np
import pillow_heif
import pytest
import pyvips
from PIL import Image

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.pixels.cut.cut import cut
from oak_ledge.core.pixels.open.developing import kind_of
from oak_ledge.core.pixels.open.facts import look_at
from oak_ledge.core.pixels.open.photo import open_photo, upright_pixels
from oak_ledge.core.pixels.process_setup import load_decoders
from oak_ledge.core.pixels.show.preview import draw_preview
from oak_ledge.core.placements.crop import Crop
from tests import samples
from tests.core.pixels.cut.test_cut import psnr


def srgb(linear):
    """IEC 61966-2-1, above its linear toe."""
    return 1.055 * np.asarray(linear) ** (1 / 2.4) - 0.055


def save(path, pixels):
    if path.suffix == ".heic":
        image = Image.fromarray(pixels)
        pillow_heif.from_pillow(image).save(str(path), quality=95)
    else:
        image = pyvips.Image.new_from_array(pixels, interpretation="srgb")
        path.write_bytes(image.heifsave_buffer(compression="av1", Q=95, keep="none"))
    return path


@pytest.mark.parametrize("name", ["photo.heic", "photo.avif", "really-a.heic.jpg"])
def test_heic_and_avif_are_read_whatever_they_are_called(tmp_path, name):
    pixels = np.rint(samples.waves(160, 120)).astype(np.uint8)
    path = save(tmp_path / name.replace(".jpg", ""), pixels)
    path = path.rename(tmp_path / name)
    facts = look_at(path, most_pixels=10**6)
    assert (facts.upright, facts.bits, facts.alpha) == ((160, 120), 8, False)
    assert facts.format == ("AVIF" if "avif" in name else "HEIC")
    found = cut(open_photo(path), Crop(10, 20, 100, 80), (100, 80), (160, 120)).astype(float)
    assert psnr(found, pixels[20:100, 10:110]) > 36
    assert draw_preview(path, 64)[:3] == b"\xff\xd8\xff"


@pytest.mark.parametrize("tag", [1, 3, 6])
def test_a_raw_file_is_developed_to_the_colours_the_camera_saw(tmp_path, tag):
    linear = np.empty((120, 180, 3))
    linear[:, :90], linear[:, 90:] = (0.2, 0.5, 0.1), (0.05, 0.1, 0.4)
    path = samples.raw(tmp_path / "quay.tif", linear, tag)
    facts = look_at(path, most_pixels=10**6)
    assert (facts.format, facts.bits, facts.orientation) == ("raw", 16, 1)
    assert facts.upright == ((120, 180) if tag == 6 else (180, 120))
    assert "sRGB" in (facts.profile or "")
    assert "developed with the camera's white balance" in facts.remarks[0]
    developed = open_photo(path).image.numpy() / 65535
    corners = {1: (20, 20), 3: (-20, -20), 6: (20, 20)}
    assert developed[corners[tag]] == pytest.approx(srgb((0.2, 0.5, 0.1)), abs=0.002)
    other = {1: (20, -20), 3: (20, 20), 6: (-20, 20)}
    assert developed[other[tag]] == pytest.approx(srgb((0.05, 0.1, 0.4)), abs=0.002)


def test_a_plain_tiff_is_no_raw_file(tmp_path):
    assert kind_of(samples.deep(tmp_path / "deep.tif")) is None
    assert kind_of(samples.photo(tmp_path / "plain.tif")) is None
    assert kind_of(samples.photo(tmp_path / "plain.jpg")) is None


@pytest.mark.parametrize("name", ["photo.heic", "photo.avif", "quay.dng"])
@pytest.mark.parametrize("share", [0.05, 0.5, 0.95])
def test_what_is_cut_short_is_refused_and_nothing_is_drawn(tmp_path, name, share):
    path = tmp_path / name
    if name == "quay.dng":
        samples.raw(path, samples.waves(160, 120) / 255)
    else:
        save(path, np.rint(samples.waves(160, 120)).astype(np.uint8))
    path.write_bytes(path.read_bytes()[: int(path.stat().st_size * share)])

    def take_in():
        look_at(path, most_pixels=10**6)
        draw_preview(path, 64)

    with pytest.raises(PhotoError):
        take_in()


def test_limits_hold_before_anything_is_decoded(tmp_path):
    path = samples.raw(tmp_path / "quay.dng", samples.waves(160, 120) / 255)
    with pytest.raises(PhotoError, match="megapixels; at most"):
        look_at(path, most_pixels=10_000)


def test_without_the_codec_that_may_be_left_out_a_heic_photo_says_so(tmp_path, monkeypatch):
    path = tmp_path / "photo.heic"
    pillow_heif.from_pillow(Image.new("RGB", (64, 48), (90, 120, 150))).save(str(path), quality=90)
    monkeypatch.setitem(sys.modules, "pillow_heif", None)
    load_decoders()  # goes on without it
    with pytest.raises(PhotoError, match="pillow-heif was left out"):
        upright_pixels(path)
