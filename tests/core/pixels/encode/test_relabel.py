"""Another label, the same pixel data: read by hand, by Pillow and by libvips."""

from __future__ import annotations

from fractions import Fraction
from io import BytesIO

import numpy as np
import pytest
import pyvips
from hypothesis import given, strategies as st
from PIL import Image

from oak_ledge.core.pixels.encode.jpeg import segment
from oak_ledge.core.pixels.encode.relabel import relabelled_jpeg
from oak_ledge.core.pixels.prove.measure import measure
from tests import samples


def exif_of(**tags) -> Image.Exif:
    exif = Image.Exif()
    exif[0x010F] = "Quay camera"
    exif[0x8298] = "© the studio, Müritz"
    for tag, value in tags.items():
        exif[int(tag[1:])] = value
    exif.get_ifd(0x8769)[0x9003] = "2026:10:31 18:00:00"
    exif.get_ifd(0x8825)[1] = "N"
    return exif


def jpeg(**options) -> bytes:
    return samples.bytes_of(samples.grain(64, 40), "JPEG", quality=90, **options)


def without_jfif(data: bytes) -> bytes:
    assert data[2:4] == b"\xff\xe0"
    return data[:2] + data[4 + int.from_bytes(data[4:6], "big") :]


JPEGS = {
    "plain": jpeg(),
    "labelled": jpeg(dpi=(72, 72)),
    "exif": jpeg(exif=exif_of(), dpi=(300, 300)),
    "exif with its own label": jpeg(exif=exif_of(t282=72.0, t283=72.0, t296=2)),
    "camera": without_jfif(jpeg(exif=exif_of(t274=6, t282=180.0, t283=180.0, t296=2))),
    "per centimetre": jpeg(exif=exif_of(t274=8, t282=118.0, t283=118.0, t296=3)),
    "profile": jpeg(icc_profile=samples.SRGB, exif=exif_of(t274=3)),
    "progressive": jpeg(progressive=True),
    "grey": samples.bytes_of(samples.grain(64, 40, 1), "JPEG"),
}


def scan_of(data: bytes) -> bytes:
    return data[data.index(b"\xff\xda") :]


@pytest.mark.parametrize("name", list(JPEGS))
@pytest.mark.parametrize("ppi", [Fraction(300), Fraction("99.5"), None])
def test_the_label_changes_and_nothing_else(tmp_path, name, ppi):
    before = JPEGS[name]
    after = relabelled_jpeg(before, ppi)
    assert after is not None
    assert scan_of(after) == scan_of(before)
    path = tmp_path / "relabelled.jpg"
    path.write_bytes(after)
    label = None if ppi is None else float(ppi)
    assert measure(path).ppi == label
    density = {300.0: 300, 99.5: 100}.get(label)
    with Image.open(BytesIO(before)) as old, Image.open(path) as new:
        kept, found = old.getexif(), new.getexif()
        assert new.info.get("jfif_density", (1, 1)) == ((density, density) if label else (1, 1))
        for tag in (282, 283, 296):
            kept.pop(tag, None)
            value = found.pop(tag, None)
            assert value == (None if label is None else 2 if tag == 296 else label)
        assert dict(found) == dict(kept)
        for directory in (0x8769, 0x8825):
            assert found.get_ifd(directory) == kept.get_ifd(directory)
        assert new.info.get("icc_profile") == old.info.get("icc_profile")
        assert np.array_equal(np.asarray(new), np.asarray(old))
    if label is not None:
        again = pyvips.Image.new_from_file(str(path))
        assert again.xres * 25.4 == pytest.approx(label, abs=0.01)
    turned = kept.get(274, 1) >= 5
    measured = measure(path)
    assert (measured.width, measured.height) == ((40, 64) if turned else (64, 40))
    # said twice is said once
    assert relabelled_jpeg(after, ppi) is not None
    assert scan_of(relabelled_jpeg(after, ppi) or b"") == scan_of(before)


def test_where_the_colours_would_change_it_is_left_to_be_encoded():
    data = jpeg()
    adobe = b"Adobe\x00\x64\x00\x00\x00\x00\x00"  # its last byte: no colour transform
    stored_as_rgb = data[:2] + segment(0xEE, adobe) + without_jfif(data)[2:]
    assert relabelled_jpeg(stored_as_rgb, Fraction(300)) is None
    two = data[:2] + segment(0xE2, b"MPF\x00" + bytes(20)) + data[2:]
    assert relabelled_jpeg(two, Fraction(300)) is None


@given(st.binary(max_size=60), st.integers(0, 900))
def test_damage_is_left_to_the_reader_that_can_tell_it(noise, at):
    data = JPEGS["exif"]
    broken = data[:at] + noise + data[at + len(noise) :]
    found = relabelled_jpeg(broken, Fraction(300))
    assert found is None or found.endswith(broken[-200:])
    assert relabelled_jpeg(noise, Fraction(300)) is None
