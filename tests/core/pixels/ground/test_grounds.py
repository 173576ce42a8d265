from __future__ import annotations

import numpy as np
import pytest
import pyvips
from hypothesis import given, settings, strategies as st
from numpy.testing import assert_array_equal

from oak_ledge.core.errors import SizeError
from oak_ledge.core.pixels.cut.cut import cut
from oak_ledge.core.pixels.encode.image import image_of, with_icc
from oak_ledge.core.pixels.ground.grounds import cut_on_ground
from oak_ledge.core.pixels.open.photo import open_photo
from oak_ledge.core.pixels.render import render
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.sizes.file_geometry import file_pixels
from oak_ledge.core.sizes.ground import GROUNDS
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.core.sizes.text.write import write_size
from tests import samples

OCHRE = "#b9801b"


@pytest.mark.parametrize("bands", [1, 3, 4])
@pytest.mark.parametrize("ground", [ground for ground in GROUNDS if ground != "clear"])
def test_what_the_photo_gives_fills_the_ground_and_changes_none_of_its_pixels(
    tmp_path, ground, bands
):
    photo = samples.grain(60, 40, bands)
    if bands == 4:
        photo[..., 3] = 255
    path = samples.save(tmp_path / "photo.png", photo)
    found = cut_on_ground(open_photo(path), Crop(-20, -30, 100, 90), (100, 90), (60, 40), ground)
    assert_array_equal(found[30:70, 20:80], photo)
    if ground == "edge":
        assert_array_equal(found[30:70, 5], photo[:, 0])
        assert_array_equal(found[80, 20:80], photo[-1])
    if ground == "mirror":
        assert_array_equal(found[30:70, 19::-1], photo[:, :20])
        assert_array_equal(found[70:90, 20:80], photo[:-21:-1])
    if ground == "blur":  # nothing of the grain is left, but its tone
        away = found[2:20, 2:90].astype(float)[..., : min(bands, 3)]
        assert away.std(axis=(0, 1)).max() < photo.std() / 4
        assert abs(away.mean() - photo[..., : min(bands, 3)].mean()) < 25
    turned = Crop(-20, -30, 100, 90, angle=7.0)
    slanted = cut_on_ground(open_photo(path), turned, (100, 90), (60, 40), ground)
    assert slanted.shape == found.shape
    assert (slanted[0, 0] > 0).any()


@pytest.mark.parametrize("deep", [False, True])
@pytest.mark.parametrize(("left", "top"), [(-7, -5), (-7, 0), (12, -9), (30, 22), (-80, 3)])
def test_unscaled_on_whole_pixels_the_photo_is_copied_and_the_rest_is_ground(
    tmp_path, left, top, deep
):
    if deep:
        path = samples.deep(tmp_path / "photo.tif")
        photo = pyvips.Image.new_from_file(str(path)).numpy()
    else:
        photo = samples.grain(60, 40)
        path = samples.save(tmp_path / "photo.png", photo)
    top_value = 65535 if deep else 255
    true = np.full((44, 66, 3), top_value, photo.dtype)
    for y in range(44):
        for x in range(66):
            if 0 <= y + top < 40 and 0 <= x + left < 60:
                true[y, x] = photo[y + top, x + left]
    found = cut_on_ground(open_photo(path), Crop(left, top, 66, 44), (66, 44), (60, 40), "#ffffff")
    assert_array_equal(found, true)


@settings(max_examples=60)
@given(st.data())
def test_any_crop_beyond_the_photo_is_exactly_as_large_as_asked(tmp_path_factory, data):
    bands = data.draw(st.sampled_from([1, 3, 4]))
    path = tmp_path_factory.mktemp("ground") / "grain.png"
    samples.save(path, samples.grain(60, 40, bands))
    far, wide = st.floats(-90, 60), st.floats(1, 200)
    crop = Crop(data.draw(far), data.draw(far), data.draw(wide), data.draw(wide))
    out = data.draw(st.tuples(st.integers(1, 130), st.integers(1, 130)))
    if crop.right < 1 or crop.bottom < 1 or crop.left > 59 or crop.top > 39:
        return  # the photo is always seen
    found = cut_on_ground(open_photo(path), crop, out, (60, 40), "#ffffff")
    assert found.shape == (out[1], out[0], bands)


def test_beside_the_photo_nothing_of_it_changes_and_its_edge_is_blended_by_what_it_covers(tmp_path):
    path = samples.save(tmp_path / "even.png", np.full((40, 60, 3), 40, np.uint8))
    # three output pixels to one of the photo, its left edge 1/4 into an output pixel
    crop, out = Crop(-10.25, -4, 40, 30), (120, 90)
    found = cut_on_ground(open_photo(path), crop, out, (60, 40), OCHRE)
    assert_array_equal(found[:12, :], np.broadcast_to((185, 128, 27), (12, 120, 3)))
    row = found[50]
    assert_array_equal(row[:30], np.broadcast_to((185, 128, 27), (30, 3)))
    assert_array_equal(row[31:], np.full((89, 3), 40))
    assert_array_equal(row[30], np.rint(0.25 * 40 + 0.75 * np.array((185, 128, 27))))


