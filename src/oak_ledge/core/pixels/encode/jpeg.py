"""The segments of a JPEG before its pixels (ITU T.81, JFIF 1.02)."""

from __future__ import annotations

import struct
from fractions import Fraction

from oak_ledge.core.files.density import jfif_density
from oak_ledge.core.pixels.encode.exif import Metadata, exif_block, iptc_segment

# ITU T.81: its length counts itself in 16 bits.
MOST_SEGMENT = 65_533


# ITU T.81, table B.1.
FRAMES = frozenset(range(0xC0, 0xD0)) - {0xC4, 0xC8, 0xCC}


_SCAN, _END = 0xDA, 0xD9


# A marker's second byte, and what follows its length.
Segment = tuple[int, bytes]


_XMP_HEAD = b"http://ns.adobe.com/xap/1.0/\x00"


def jpeg_head(data: bytes, ppi: Fraction | None, metadata: Metadata) -> bytes:
    """Put density into JFIF and EXIF, as readers differ in which they believe."""
    head = b"\xff\xd8" + jfif_segment(ppi)
    exif = exif_block(metadata, ppi)
    parts = (
        (0xE1, exif),
        (0xE1, None if metadata.xmp is None else _XMP_HEAD + metadata.xmp),
        (0xED, None if metadata.iptc is None else iptc_segment(metadata.iptc)),
    )
    for marker, body in parts:
        if body is not None and len(body) <= MOST_SEGMENT:
            head += segment(marker, body)
    at = 2
    while data[at : at + 2] == b"\xff\xe0":  # the encoder's own JFIF block
        at += 2 + struct.unpack(">H", data[at + 2 : at + 4])[0]
    return head + data[at:]


def jfif_segment(ppi: Fraction | None) -> bytes:
    """Return a JFIF block (1.02) with a density, or none."""
    unit, density = (0, 1) if ppi is None else jfif_density(ppi)
    return segment(0xE0, b"JFIF\x00\x01\x02" + struct.pack(">BHHBB", unit, density, density, 0, 0))


def segment(marker: int, body: bytes) -> bytes:
    """Return a JPEG segment (ITU T.81, B.1.1.4)."""
    return struct.pack(">BBH", 0xFF, marker, len(body) + 2) + body


def segments_of(data: bytes) -> tuple[list[Segment], bytes]:
    """Take a JPEG apart into the segments before its first scan, and all from there on.

    Raises
    ------
    IndexError, struct.error
        If it is damaged.
    """
    if data[:2] != b"\xff\xd8":
        msg = "not a JPEG"
        raise IndexError(msg)
    at = 2
    segments: list[Segment] = []
    while True:
        if data[at] != 0xFF:
            msg = "a marker is missing"
            raise IndexError(msg)
        while data[at + 1] == 0xFF:  # fill bytes (B.1.1.2)
            at += 1
        marker = data[at + 1]
        if marker in (_SCAN, _END):
            return segments, data[at:]
        (length,) = struct.unpack(">H", data[at + 2 : at + 4])
        segments.append((marker, data[at + 4 : at + 2 + length]))
        at += 2 + length
