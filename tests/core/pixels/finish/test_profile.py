from __future__ import annotations

from fractions import Fraction
from io import BytesIO

import numpy as np
import pytest
from numpy.testing import assert_array_equal
from PIL import Image, ImageCms

from oak_ledge.core.errors import FileError, SizeError
from oak_ledge.core.pixels.encode.encode import encode
from oak_ledge.core.pixels.encode.image import image_of, with_icc
from oak_ledge.core.pixels.finish.profile import beyond, converted, marked
from oak_ledge.core.pixels.open.label import profile_name
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.core.sizes.file.profile_file import receiver_profile
from oak_ledge.core.sizes.size import size_from
from oak_ledge.core.sizes.text.read import read_size
from tests import samples


@pytest.mark.parametrize("deep", [False, True])
@pytest.mark.parametrize("bands", [1, 2, 3, 4])
@pytest.mark.parametrize(("profile", "named"), [("srgb", "sRGB"), ("p3", "P3"), ("grey", "Grey")])
def test_a_file_is_converted_to_the_profile_asked_for(bands, deep, profile, named):
    dtype = np.uint16 if deep else np.uint8
    top = np.iinfo(dtype).max
    pixels = np.full((6, 8, bands), top // 2, dtype)
    if bands > 2:
        pixels[..., :3] = np.array([0.2, 0.6, 0.1]) * top
    found, icc = converted(pixels, None, FileSettings(profile=profile))
    alpha = bands in (2, 4)
    assert found.dtype == dtype
    assert found.shape == (6, 8, (1 if profile == "grey" else 3) + alpha)
    if alpha:
        assert (np.abs(found[..., -1].astype(int) - top // 2) <= top // 255).all()
    assert named in profile_name(icc)
    if profile == "srgb":  # what was taken as sRGB does not move
        colours = pixels[0, 0, : bands - alpha]  # a grey one stands for all three
        assert np.abs(found[0, 0, :3].astype(int) - colours).max() <= top // 120
    if profile == "grey" and bands > 2:  # CIE luminance of that green, by hand: 0.2126 R + …
        linear = [0.2126 * 0.0331, 0.7152 * 0.3185, 0.0722 * 0.01]
        expected = 1.055 * sum(linear) ** (1 / 2.4) - 0.055
        assert found[0, 0, 0] / top == pytest.approx(expected, abs=0.02)


def test_the_grey_profile_has_the_tone_curve_of_srgb():
    grey = np.arange(256, dtype=np.uint8).reshape(1, -1, 1)
    _, icc = converted(grey, None, FileSettings(profile="grey"))
    shown = with_icc(image_of(grey), icc).icc_transform("srgb", embedded=True, intent="relative")
    assert np.abs(shown.numpy().astype(int) - grey).max() <= 1


def test_a_profile_that_is_kept_changes_nothing():
    pixels = samples.grain(9, 9)
    found, icc = converted(pixels, samples.SRGB, FileSettings())
    assert_array_equal(found, pixels)
    assert icc == samples.SRGB


@pytest.mark.parametrize("bands", [1, 3, 4])
@pytest.mark.parametrize(
    ("make", "colours", "channels"),
    [(samples.p3, "RGB", 3), (samples.press, "CMYK", 4), (samples.grey_gamma, "grey", 1)],
)
def test_a_file_is_made_in_the_receivers_own_profile(tmp_path, bands, make, colours, channels):
    icc = make()
    answer = receiver_profile("the lab's lustre", icc)
    assert answer.colours == colours
    file = FileSettings(format="tiff", profile="receiver", icc=answer)
    pixels = np.full((20, 30, bands), 180, np.uint8)
    pixels[..., 3:] = 255
    found, embedded = converted(pixels, None, file)
    assert embedded == icc
    assert found.shape[2] == channels + (bands == 4 and colours != "CMYK")
    path = tmp_path / "made.tif"
    path.write_bytes(encode(found, file, Fraction(300), embedded))
    with Image.open(path) as image:
        assert image.info["icc_profile"] == icc
        plain = image.convert({"RGBA": "RGB", "LA": "L"}.get(image.mode, image.mode))
        ways = ImageCms.ImageCmsProfile(BytesIO(icc)), ImageCms.createProfile("sRGB")
        back = ImageCms.profileToProfile(
            plain, *ways, renderingIntent=1, outputMode="RGB", flags=0x2000
        )
    # read by another library, the tone is the one it was, as finely as the profile's tables are
    assert np.abs(np.asarray(back).astype(int) - 180).max() <= (9 if colours == "CMYK" else 2)


def test_what_a_profile_cannot_hold_is_marked():
    wide = np.zeros((40, 60, 3), np.uint8)
    wide[:, :30] = (30, 255, 30)  # a green of Display P3 that sRGB has not
    wide[:, 30:] = (120, 110, 100)
    lost = beyond(wide, samples.p3(), FileSettings(profile="srgb"))
    assert lost is not None
    assert lost[:, :30].all()
    assert not lost[:, 30:].any()
    shown = marked(wide, lost)
    assert_array_equal(shown[:, 30:], wide[:, 30:])
    assert {tuple(p) for p in shown[:, :30].reshape(-1, 3)} > {(0, 0, 0), (255, 255, 255)}
    for holds in (FileSettings(profile="p3"), FileSettings(), FileSettings(profile="grey")):
        assert beyond(wide, samples.p3(), holds) is None


@pytest.mark.parametrize(
    ("icc", "file_format", "why"),
    [
        (b"not a profile", "jpeg", "not a colour profile"),
        (samples.SRGB[:16] + b"XYZ " + samples.SRGB[20:], "jpeg", "neither for RGB"),
        (b"\0" * 4_000_001, "jpeg", "at most 4 MB"),
        (samples.press(), "png", "only JPEG and TIFF"),
    ],
)
def test_a_profile_file_that_cannot_serve_is_refused(icc, file_format, why):
    def taken():
        answer = {"format": file_format, "profile": "receiver", "icc": receiver_profile("lab", icc)}
        return size_from(dict(read_size("8x10in@300")) | {"file": answer})

    with pytest.raises(SizeError, match=why):
        taken()


def test_a_profile_that_only_looks_like_one_fails_by_name():
    broken = samples.SRGB[:132] + b"\xff" * (len(samples.SRGB) - 132)
    file = FileSettings(profile="receiver", icc=receiver_profile("lab lustre", broken))
    with pytest.raises(FileError, match="lab lustre can't be used"):
        converted(samples.grain(9, 9), None, file)
