"""Measured = asked, for pixels and resolution, in every format."""

from __future__ import annotations

import itertools
import struct
from fractions import Fraction
from io import BytesIO

import numpy as np
import pytest
import pyvips
from hypothesis import given, strategies as st
from PIL import Image

from oak_ledge.core.errors import FileError, SizeTextError
from oak_ledge.core.files.density import holdable_ppi
from oak_ledge.core.files.proof import Measured, asked_of, differences, prove
from oak_ledge.core.pixels.encode.encode import encode, encode_preview
from oak_ledge.core.pixels.encode.exif import NOTHING, Metadata
from oak_ledge.core.pixels.open.facts import look_at
from oak_ledge.core.pixels.prove.measure import measure
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.core.sizes.file_geometry import border_box
from tests import samples, strategies
from tests.samples import size


@strategies.often(500)
@given(strategies.exact_sizes(), strategies.extents)
def test_the_pixels_of_any_size_on_any_photo_are_those_asked(asked, extent):
    placement = suggest(asked, extent)
    W, H = lying_on(asked, extent, placement).asked
    crop = lying_on(asked, extent, placement).crop
    wanted = asked_of(asked, (W, H))
    turned = extent[::-1]
    other = asked_of(asked, lying_on(asked, turned, suggest(asked, turned)).asked)
    assert {wanted.width, wanted.height} == {other.width, other.height}
    left, top, right, bottom = border_box(asked)  # all 0 without a border
    assert (wanted.width, wanted.height) == (W + left + right, H + top + bottom)
    assert W * float(asked.dot) / crop.width == pytest.approx(H / crop.height, rel=1e-9)


KINDS = ["jpeg", "png", "tiff", "webp", "avif"]
LOSSY = ("jpeg", "webp", "avif")


@given(strategies.resolutions, st.sampled_from(KINDS))
def test_a_format_holds_a_resolution_to_within_its_own_step(ppi, kind):
    step = {"jpeg": 0.5, "png": 0.0127}.get(kind, 1e-9)
    extent = holdable_ppi(ppi, kind)
    assert abs(extent - float(ppi)) <= max(step, 0.0127 if ppi < 1 else 0) + 1e-9


FILES = [
    # bands, 16 bit, ppi: each in every format
    (3, False, "300"),
    (3, False, None),
    (3, False, "299.9994"),
    (1, False, "240"),
    (4, False, "72"),
    (2, False, None),
    (3, True, "1200"),
    (1, True, "118.11"),
    (4, True, "300"),
]


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize(("bands", "is_deep", "ppi"), FILES)
def test_a_file_measures_what_was_asked_of_it(tmp_path, kind, bands, is_deep, ppi):
    rng = np.random.default_rng(bands)
    top = 65536 if is_deep else 256
    pixels = rng.integers(0, top, (34, 55, bands), dtype=np.uint16 if is_deep else np.uint8)
    asked_size = size("55x34px", ppi=ppi, file={"format": kind})
    asked = asked_of(asked_size, (55, 34))
    path = tmp_path / "file"
    icc = samples.SRGB if bands > 2 else None
    path.write_bytes(encode(pixels, asked_size.file, asked_size.ppi, icc))
    measured = measure(path)
    assert differences(asked_size, asked, measured) == ()
    assert (measured.width, measured.height, measured.format) == (55, 34, kind)
    assert measured.bits == (16 if is_deep and kind not in LOSSY else 8)
    assert ("sRGB" in (measured.profile or "")) == (bands > 2)
    # a second reader, and no value changed where the format loses none
    again = pyvips.Image.new_from_file(str(path))
    assert (again.width, again.height) == (55, 34)
    if ppi is not None and kind not in ("webp", "avif"):  # whose EXIF libvips does not count
        assert again.xres * 25.4 == pytest.approx(float(Fraction(ppi)), abs=0.5)
    if kind not in LOSSY:
        assert (again.numpy().reshape(pixels.shape) == pixels).all()


def test_where_no_resolution_was_given_no_reader_finds_one(tmp_path):
    answer = Metadata(ifd0={33432: "the studio"}, exif={36867: "2026:10:31 18:00:00"})
    for kind, about in itertools.product(KINDS, (NOTHING, answer)):
        path = tmp_path / f"a.{kind}"
        data = encode(samples.grain(20, 10), FileSettings(format=kind), None, None, about)
        path.write_bytes(data)
        assert measure(path).ppi is None
        with Image.open(path) as image:
            if kind != "jpeg" or about is NOTHING:  # Pillow itself takes 72 for a silent EXIF
                assert "dpi" not in image.info
            assert 282 not in image.getexif() or image.getexif()[296] == 1
            assert image.getexif().get(33432) == about.ifd0.get(33432)


