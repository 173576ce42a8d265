"""Squared-up pieces for the screen: like those of files at every size, however steep, also beyond the photo."""

from __future__ import annotations

import numpy as np
import pytest
from PIL import Image, ImageFilter

from oak_ledge.core.pixels.cut.draft import draft, finest_step, is_steep
from oak_ledge.core.pixels.cut.warp import warp
from oak_ledge.core.pixels.open.photo import open_photo
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.planes.surface import squared_over
from tests import samples
from tests.core.pixels.cut.test_cut import psnr

WIDE, HIGH = 750, 500
STEEP = ((225, 100), (450, 100), (600, 450), (75, 450))
FLAT = ((75, 60), (660, 75), (675, 440), (60, 430))


@pytest.fixture(scope="module")
def photo(tmp_path_factory):
    soft = Image.fromarray(samples.grain(WIDE, HIGH)).filter(ImageFilter.GaussianBlur(2))
    return samples.save(tmp_path_factory.mktemp("draft") / "quay.png", np.asarray(soft))


@pytest.mark.parametrize("edge", [16, 32, 75, 150, 225, 400])
@pytest.mark.parametrize("border", ["edge", "mirror"])
@pytest.mark.parametrize(("corners", "beyond"), [(FLAT, 1.0), (FLAT, 1.3), (STEEP, 2.0)])
def test_a_draft_is_like_the_file_at_every_size(photo, corners, beyond, border, edge):
    plane = squared_over((600, 480), corners, (WIDE, HIGH))
    wide, high = 600 * beyond, 480 * beyond
    crop = Crop(300 - wide / 2, 240 - high / 2, wide, high)
    asked = (edge, round(edge * 0.8))
    matrix = plane.onto @ crop.matrix(asked)
    drawn = draft(open_photo(photo), matrix, asked, (WIDE, HIGH), border)
    exact = warp(open_photo(photo), matrix, asked, (WIDE, HIGH), border=border)
    assert drawn.shape == exact.shape
    middle = (slice(asked[1] // 4, -asked[1] // 4 or None), slice(edge // 4, -edge // 4))
    assert psnr(drawn[middle].astype(float), exact[middle].astype(float)) > 24


def test_what_is_steep_is_told_and_how_finely_it_shows_its_photo():
    plane = squared_over((600, 480), STEEP, (WIDE, HIGH))
    crop, asked = Crop(-300, -240, 1200, 960), (400, 320)
    matrix = plane.onto @ crop.matrix(asked)
    assert is_steep(matrix, asked, (WIDE, HIGH))
    larger = plane.onto @ crop.matrix((800, 640))
    half = finest_step(larger, (800, 640), (WIDE, HIGH)) / finest_step(matrix, asked, (WIDE, HIGH))
    assert half == pytest.approx(0.5, rel=0.05)
    flat = squared_over((600, 480), FLAT, (WIDE, HIGH)).onto @ Crop(0, 0, 600, 480).matrix(asked)
    assert not is_steep(flat, asked, (WIDE, HIGH))


def test_a_draft_of_clear_parts_keeps_their_colours_out(tmp_path):
    pixels = samples.grain(200, 150)
    clear = np.dstack(
        [pixels, np.where(np.arange(200) < 100, 255, 0)[None].repeat(150, 0).astype(np.uint8)]
    )
    clear[:, 100:, :3] = 255
    path = tmp_path / "clear.png"
    Image.fromarray(clear).save(path)
    matrix = squared_over((160, 120), ((20, 10), (180, 20), (190, 140), (10, 130)), (200, 150)).onto
    drawn = draft(
        open_photo(path), matrix @ Crop(0, 0, 160, 120).matrix((80, 60)), (80, 60), (200, 150)
    )
    assert set(np.unique(drawn[..., 3])) >= {0, 255}
    part = drawn[(drawn[..., 3] > 8) & (drawn[..., 3] < 250)]
    assert len(part)
    assert part[:, :3].mean() < 200, "colours are weighed by what is opaque"
