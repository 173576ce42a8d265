"""Without location, no field a place can hide in comes along: a table of them, in both forms."""

from __future__ import annotations

import numpy as np
import pytest
from PIL import Image

from oak_ledge.core.pixels.encode.encode import encode
from oak_ledge.core.pixels.encode.exif import metadata_of
from oak_ledge.core.pixels.encode.xmp import plain_packet, plain_record
from oak_ledge.core.sizes.file.file_settings import FileSettings
from tests import samples

SECRET = "Muschelhafen"
NAMES = {
    "tiff": "http://ns.adobe.com/tiff/1.0/", "exif": "http://ns.adobe.com/exif/1.0/",
    "photoshop": "http://ns.adobe.com/photoshop/1.0/", "xmp": "http://ns.adobe.com/xap/1.0/",
    "dc": "http://purl.org/dc/elements/1.1/", "xmpDM": "http://ns.adobe.com/xmp/1.0/DynamicMedia/",
    "core": "http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/",
    "ext": "http://iptc.org/std/Iptc4xmpExt/2008-02-29/",
    "geo": "http://www.w3.org/2003/01/geo/wgs84_pos#", "maker": "http://example.com/drone/1.0/",
}  # fmt: skip
PLACES = [
    "exif:GPSLatitude", "exif:GPSLongitude", "exif:GPSAltitude", "exif:GPSDestLatitude",
    "exif:GPSAreaInformation", "photoshop:City", "photoshop:State", "photoshop:Country",
    "core:Location", "core:CountryCode", "ext:LocationShown", "ext:LocationCreated", "ext:City",
    "ext:Sublocation", "ext:ProvinceState", "ext:CountryName", "ext:CountryCode", "ext:WorldRegion",
    "ext:LocationName", "ext:LocationId", "dc:coverage", "xmpDM:shotLocation", "geo:lat", "geo:long",
    "maker:GpsLatitude", "maker:GpsLongtitude", "maker:AbsoluteAltitude", "maker:LocationName",
]  # fmt: skip
WRONG = ["tiff:Orientation", "tiff:XResolution", "exif:PixelXDimension", "xmp:Thumbnails"]
KEPT = ["dc:title", "dc:creator", "photoshop:Credit", "xmp:CreatorTool", "exif:LensModel"]


def packet(name: str, form: str) -> bytes:
    spaces = " ".join(f'xmlns:{prefix}="{uri}"' for prefix, uri in NAMES.items())
    inside = {
        "attribute": ("", f' {name}="{SECRET}"'),
        "element": (f"<{name}>{SECRET}</{name}>", ""),
        "list": (f"<{name}><rdf:Bag><rdf:li>{SECRET}</rdf:li></rdf:Bag></{name}>", ""),
        "deep": (
            f"<dc:rights><rdf:Alt><rdf:li><rdf:Description {name}='{SECRET}'>"
            "</rdf:Description></rdf:li></rdf:Alt></dc:rights>",
            "",
        ),
    }[form]
    return (
        '<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?><x:xmpmeta xmlns:x="adobe:ns:meta/">'
        '<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
        f'<rdf:Description {spaces} dc:format="Quay"{inside[1]}>{inside[0]}</rdf:Description></rdf:RDF>'
        '</x:xmpmeta>   <?xpacket end="w"?>'
    ).encode()


@pytest.mark.parametrize("form", ["attribute", "element", "list", "deep"])
@pytest.mark.parametrize(("name", "stays", "without"), [
    *((one, True, False) for one in PLACES), *((one, False, False) for one in WRONG), *((one, True, True) for one in KEPT),
])  # fmt: skip
def test_what_of_xmp_comes_along(name, form, stays, without):
    for location, expected in ((True, stays), (False, without)):
        found = plain_packet(packet(name, form), location=location)
        assert found is not None
        assert (SECRET.encode() in found) == expected
        assert b"Quay" in found


@pytest.mark.parametrize(
    "data",
    [
        b"no xml", b"<a", b"", b"<a>" * 100_000, b"\xff\xfe\x00", b"<a xmlns:b=''/>",
        b'<!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>',
        b'<!DOCTYPE a [<!ENTITY b SYSTEM "file:///etc/passwd">]><a>&b;</a>',
        b"<a>" + b"x" * 4_100_000 + b"</a>",
    ],
)  # fmt: skip
def test_what_cannot_be_read_as_xmp_is_left_out_whole(data):
    assert plain_packet(data, location=False) is None


def dataset(record: int, number: int, value: bytes, *, extended: bool = False) -> bytes:
    length = (
        b"\x80\x04" + len(value).to_bytes(4, "big") if extended else len(value).to_bytes(2, "big")
    )
    return bytes((0x1C, record, number)) + length + value


@pytest.mark.parametrize("extended", [False, True])
@pytest.mark.parametrize("number", [26, 27, 90, 92, 95, 100, 101])
def test_what_of_iptc_comes_along(number, extended):
    rest = dataset(1, 90, b"\x1b%G") + dataset(2, 5, b"Quay") + dataset(2, 116, b"the studio")
    record = (
        rest + dataset(2, number, SECRET.encode(), extended=extended) + dataset(2, 202, b"x" * 99)
    )
    assert plain_record(record, location=False) == rest
    assert SECRET.encode() in (plain_record(record, location=True) or b"")
    assert plain_record(b"\x1c\x02", location=False) is None


@pytest.mark.parametrize("kind", ["jpeg", "png", "tiff", "webp", "avif"])
def test_no_place_is_anywhere_in_a_file_made_without_location(tmp_path, kind):
    exif = Image.Exif()
    exif[0x010F] = "Quay camera"
    exif.get_ifd(0x8825).update({1: "N", 2: (53.0, 24.0, 0.0), 28: SECRET.encode()})
    exif.get_ifd(0x8769).update({0x927C: SECRET.encode() * 3})
    path = tmp_path / "photo.jpg"
    samples.photo(path, 90, 60, exif=exif, xmp=packet("photoshop:City", "element"))
    iptc = dataset(2, 5, b"Quay") + dataset(2, 90, SECRET.encode())
    data = path.read_bytes()
    block = b"Photoshop 3.0\0" + b"8BIM\x04\x04\0\0" + len(iptc).to_bytes(4, "big") + iptc
    path.write_bytes(
        data[:2] + b"\xff\xed" + (len(block) + 2).to_bytes(2, "big") + block + data[2:]
    )
    for location in (True, False):
        settings = FileSettings(format=kind, location=location)
        pixels = np.rint(samples.waves(60, 40)).astype(np.uint8)
        made = encode(pixels, settings, samples.THREE_HUNDRED, None, metadata_of(path, settings))
        assert (SECRET.encode() in made) == location
        assert b"Quay" in made