@pytest.mark.parametrize(
    ("ppi", "density", "unit"),
    [("300", 300, 1), ("299.6", 300, 1), ("304.8", 120, 2), ("0.3", 1, 1), ("100000", 39370, 2)],
)
def test_a_jpeg_says_its_resolution_as_exactly_as_each_of_its_blocks_can(
    tmp_path, ppi, density, unit
):
    path = tmp_path / "print.jpg"
    path.write_bytes(encode(samples.grain(20, 10), FileSettings(), Fraction(ppi), None))
    with Image.open(path) as image:
        assert (image.info["jfif_density"], image.info["jfif_unit"]) == ((density,) * 2, unit)
        assert (Fraction(image.getexif()[282]), image.getexif()[296]) == (Fraction(ppi), 2)
    asked = size("100x200px", ppi=ppi)
    wanted = asked_of(asked, (20, 10))
    assert differences(asked, wanted, measure(path)) == ()


def test_a_resolution_of_nought_is_none(tmp_path):
    path = tmp_path / "nought.jpg"
    data = bytearray(encode(samples.grain(20, 10), FileSettings(), Fraction(300), None))
    at = data.index(b"JFIF") + 8
    data[at : at + 4] = bytes(4)
    path.write_bytes(data.replace(struct.pack("<II", 300, 1), bytes(8)))
    assert measure(path).ppi is None
    assert look_at(path, most_pixels=1000).ppi is None


def test_transparent_parts_become_white_in_a_jpeg_and_nothing_else_does():
    clear = np.zeros((16, 16, 4), np.uint8)
    clear[:, 8:] = (10, 60, 50, 255)
    found = pyvips.Image.new_from_buffer(
        encode(clear, FileSettings(quality=100), None, None), ""
    ).numpy()
    assert (found[:, :6] >= 253).all()
    assert np.abs(found[:, 10:].astype(int) - (10, 60, 50)).max() <= 4


@pytest.mark.parametrize(("kind", "most"), [("jpeg", 65_500), ("webp", 16_383), ("avif", 16_384)])
def test_an_edge_too_long_for_a_format_is_refused_with_a_way_out(kind, most):
    with pytest.raises(
        FileError, match=rf"at most {most} px on an edge, not {most + 1}. Choose PNG"
    ):
        encode(np.zeros((1, most + 1, 1), np.uint8), FileSettings(format=kind), None, None)


def test_a_jpeg_stores_colour_at_every_pixel_and_coarse_first_on_wish():
    pixels = np.zeros((64, 64, 3), np.uint8)
    pixels[:, ::2] = (255, 0, 0)  # red lines a pixel wide
    plain = encode(pixels, FileSettings(quality=80), None, None)
    fine = encode(pixels, FileSettings(quality=80, fine_colour=True), None, None)

    def redness(data):
        with Image.open(BytesIO(data)) as image:
            found = np.asarray(image).astype(int)
        return np.abs(found - pixels).mean()

    assert redness(fine) < redness(plain) / 3
    with Image.open(BytesIO(encode(pixels, FileSettings(progressive=True), None, None))) as image:
        assert image.info.get("progressive")


def test_a_tiff_is_packed_as_asked_and_loses_nothing(tmp_path):
    pixels = np.rint(samples.waves(200, 100)).astype(np.uint8)
    for compression, number in (("lzw", 5), ("deflate", 8)):
        data = encode(pixels, FileSettings(format="tiff", compression=compression), None, None)
        with Image.open(BytesIO(data)) as image:
            assert image.getexif()[259] == number
            assert (np.asarray(image) == pixels).all()


@pytest.mark.parametrize("share", [0.999, 0.8, 0.5])
def test_a_jpeg_is_made_at_the_highest_quality_that_fits(share):
    pixels = np.rint(samples.waves(300, 200)).astype(np.uint8)
    pixels[::3] ^= samples.grain(300, 67) >> 3
    sizes = {q: len(encode(pixels, FileSettings(quality=q), None, None)) for q in range(60, 93)}
    most = int(sizes[92] * share)
    found = len(encode(pixels, FileSettings(at_most=most), None, None))
    assert found == max(size for size in sizes.values() if size <= most)


