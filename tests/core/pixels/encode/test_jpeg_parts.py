"""A JPEG encoded in parts shows what one encoded at once does."""

from __future__ import annotations

from fractions import Fraction
from io import BytesIO

import numpy as np
import pytest
import pyvips
from hypothesis import given, strategies as st
from numpy.testing import assert_array_equal
from PIL import Image

from oak_ledge.core.pixels.encode import encode as encoding
from oak_ledge.core.pixels.encode.jpeg_parts import rows_at_once
from oak_ledge.core.sizes.file.file_settings import FileSettings
from tests import samples

ANNOUNCED = b"\xff\xdd\x00\x04"  # restart markers
LONG = samples.SRGB + bytes(70_000)  # more than a segment holds
READERS = {
    "Pillow": lambda data: np.asarray(Image.open(BytesIO(data))),
    "libvips": lambda data: pyvips.Image.new_from_buffer(data, "").numpy(),
}


@pytest.mark.parametrize("reader", READERS.values(), ids=READERS)
@pytest.mark.parametrize("bands", [1, 3, 4], ids=["grey", "colour", "see-through"])
@pytest.mark.parametrize("deep", [False, True], ids=["8 bits", "16 bits"])
@pytest.mark.parametrize("quality", [92, 60], ids=["full colour", "halved colour"])
@pytest.mark.parametrize("edges", [(150, 190), (129, 161), (16, 17)])
def test_parts_decode_as_the_whole_does(monkeypatch, reader, bands, deep, quality, edges):
    grain = samples.grain(edges[0], edges[1], bands)
    pixels = grain.astype(np.uint16) * 257 if deep else grain
    settings = FileSettings(quality=quality, fine_colour=False)
    icc = LONG if bands > 1 else None
    whole = encoding.encode(pixels, settings, Fraction(300), icc)
    monkeypatch.setattr(encoding, "rows_at_once", lambda width, height: 16)
    parts = encoding.encode(pixels, settings, Fraction(300), icc)
    assert parts.count(ANNOUNCED) == 1 != whole.count(ANNOUNCED)
    assert parts.count(b"ICC_PROFILE") == whole.count(b"ICC_PROFILE") == (2 if icc else 0)
    assert_array_equal(reader(parts), reader(whole))


@pytest.mark.parametrize("progressive", [True, False])
def test_a_large_picture_is_encoded_in_parts_unless_it_comes_coarse_first(progressive):
    pixels = samples.grain(1300, 900, 1)
    settings = FileSettings(quality=80, progressive=progressive)
    data = encoding.encode(pixels, settings, Fraction(300), None)
    assert (ANNOUNCED in data) is not progressive
    assert READERS["Pillow"](data).shape == (900, 1300)


@given(st.integers(1, 65_500), st.integers(1, 65_500))
def test_no_part_is_longer_than_a_restart_marker_may_wait(width, height):
    rows = rows_at_once(width, height)
    assert rows == height or (rows % 16 == 0 and rows < height)
    if rows < height:
        assert -(-width // 8) * rows // 8 <= 65_535
