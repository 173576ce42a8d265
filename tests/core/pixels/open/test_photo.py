from __future__ import annotations

from io import BytesIO

import numpy as np
import pytest
from PIL import Image

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.pixels.open.facts import look_at
from oak_ledge.core.pixels.open.photo import open_photo
from oak_ledge.core.pixels.show.preview import draw_preview
from tests import samples

MOST = 300_000_000


def take(path):
    """Look at a photo and decode it, as taking one in does."""
    return look_at(path, most_pixels=MOST), draw_preview(path, 256)


@pytest.mark.parametrize("name", list(samples.wrong_files()))
def test_what_cannot_come_in_is_refused_with_its_reason(tmp_path, name):
    data, words = samples.wrong_files()[name]
    path = tmp_path / name
    path.write_bytes(data)
    with pytest.raises(PhotoError, match=words):
        take(path)


@pytest.mark.parametrize("shape", [(9000, 1), (1, 9000), (9000, 5)])
def test_a_picture_of_a_hair_has_a_preview_at_any_edge(tmp_path, shape):
    for name in ("hair.png", "hair.jpg"):
        path = tmp_path / name
        Image.new("RGB", shape).save(path)
        for edge in (16, 512, 2048):
            path.write_bytes(path.read_bytes())
            with Image.open(BytesIO(draw_preview(path, edge))) as shown:
                assert max(shown.size) == edge


def test_the_name_does_not_decide_what_a_file_is(tmp_path):
    path = tmp_path / "really-a.tif"
    path.write_bytes(samples.bytes_of(samples.grain(20, 10), "PNG"))
    assert look_at(path, most_pixels=MOST).format == "PNG"


@pytest.mark.parametrize(
    ("name", "options", "ppi"),
    [
        ("a.jpg", {"dpi": (300, 300)}, 300),
        ("a.jpg", {}, None),
        ("a.png", {"dpi": (300, 300)}, 299.9994),
        ("a.png", {}, None),
        ("a.tif", {"dpi": (240, 240)}, 240),
        ("a.tif", {}, None),
        ("a.webp", {"lossless": True}, None),
    ],
)
def test_facts_are_read_from_each_format(tmp_path, name, options, ppi):
    path = samples.photo(tmp_path / name, 120, 80, **options)
    found = look_at(path, most_pixels=MOST)
    assert (found.width, found.height, found.bits, found.channels) == (120, 80, 8, "RGB")
    assert found.ppi == (None if ppi is None else pytest.approx(ppi))
    assert found.profile is None
    assert found.bytes == path.stat().st_size


def test_a_label_in_centimetres_and_one_in_exif_are_understood(tmp_path):
    exif = Image.Exif()
    exif[282], exif[296] = 100.0, 3
    webp = samples.photo(tmp_path / "a.webp", exif=exif)
    assert look_at(webp, most_pixels=MOST).ppi == pytest.approx(254)
    path = samples.photo(tmp_path / "a.jpg", dpi=(1, 1))
    data = bytearray(path.read_bytes())
    data[13:18] = b"\x02\x00\x76\x00\x76"  # JFIF: 118 dots per centimetre
    path.write_bytes(data)
    assert look_at(path, most_pixels=MOST).ppi == pytest.approx(299.72)


@pytest.mark.parametrize(
    ("tag", "extent"), [(1, (90, 60)), (3, (90, 60)), (6, (90, 60)), (8, (90, 60))]
)
def test_a_photo_is_held_upright_and_its_preview_too(tmp_path, tag, extent):
    pixels = np.zeros((60, 90, 3), np.uint8)
    pixels[:30, :45] = 250  # the upright top left is light
    path = samples.oriented(tmp_path / "a.jpg", pixels, tag)
    assert look_at(path, most_pixels=MOST).upright == extent
    preview = tmp_path / "preview.jpg"
    preview.write_bytes(draw_preview(path, 256))
    with Image.open(preview) as image:
        seen = np.asarray(image)
    assert seen.shape[:2] == (60, 90)
    assert seen[10, 10].mean() > 200 > 60 > seen[50, 80].mean()


def test_a_profile_is_kept_and_named(tmp_path):
    path = samples.photo(tmp_path / "a.jpg", icc_profile=samples.SRGB)
    assert "sRGB" in (look_at(path, most_pixels=MOST).profile or "")
    assert open_photo(path).icc == samples.SRGB
    odd = samples.photo(tmp_path / "odd.jpg", icc_profile=samples.press())
    assert not look_at(odd, most_pixels=MOST).profile_fits
    assert open_photo(odd).icc is None


def test_several_pictures_in_one_file_the_first_is_taken_and_that_is_said(tmp_path):
    path = tmp_path / "pages.tif"
    pages = [Image.new("RGB", (20 + n, 10), (n * 90, 0, 0)) for n in range(3)]
    pages[0].save(path, save_all=True, append_images=pages[1:])
    found = look_at(path, most_pixels=MOST)
    assert found.upright == (20, 10)
    assert found.remarks == ("The file holds 3 pictures; the first was taken.",)


def test_grey_deep_clear_and_press_photos_are_told_apart(tmp_path):
    grey = look_at(samples.save(tmp_path / "g.png", samples.grain(9, 9, 1)), most_pixels=MOST)
    deep = look_at(samples.deep(tmp_path / "d.png"), most_pixels=MOST)
    clear = look_at(samples.save(tmp_path / "c.png", samples.grain(9, 9, 4)), most_pixels=MOST)
    press_path = tmp_path / "p.jpg"
    Image.new("CMYK", (30, 20), (0, 255, 255, 0)).save(press_path)
    press = look_at(press_path, most_pixels=MOST)
    assert (grey.channels, deep.bits, clear.alpha, press.channels) == ("grey", 16, True, "CMYK")
    assert "sRGB" in press.remarks[0]
    red = open_photo(press_path)
    assert red.image.bands == 3
    assert red.image(5, 5)[0] > 180 > 90 > red.image(5, 5)[2]


def test_a_large_photo_is_previewed_small_and_a_small_one_is_not_blown_up(tmp_path):
    for width, height, shown in ((1000, 500, (256, 128)), (100, 50, (100, 50))):
        path = samples.photo(tmp_path / f"{width}.jpg", width, height)
        preview = tmp_path / "preview.jpg"
        preview.write_bytes(draw_preview(path, 256))
        with Image.open(preview) as image:
            assert image.size == shown


def test_a_broken_profile_does_not_keep_a_photo_out(tmp_path):
    path = samples.photo(tmp_path / "a.png", icc_profile=b"nonsense" * 40)
    found = look_at(path, most_pixels=MOST)
    assert found.profile in (None, "an unreadable profile")
    assert draw_preview(path, 256).startswith(b"\xff\xd8")