def test_bytes_that_cannot_be_kept_are_refused_with_what_would_do():
    pixels = samples.grain(300, 200)
    with pytest.raises(
        FileError,
        match=r"even at quality 60 it has .*exceeds the limit of 9 kB.*fewer pixels, such as 1\d\d × 1\d\d",
    ):
        encode(pixels, FileSettings(at_most=9000), None, None)
    with pytest.raises(FileError, match="even at quality 30"):
        encode(pixels, FileSettings(at_most=900, quality=30), None, None)
    with pytest.raises(FileError, match=r"as a PNG, which loses nothing, .*Choose JPEG"):
        encode(pixels, FileSettings(at_most=9000, format="png"), None, None)


@pytest.mark.parametrize(
    ("change", "what"),
    [({"width": 54}, "pixels"), ({"ppi": 72.0}, "resolution"), ({"ppi": None}, "resolution"),
     ({"format": "png"}, "kind"), ({"bytes": 10**9}, "bytes")],
)  # fmt: skip
def test_every_figure_that_differs_is_named(tmp_path, change, what):
    asked_size = size("2x1in@30")
    asked = asked_of(asked_size, (60, 30)).model_copy(update={"at_most": 10**6})
    path = tmp_path / "file.jpg"
    path.write_bytes(encode(samples.grain(60, 30), asked_size.file, asked_size.ppi, None))
    measured = measure(path)
    assert differences(asked_size, asked, measured) == ()
    wrong = measured.model_copy(update=change)
    assert what in {line.what for line in prove(asked_size, asked, wrong) if line.same is False}


def test_the_proof_says_what_whole_pixels_really_measure():
    asked_size = size("21x29.7cm@300")
    asked = asked_of(asked_size, (2480, 3508))
    measured = {"width": 2480, "height": 3508, "ppi": 300.0, "bytes": 9, "format": "jpeg",
                "profile": None, "bits": 8}  # fmt: skip
    lines = {line.what: line for line in prove(asked_size, asked, Measured(**measured))}
    assert lines["physical size"].asked == "21 × 29.7 cm"
    assert lines["physical size"].measured == "20.997 × 29.701 cm"
    assert lines["physical size"].same
    short = prove(asked_size, asked, Measured(**measured | {"height": 3400}))
    assert not next(line for line in short if line.what == "physical size").same


def test_a_file_that_cannot_be_read_back_is_told(tmp_path):
    path = tmp_path / "broken.jpg"
    data = encode(samples.grain(200, 100), FileSettings(), None, None)
    path.write_bytes(data[: len(data) // 2])
    with pytest.raises(FileError, match=r"broken\.jpg cannot be read back from disk"):
        measure(path)


def test_a_preview_is_srgb_whatever_profile_the_pixels_have():
    pixels = np.full((8, 8, 3), (0, 255, 0), np.uint8)
    p3 = (
        pyvips.Image.black(1, 1, bands=3)
        .copy(interpretation="srgb")
        .icc_export(output_profile="p3")
    )
    icc = p3.get("icc-profile-data")
    plain = pyvips.Image.new_from_buffer(encode_preview(pixels // 2, None), "").numpy()
    wide = pyvips.Image.new_from_buffer(encode_preview(pixels // 2, icc), "").numpy()
    assert wide[4, 4, 1] > plain[4, 4, 1]  # Display P3's green is stronger than sRGB's


@pytest.mark.parametrize("kind", ["png", "tiff"])
@pytest.mark.parametrize(("bands", "alpha"), [(1, False), (3, False), (2, True), (4, True)])
def test_the_depth_asked_for_is_the_depth_made(kind, bands, alpha):
    shallow = np.random.default_rng(3).integers(0, 256, (21, 30, bands)).astype(np.uint8)
    deep = (shallow.astype(np.uint16) * 257).astype(np.uint16)
    for pixels, bits, made in (
        (shallow, 16, 16),
        (deep, 8, 8),
        (shallow, None, 8),
        (deep, None, 16),
    ):
        data = encode(pixels, FileSettings(format=kind, bits=bits), None, None)
        back = pyvips.Image.new_from_buffer(data, "").numpy().reshape(pixels.shape)
        assert back.dtype == (np.uint16 if made == 16 else np.uint8)
        assert np.array_equal(back, deep if made == 16 else shallow)


def test_a_file_of_other_bits_than_asked_is_told():
    asked_size = size("60x40px png 16 bit")
    asked = asked_of(asked_size, (60, 40))
    shallow = Measured(width=60, height=40, ppi=None, bytes=900, format="png", profile=None, bits=8)
    (line,) = [line for line in prove(asked_size, asked, shallow) if line.same is False]
    assert (line.asked, line.measured) == ("PNG, 16 bit", "PNG, 8 bit")
    with pytest.raises(SizeTextError, match="16 bit goes into PNG and TIFF; a JPEG holds 8"):
        size("60x40px jpeg 16 bit")
