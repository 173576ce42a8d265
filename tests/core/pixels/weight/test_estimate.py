from __future__ import annotations

import pytest

from oak_ledge.core.pixels.cut.cut import cut
from oak_ledge.core.pixels.encode.encode import encode
from oak_ledge.core.pixels.open.facts import look_at
from oak_ledge.core.pixels.open.photo import open_photo
from oak_ledge.core.pixels.weight.byte_limit import fitting_quality
from oak_ledge.core.pixels.weight.estimate import (
    WHOLE_PICTURE,
    Weights,
    estimate,
    part_in,
    weigh,
)
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.planes.surface import PlainSurface
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.demo.fill import PHOTOS
from tests import samples


@pytest.mark.thorough
@pytest.mark.parametrize("name", ["glass-float", "lantern-pole"])
def test_bytes_are_estimated_to_within_a_quarter(name):
    path = PHOTOS / f"{name}.jpg"
    weights = weigh(path)
    assert Weights.model_validate_json(weights.model_dump_json()) == weights
    extent = look_at(path, most_pixels=10**9).upright
    corner = (0.5, 0.4, 1.0, 1.0)
    for scale, settings, part in [
        (0.2, FileSettings(), WHOLE_PICTURE),
        (0.5, FileSettings(quality=70), WHOLE_PICTURE),
        (0.5, FileSettings(format="png"), WHOLE_PICTURE),
        (0.5, FileSettings(format="tiff"), WHOLE_PICTURE),
        (1.0, FileSettings(), WHOLE_PICTURE),
        (1.0, FileSettings(), corner),
        (0.5, FileSettings(), corner),
        (1.3, FileSettings(quality=85), WHOLE_PICTURE),
    ]:
        left, top = round(part[0] * extent[0]), round(part[1] * extent[1])
        crop = Crop(left, top, extent[0] - left, extent[1] - top)
        asked = (round(crop.width * scale), round(crop.height * scale))
        opened = open_photo(path)
        pixels = cut(opened, crop, asked, extent)
        assert part_in(crop, PlainSurface(extent), 1) == pytest.approx(part, abs=1e-3)
        true = len(encode(pixels, settings, None, opened.icc))
        assert estimate(weights, asked, scale, settings, part) == pytest.approx(true, rel=0.25)


@pytest.mark.thorough
@pytest.mark.parametrize("share", [1.2, 0.8, 0.5])
def test_the_quality_that_fits_is_foretold_to_within_a_few_steps(share):
    path = PHOTOS / "glass-float.jpg"
    weights, asked = weigh(path), (900, 600)
    opened = open_photo(path)
    pixels = cut(opened, Crop(0, 0, 3600, 2400), asked, (3600, 2400))
    sizes = {
        q: len(encode(pixels, FileSettings(quality=q), None, opened.icc)) for q in range(60, 93)
    }
    most = round(sizes[92] * share)
    answer = fitting_quality(weights, asked, 0.25, FileSettings(at_most=most))
    true = max((q for q, count in sizes.items() if count <= most), default=None)
    assert answer is not None
    assert true is not None
    assert abs(answer - true) <= 6
    assert fitting_quality(weights, asked, 0.25, FileSettings(at_most=2000)) is None
    png = FileSettings(format="png", at_most=2000)
    assert fitting_quality(weights, asked, 0.25, png) is None
    assert fitting_quality(weights, asked, 0.25, FileSettings()) == 92


@pytest.mark.parametrize(
    ("name", "grain"),
    [
        ("deep.tif", None),
        ("grey.png", (90, 90, 1)),
        ("alpha.png", (90, 90, 4)),
        ("tiny.png", (3, 3)),
        ("strip.png", (20_000, 20)),  # longer than some formats hold, at 2 : 1
        ("tall.png", (1, 100_000)),  # than all do
    ],
)
def test_every_kind_of_photo_can_be_weighed(tmp_path, name, grain):
    path = tmp_path / name
    if grain is None:
        samples.deep(path)
    else:
        samples.save(path, samples.grain(*grain))
    weights = weigh(path)
    settings = FileSettings(at_most=900)
    assert estimate(weights, (90, 90), 1.0, FileSettings()) > 0
    assert estimate(weights, (90, 90), 1.0, settings) <= 900
    finer = estimate(weights, (90, 90), 1.0, FileSettings(quality=100))
    assert finer > estimate(weights, (90, 90), 1.0, FileSettings(quality=40))
