"""A photo is read whole or not at all: every format, cut anywhere, by every way in."""

from __future__ import annotations

import struct
from io import BytesIO

import numpy as np
import pillow_heif
import pytest
import pyvips
from PIL import Image

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.pixels.open.facts import look_at
from oak_ledge.core.pixels.open.photo import open_photo, upright_pixels
from tests import samples

GRAIN = samples.grain(150, 100)


def by_pillow(kind, **options):
    return samples.bytes_of(GRAIN, kind, **options)


def by_vips(ending, **options):
    image = pyvips.Image.new_from_array(GRAIN, interpretation="srgb")
    return image.write_to_buffer(ending, **options)


def heic():
    buffer = BytesIO()
    pillow_heif.from_pillow(Image.fromarray(GRAIN)).save(buffer, format="HEIF", quality=90)
    return buffer.getvalue()


FILES = {
    "JPEG": lambda: by_pillow("JPEG", quality=95),
    "JPEG, progressive": lambda: by_pillow("JPEG", progressive=True),
    "PNG": lambda: by_pillow("PNG"),
    "PNG, interlaced": lambda: by_vips(".png", interlace=True),
    "WebP": lambda: by_pillow("WEBP"),
    "WebP, lossless": lambda: by_pillow("WEBP", lossless=True),
    "AVIF": lambda: by_vips(".avif"),
    "HEIC": heic,
    "TIFF, index last": lambda: by_vips(".tif"),
    "TIFF, index first": lambda: by_pillow("TIFF"),
    "TIFF, tiles": lambda: by_vips(".tif", tile=True, tile_width=16, tile_height=16),
    "TIFF, several sizes": lambda: by_vips(".tif", tile=True, tile_width=16, tile_height=16, pyramid=True),
    "TIFF, LZW": lambda: by_vips(".tif", compression="lzw"),
    "TIFF, deflate": lambda: by_pillow("TIFF", compression="tiff_adobe_deflate"),
    "TIFF, PackBits": lambda: by_pillow("TIFF", compression="packbits"),
    "TIFF, JPEG within": lambda: by_pillow("TIFF", compression="jpeg"),
    "TIFF, WebP within": lambda: by_vips(".tif", compression="webp"),
    "BigTIFF": lambda: by_vips(".tif", bigtiff=True),
}  # fmt: skip


@pytest.mark.parametrize("share", [0.05, 0.3, 0.6, 0.9, 0.995, "all but a byte"])
@pytest.mark.parametrize("name", FILES)
def test_a_file_that_is_cut_short_is_refused(tmp_path, name, share):
    whole = FILES[name]()
    left = len(whole) - 1 if isinstance(share, str) else int(len(whole) * share)
    path = tmp_path / "quay"
    path.write_bytes(whole[:left])
    with pytest.raises(PhotoError, match="cut short"):
        look_at(path, most_pixels=10**6)
    with pytest.raises(PhotoError, match="cut short"):  # also one that was taken before
        open_photo(path)


@pytest.mark.parametrize("name", FILES)
def test_a_whole_file_is_read(tmp_path, name):
    path = tmp_path / "quay"
    behind = b"" if name in ("AVIF", "HEIC") else b"a word behind it"  # some cameras write one
    path.write_bytes(FILES[name]() + behind)
    assert look_at(path, most_pixels=10**6).width == 150
    assert upright_pixels(path).shape == (100, 150, 3)


def test_a_raw_file_that_is_cut_short_is_refused(tmp_path):
    path = samples.raw(tmp_path / "quay.dng", np.full((64, 96, 3), 0.5))
    whole = path.read_bytes()
    assert look_at(path, most_pixels=10**6).format == "raw"
    for left in (len(whole) - 1, len(whole) // 2, 600):
        path.write_bytes(whole[:left])
        with pytest.raises(PhotoError, match="cut short"):
            look_at(path, most_pixels=10**6)


def entry(tag, value):
    return struct.pack("<HHII", tag, 4, 1, value)


@pytest.mark.parametrize(
    ("changed", "is_whole"),
    [
        ({}, True),
        ({279: 100}, False),  # its strip is too short for its rows
        ({279: 9_000_000}, False),
        ({273: 4_000_000_000}, False),
        ({257: 4000}, False),  # more rows than are there
        ({278: 8}, False),  # one strip where four are needed
        ({279: None}, True),  # as some scanners write it
    ],
)
def test_a_tiff_that_says_more_than_it_holds_is_refused(tmp_path, changed, is_whole):
    tags = {256: 40, 257: 30, 258: 8, 259: 1, 262: 1, 273: 200, 277: 1, 278: 30, 279: 1200}
    entries = [entry(tag, value) for tag, value in (tags | changed).items() if value is not None]
    head = b"II*\0" + struct.pack("<IH", 8, len(entries)) + b"".join(entries) + bytes(4)
    path = tmp_path / "scan.tif"
    path.write_bytes(head.ljust(200, b"\0") + bytes(range(240)) * 5)
    if is_whole:
        assert upright_pixels(path).shape == (30, 40, 1)
    else:
        with pytest.raises(PhotoError, match="cut short"):
            look_at(path, most_pixels=10**6)
