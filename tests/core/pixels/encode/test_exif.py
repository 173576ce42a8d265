"""What a file keeps of its photo's metadata, in every format, by a second reader."""

from __future__ import annotations

from io import BytesIO
from zlib import crc32

import numpy as np
import pytest
from PIL import Image, ImageFile

from oak_ledge.core.pixels.encode.encode import encode
from oak_ledge.core.pixels.encode.exif import metadata_of
from oak_ledge.core.pixels.open.label import exif_of, recorded_ppi, xmp_of
from oak_ledge.core.pixels.prove.measure import measure
from oak_ledge.core.sizes.file.file_settings import FileSettings
from tests import samples

RIGHTS, ARTIST, MAKER, TAKEN, SHUTTER, NOTE = 0x8298, 0x013B, 0x010F, 0x9003, 0x829A, 0x927C
XMP = (
    b'<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
    b'<rdf:Description xmlns:tiff="http://ns.adobe.com/tiff/1.0/" xmlns:exif="http://ns.adobe.com/exif/1.0/" '
    b'xmlns:dc="http://purl.org/dc/elements/1.1/" tiff:Orientation="6" exif:GPSLatitude="53,24N" dc:title="Quay">'
    b"<exif:GPSLongitude>12,41E</exif:GPSLongitude></rdf:Description></rdf:RDF></x:xmpmeta>"
)


@pytest.fixture
def photo(tmp_path):
    exif = Image.Exif()
    exif[274], exif[282], exif[MAKER] = 6, 72.0, "Quay camera"
    exif[RIGHTS], exif[ARTIST] = "© the studio, Müritz".encode(), "the studio"
    exif.get_ifd(0x8769).update(
        {TAKEN: "2026:10:31 18:00:00", SHUTTER: 0.004, NOTE: b"unknown" * 40}
    )
    exif.get_ifd(0x8825).update({1: "N", 2: (53.0, 24.0, 0.0)})
    path = tmp_path / "photo.jpg"
    samples.photo(path, 90, 60, exif=exif, xmp=XMP)
    return path


def made(photo, tmp_path, kind, **changes):
    settings = FileSettings(format=kind, **changes)
    path = tmp_path / f"made.{kind}"
    pixels = np.rint(samples.waves(60, 40)).astype(np.uint8)
    path.write_bytes(
        encode(pixels, settings, samples.THREE_HUNDRED, None, metadata_of(photo, settings))
    )
    assert measure(path).ppi == pytest.approx(300, abs=0.001)
    assert (measure(path).width, measure(path).height) == (60, 40)  # no orientation came along
    image = Image.open(BytesIO(path.read_bytes()))
    packet = image.info.get("xmp") or image.info.get("XML:com.adobe.xmp") or b""
    return (
        image.getexif(),
        packet.encode() if isinstance(packet, str) else packet,
        path.read_bytes(),
    )


KINDS = ["jpeg", "png", "tiff", "webp", "avif"]


@pytest.mark.parametrize("kind", KINDS)
def test_rights_date_and_maker_are_kept_and_nothing_wrong_comes_along(photo, tmp_path, kind):
    exif, xmp, data = made(photo, tmp_path, kind)
    assert exif[RIGHTS].encode("latin-1").decode() == "© the studio, Müritz"
    assert (exif[ARTIST], exif[MAKER]) == ("the studio", "Quay camera")
    assert exif.get_ifd(0x8769)[TAKEN] == "2026:10:31 18:00:00"
    assert exif.get(274, 1) == 1
    assert b"unknown" not in data
    assert b"Quay" in xmp
    assert b"Orientation" not in xmp
    assert b"GPSLatitude" in xmp
    assert exif.get_ifd(0x8825)[2] == (53.0, 24.0, 0.0)
    assert float(exif.get_ifd(0x8769)[SHUTTER]) == 0.004


@pytest.mark.parametrize("kind", KINDS)
def test_the_place_is_left_out_on_wish(photo, tmp_path, kind):
    exif, xmp, data = made(photo, tmp_path, kind, location=False)
    assert exif[RIGHTS]
    assert not exif.get_ifd(0x8825)
    assert b"GPS" not in data
    assert b"Quay" in xmp


@pytest.mark.parametrize("kind", KINDS)
def test_copyright_alone_or_nothing_is_kept_on_wish(photo, tmp_path, kind):
    exif, xmp, data = made(photo, tmp_path, kind, metadata="copyright")
    assert exif[ARTIST] == "the studio"
    assert MAKER not in exif
    assert TAKEN not in exif.get_ifd(0x8769)
    assert (xmp, b"GPS" in data) == (b"", False)
    exif, xmp, _ = made(photo, tmp_path, kind, metadata="none")
    assert (RIGHTS in exif, ARTIST in exif, xmp) == (False, False, b"")


def test_a_broken_block_keeps_no_file_from_being_made(tmp_path):
    path = samples.photo(tmp_path / "photo.jpg", 60, 40)
    data = path.read_bytes()
    path.write_bytes(data[:2] + b"\xff\xe1\x00\x10Exif\x00\x00II*\x00\xff\xff\xff\x7f" + data[2:])
    exif, _, _ = made(path, tmp_path, "jpeg")
    assert RIGHTS not in exif


def test_what_a_png_says_behind_its_pixels_is_read_and_they_stay_undecoded(tmp_path, monkeypatch):
    exif = Image.Exif()
    exif[0x8298] = "Lantern walk"
    packet = b"<x:xmpmeta xmlns:x='adobe:ns:meta/'/>"
    plain = BytesIO()
    Image.new("RGB", (30, 20), "teal").save(plain, "PNG", dpi=(300, 300))
    data = plain.getvalue()
    end = data.index(b"IEND") - 4
    text = b"XML:com.adobe.xmp\0\0\0\0\0" + packet
    chunks = b"".join(
        len(body).to_bytes(4, "big") + name + body + crc32(name + body).to_bytes(4, "big")
        for name, body in ((b"eXIf", exif.tobytes()[6:]), (b"iTXt", text))
    )
    path = tmp_path / "late.png"
    path.write_bytes(data[:end] + chunks + data[end:])

    def never(*_):
        raise AssertionError("decoded")

    with Image.open(path) as image:
        monkeypatch.setattr(ImageFile.ImageFile, "load", never)
        assert exif_of(image, path)[0x8298] == "Lantern walk"
        assert xmp_of(image, path) == packet
        assert recorded_ppi(image) == pytest.approx(300, abs=0.01)
