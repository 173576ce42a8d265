"""Where a photo's metadata tell a place, and how it is left out (rules, section 7).

XMP is read as XML, hardened: no entities, no documents from elsewhere, no depth without end. What
can't be read so is left out whole. IPTC is read as the list of datasets it is.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from lxml import etree

# Bytes; larger ones carry pictures.
MOST_PACKET = 4_000_000


# IPTC-IIM 4.2: content location, city, sublocation, province, country code and name, and previews,
# which may be pictures with a place of their own
_IPTC_PLACES = frozenset(((2, 26), (2, 27), (2, 90), (2, 92), (2, 95), (2, 100), (2, 101)))


_IPTC_PREVIEWS = frozenset(((2, 200), (2, 201), (2, 202)))


_DATASET = 0x1C


_PACKET = (
    b'<?xpacket begin="\xef\xbb\xbf" id="W5M0MpCehiHzreSzNTczkc9d"?>',
    b'<?xpacket end="w"?>',
)


_RDF = "http://www.w3.org/1999/02/22-rdf-syntax-ns#"


_NAMESPACES = {
    "http://ns.adobe.com/tiff/1.0/": "tiff",
    "http://ns.adobe.com/exif/1.0/": "exif",
    "http://ns.adobe.com/photoshop/1.0/": "photoshop",
    "http://ns.adobe.com/xap/1.0/": "xmp",
    "http://ns.adobe.com/xmp/note/": "xmpNote",
    "http://ns.adobe.com/xmp/1.0/DynamicMedia/": "xmpDM",
    "http://purl.org/dc/elements/1.1/": "dc",
    "http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/": "Iptc4xmpCore",
    "http://iptc.org/std/Iptc4xmpExt/2008-02-29/": "Iptc4xmpExt",
    "http://www.w3.org/2003/01/geo/wgs84_pos#": "geo",
}


# What would be wrong in a file made anew, and pictures inside the packet
_WRONG = frozenset(
    f"{prefix}:{name}"
    for prefix, names in {
        "tiff": ("Orientation", "XResolution", "YResolution", "ResolutionUnit", "ImageWidth", "ImageLength"),
        "exif": ("PixelXDimension", "PixelYDimension"),
        "xmp": ("Thumbnails",),
        "xmpNote": ("HasExtendedXMP",),
    }.items()
    for name in names
)  # fmt: skip


# XMP specification part 2; IPTC Photo Metadata Standard 2023.1; Dublin Core
_PLACES = frozenset(
    f"{prefix}:{name}"
    for prefix, names in {
        "photoshop": ("City", "State", "Country"),
        "xmpDM": ("shotLocation",),
        "dc": ("coverage",),
        "Iptc4xmpCore": ("Location", "CountryCode"),
        "Iptc4xmpExt": (
            "LocationShown", "LocationCreated", "Sublocation", "City", "ProvinceState", "CountryName",
            "CountryCode", "WorldRegion", "LocationName", "LocationId",
        ),
    }.items()
    for name in names
)  # fmt: skip


# Whatever a maker calls its own: GPSLatitude, GpsLongtitude, LocationName …
_CALLED = re.compile(
    r"gps|latitude|longt?itude|altitude|geotag|location|sublocation", re.IGNORECASE
)


def plain_packet(packet: bytes, *, location: bool) -> bytes | None:
    """Return an XMP packet less what would be wrong in a new file, and less the place on wish.

    None where it can't be read, or holds nothing else.
    """
    if len(packet) > MOST_PACKET:
        return None
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False,
        remove_comments=True, remove_pis=True,
    )  # fmt: skip
    try:
        root = etree.fromstring(packet.strip(b"\x00"), parser)
    except (etree.XMLSyntaxError, ValueError):
        return None
    if root.getroottree().docinfo.doctype:
        return None
    for element in list(root.iter(etree.Element)):
        if _goes(element.tag, location=location):
            _drop(element)
            continue
        for name in list(element.attrib):
            if _goes(name, location=location):
                del element.attrib[name]
    head, foot = _PACKET
    body: bytes = etree.tostring(root, encoding="utf-8")
    return head + body + foot


def _goes(tag: object, *, location: bool) -> bool:
    """Return whether a property, as an element or as an attribute, must go."""
    name = etree.QName(str(tag))
    if name.namespace == _RDF:
        return False
    known = f"{_NAMESPACES.get(name.namespace or '', '')}:{name.localname}"
    if known in _WRONG:
        return True
    return not location and (
        known in _PLACES or name.namespace == "http://www.w3.org/2003/01/geo/wgs84_pos#"
        or _CALLED.search(name.localname) is not None
    )  # fmt: skip


def _drop(element: etree._Element) -> None:
    parent = element.getparent()
    if parent is not None:
        parent.remove(element)


def plain_record(iptc: bytes, *, location: bool) -> bytes | None:
    """Return an IPTC record less its previews, and less the place on wish; None where nothing is left."""
    goes = _IPTC_PREVIEWS if location else _IPTC_PREVIEWS | _IPTC_PLACES
    return b"".join(part for kind, part in _datasets(iptc) if kind not in goes) or None


def _datasets(iptc: bytes) -> Iterator[tuple[tuple[int, int], bytes]]:
    """Go through a record (IPTC-IIM 4.2, 1.6): which dataset, and its bytes; ends at damage."""
    at = 0
    while at + 5 <= len(iptc) and iptc[at] == _DATASET:
        kind, length = (iptc[at + 1], iptc[at + 2]), int.from_bytes(iptc[at + 3 : at + 5], "big")
        start = at + 5
        if length & 0x8000:  # an extended one: so many bytes give its length
            start += length & 0x7FFF
            length = int.from_bytes(iptc[at + 5 : start], "big")
        if start + length > len(iptc):
            return
        yield kind, iptc[at : start + length]
        at = start + length
