"""Marks opened and laid over: the arithmetic of every kind of file, the calmest place, what is refused."""

from __future__ import annotations

import numpy as np
import pytest
from PIL import Image

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.pixels.finish.profile import converted
from oak_ledge.core.pixels.marks.lay import calmest, detail_in, with_mark
from oak_ledge.core.pixels.marks.open_mark import drawn_mark, open_mark
from oak_ledge.core.pixels.open.photo import open_photo
from oak_ledge.core.placements.zones.mark_box import MarkBox
from oak_ledge.core.sizes.file.file_settings import FileSettings
from tests import samples

SVG = '<svg xmlns="http://www.w3.org/2000/svg" {}>{}</svg>'
DISC = '<defs><linearGradient id="g"><stop stop-color="#ff8800"/></linearGradient></defs><rect width="40" height="20" fill="url(#g)" style="fill:url(\'#g\')"/>'


def half_clear(tmp_path):
    """A mark of 40 × 20: its left half red, its right half half clear green."""
    picture = np.zeros((20, 40, 4), np.uint8)
    picture[:, :20] = (255, 0, 0, 255)
    picture[:, 20:] = (0, 255, 0, 128)
    path = tmp_path / "mark.png"
    Image.fromarray(picture).save(path)
    return open_mark(path)


@pytest.mark.parametrize("opacity", [100, 40])
@pytest.mark.parametrize("kind", [np.uint8, np.uint16])
@pytest.mark.parametrize("bands", [1, 2, 3, 4])
def test_it_is_laid_over_in_encoded_values_and_outside_its_box_nothing_changes(
    tmp_path, bands, kind, opacity
):
    mark, box = half_clear(tmp_path), MarkBox(30, 10, 40, 20)
    unit = np.iinfo(kind).max
    under = (samples.grain(100, 50, 4)[..., :bands].astype(np.float64) / 255 * unit).astype(kind)
    if bands in (2, 4):
        under[..., -1] = np.where(np.arange(100) < 50, unit, unit // 2)
    before = under.copy()
    made = with_mark(under, None, mark, box, opacity)
    assert np.array_equal(under, before)
    outside = np.ones((50, 100), np.bool_)
    outside[10:30, 30:70] = False
    assert np.array_equal(made[outside], under[outside])
    assert made.dtype == kind
    alpha = bands in (2, 4)
    for x, colour, share in ((35, (255, 0, 0), 1.0), (65, (0, 255, 0), 128 / 255)):
        share *= opacity / 100
        grey = round(colour[0] * 0.299 + colour[1] * 0.587)
        values = np.array([grey] if bands < 3 else colour) / 255 * unit
        here, old = made[15, x].astype(float), under[15, x].astype(float)
        below = old[-1] / unit if alpha else 1.0
        whole = share + below * (1 - share)
        true = (values * share + old[: len(values)] * below * (1 - share)) / whole
        assert np.abs(here[: len(values)] - true).max() <= unit / 255
        if alpha:
            assert abs(here[-1] - whole * unit) <= unit / 255


@pytest.mark.parametrize("profile", ["p3", "grey", "srgb"])
def test_its_colours_are_those_of_the_files_profile(tmp_path, profile):
    """As if the mark had been a photo's colours: two engines agree to 3 of 255, in grey least."""
    mark, settings = half_clear(tmp_path), FileSettings(profile=profile)
    under, icc = converted(np.full((20, 40, 3), 128, np.uint8), None, settings)
    red, _ = converted(np.full((1, 1, 3), (255, 0, 0), np.uint8), None, settings)
    made = with_mark(under, icc, mark, MarkBox(0, 0, 40, 20), 100)
    assert np.abs(made[10, 5].astype(int) - red[0, 0]).max() <= 3


def test_the_calmest_place_is_the_one_with_the_least_detail():
    pixels = samples.grain(300, 200, 3)
    places = {
        "top-left": MarkBox(10, 10, 60, 30), "top-right": MarkBox(230, 10, 60, 30), "bottom-left": MarkBox(10, 160, 60, 30),
    }  # fmt: skip
    pixels[150:, :100] = 90  # plain
    pixels[:60, 200:] = np.linspace(80, 120, 100).astype(np.uint8)[:, None]  # nearly
    assert calmest(pixels, places) == "bottom-left"
    assert calmest(pixels, places, [MarkBox(0, 150, 20, 20)]) == "top-right"
    assert calmest(pixels, places, [MarkBox(0, 0, 300, 200)]) == "bottom-left"
    assert detail_in(pixels, places["bottom-left"]) == 0
    ramp = np.repeat(np.arange(200, dtype=np.uint8)[None, :, None], 50, 0)
    assert detail_in(ramp, MarkBox(20, 10, 100, 30)) == pytest.approx(1 / 255, rel=0.05)
    deep = ramp.astype(np.uint16) * 257
    assert detail_in(deep, MarkBox(20, 10, 100, 30)) == pytest.approx(1 / 255, rel=0.05)


def test_an_svg_is_drawn_as_large_as_it_is_needed(tmp_path):
    path = tmp_path / "mark.svg"
    path.write_text(SVG.format('viewBox="0 0 40 20" width="40" height="20"', DISC))
    mark = open_mark(path)
    assert (mark.shape, mark.drawn) == ((40, 20), True)
    pixels, _ = drawn_mark(mark, (401, 200))
    assert pixels.shape == (200, 401, 4)
    assert np.abs(pixels[100, 200].astype(int) - (255, 136, 0, 255)).max() <= 1
    with pytest.raises(PhotoError):
        open_photo(path)  # a photo is none, under whatever name


@pytest.mark.parametrize(
    ("name", "data", "why"),
    [
        ("a.svg", SVG.format('width="9" height="9"', "<script>1</script>"), "a <script>"),
        ("a.svg", SVG.format('width="9" height="9"', "<foreignObject/>"), "a <foreignObject>"),
        ("a.svg", SVG.format('width="9" height="9" onload="x()"', ""), "onload"),
        ("a.svg", SVG.format('width="9" height="9"', '<image href="file:///etc/passwd"/>'), "outside it"),
        ("a.svg", SVG.format('width="9" height="9"', '<use href="other.svg#a"/>'), "outside it"),
        ("a.svg", SVG.format('width="9" height="9"', '<image href="data:text/html;base64,AA"/>'), "outside it"),
        ("a.svg", SVG.format('width="9" height="9"', '<rect style="fill:url( \'http://x\')"/>'), "outside it"),
        ("a.svg", SVG.format('width="9" height="9"', "<style>@import 'x';</style>"), "styles refer"),
        ("a.svg", SVG.format('width="9" height="9"', "<style>a{fill:url(//x)}</style>"), "styles refer"),
        ("a.svg", '<?xml-stylesheet href="x.css"?>' + SVG.format('width="9" height="9"', ""), "refused|read"),
        ("a.svg", "<!DOCTYPE svg [<!ENTITY a 'b'>]>" + SVG.format('width="9" height="9"', "&a;"), "document type"),
        ("a.svg", SVG.format('width="100000" height="100000"', ""), "at most 10 megapixels"),
        ("a.svg", SVG.format('width="9" height="9"', "<!--" + "x" * 1_000_001 + "-->"), "larger than 1 MB"),
        ("a.svg", "<html></html>", "no SVG"),
        ("a.svg", "<svg", "no SVG that can be read"),
        ("a.png", b"\x89PNG\r\n\x1a\n" + b"0" * 40, "."),
        ("a.jpg", b"\xff\xd8\xff\xe0" + b"0" * 40, "a PNG, a WebP or an SVG"),
        ("a.txt", "hello", "a PNG, a WebP or an SVG"),
    ],
)  # fmt: skip
def test_what_could_do_harm_or_is_no_mark_is_refused(tmp_path, name, data, why):
    path = tmp_path / name
    path.write_bytes(data if isinstance(data, bytes) else data.encode())
    with pytest.raises(PhotoError, match=why):
        open_mark(path)


def test_a_large_png_is_refused_by_its_header(tmp_path):
    path = tmp_path / "large.png"
    Image.new("L", (4000, 3000)).save(path)
    with pytest.raises(PhotoError, match="at most 10 megapixels"):
        open_mark(path)
    with pytest.raises(PhotoError, match="cannot be opened"):
        open_mark(tmp_path / "none.png")