def test_where_the_photo_lies_its_pixels_are_those_of_a_plain_cut(tmp_path):
    path = samples.photo(tmp_path / "waves.png", 240, 180)
    crop = Crop(-60, -20, 360, 240)  # reduced by 1.5; the photo begins on a whole output pixel
    found = cut_on_ground(open_photo(path), crop, (240, 160), (240, 180), OCHRE)
    inside = cut(open_photo(path), Crop(0, 1, 240, 177), (160, 118), (240, 180))
    difference = np.abs(found[14:132, 40:200].astype(int) - inside)
    assert difference[3:-3, 3:-3].max() <= 2


def test_a_grey_photo_stands_on_a_colour(tmp_path):
    path = samples.save(tmp_path / "grey.png", np.full((40, 60, 1), 90, np.uint8))
    opened = open_photo(path, colours=True)
    found = cut_on_ground(opened, Crop(-20, 0, 100, 40), (100, 40), (60, 40), OCHRE)
    assert_array_equal(found[20, 5], (185, 128, 27))
    assert np.abs(found[20, 50].astype(int) - 90).max() <= 1


def test_the_ground_is_laid_down_in_the_photos_own_profile(tmp_path):
    plain = pyvips.Image.black(60, 40, bands=3).copy(interpretation="srgb")
    wide = plain.icc_export(output_profile="p3")
    path = tmp_path / "wide.png"
    wide.write_to_file(str(path))
    opened = open_photo(path)
    found = cut_on_ground(opened, Crop(-20, 0, 100, 40), (100, 40), (60, 40), OCHRE)
    assert tuple(found[20, 5]) != (185, 128, 27)
    back = with_icc(image_of(found), opened.icc).icc_transform("srgb", embedded=True).numpy()
    assert np.abs(back[20, 5].astype(int) - (185, 128, 27)).max() <= 2


@pytest.mark.parametrize("bands", [1, 3, 4])
@pytest.mark.parametrize("deep", [False, True])
def test_beyond_the_photo_it_is_clear_by_what_the_photo_does_not_cover(tmp_path, bands, deep):
    grain = samples.grain(60, 40, bands)
    photo = grain.astype(np.uint16) * np.uint16(257) if deep else grain
    top = np.iinfo(photo.dtype).max
    if bands == 4:
        photo[..., 3] = top // 2
    whole = top // 2 if bands == 4 else top
    path = tmp_path / "photo.png"
    image_of(photo, None).write_to_file(str(path))
    crop = Crop(-20.25, -30, 100.25, 90)  # a quarter of a pixel at the left
    found = cut_on_ground(open_photo(path), Crop(-20, -30, 100, 90), (100, 90), (60, 40), "clear")
    colours = bands - (bands == 4)
    assert found.shape == (90, 100, colours + 1)
    assert_array_equal(found[30:70, 20:80, :colours], photo[..., :colours])
    assert (found[30:70, 20:80, -1] == whole).all()
    found[30:70, 20:80, -1] = 0
    assert not found[..., -1].any()
    across = cut_on_ground(open_photo(path), crop, (401, 360), (60, 40), "clear")
    assert (across[200, 81:300, -1] == whole).all()
    half = cut_on_ground(
        open_photo(path), Crop(-20.5, -30, 100, 90), (100, 90), (60, 40), "clear", "nearest"
    )
    assert half[40, 20, -1] == np.rint(whole / 2)  # half of it lies on the photo
    assert half[40, 80, -1] == np.rint(whole / 2)
    turned = Crop(-20, -30, 100, 90, angle=7.0)
    slanted = cut_on_ground(open_photo(path), turned, (100, 90), (60, 40), "clear")
    assert slanted.shape == found.shape
    assert slanted[0, 0, -1] == 0
    assert slanted[50, 50, -1] == whole


@pytest.mark.parametrize(
    ("text", "why"),
    [
        (
            "8x10in@300 extend on clear jpeg",
            "a JPEG holds nothing clear: choose PNG, TIFF, WebP or AVIF",
        ),
        ("8x10in@300 extend on transparent", "what the ground is stands behind"),
        ("8x10in@300 wrap 3cm sides clear", "isn't understood"),
    ],
)
def test_clear_goes_only_where_a_file_can_be(text, why):
    with pytest.raises(SizeError, match=why):
        read_size(text)


def test_a_clear_piece_holds_no_picture_where_it_is_clear_and_its_border_is_clear_too(tmp_path):
    asked = read_size("120x120px extend on clear border 10px")
    assert (asked.file.format, write_size(asked)) == (
        "png",
        "120x120px extend on clear border 10px",
    )
    path = samples.save(tmp_path / "photo.png", samples.grain(60, 40, 3))
    lying = lying_on(asked, (60, 40), suggest(asked, (60, 40)))
    whole, _ = render(
        path, asked, lying.crop, lying.asked, lying.surface, sides=file_pixels(asked, lying.asked)
    )
    assert whole.shape == (120, 120, 4)
    opaque = whole[..., 3] > 0
    assert opaque[60, 60]
    assert not opaque[:10].any()
    assert len(np.unique(whole[~opaque], axis=0)) == 1
