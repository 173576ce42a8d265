"""Another resolution label on a JPEG whose pixel data stays as it is, bit for bit.

Only two blocks before the pixel data change: JFIF density, and the resolution tags of EXIF.
Everything else, the orientation tag too, is carried over.
"""

from __future__ import annotations

import struct
from fractions import Fraction

from oak_ledge.core.pixels.encode.exif import (
    INCH_UNIT,
    NOTHING,
    RESOLUTION_TAGS,
    exif_block,
    rational_of,
)
from oak_ledge.core.pixels.encode.jpeg import (
    FRAMES,
    MOST_SEGMENT,
    Segment,
    jfif_segment,
    segment,
    segments_of,
)

_JFIF, _EXIF, _MPF, _ADOBE = b"JFIF\x00", b"Exif\x00\x00", b"MPF\x00", b"Adobe"


# TIFF 6.0, field types.
_SHORT, _RATIONAL = 3, 5


def relabelled_jpeg(data: bytes, ppi: Fraction | None) -> bytes | None:
    """Return a JPEG's bytes with another resolution, or with none.

    None where that cannot be said without touching the pixels' meaning: a file of several
    pictures, colours stored as RGB (which a JFIF block would turn into others), or damage.
    """
    try:
        segments, rest = segments_of(data)
        if _only_encoded_anew(segments):
            return None
        kept = [
            (marker, body)
            for marker, body in segments
            if not (marker == 0xE0 and body.startswith(_JFIF))
        ]
        labelled = [_labelled(entry, ppi) for entry in kept]
    except (struct.error, IndexError):
        return None
    if ppi is not None and not any(_is_exif(entry) for entry in kept):
        labelled.insert(0, (0xE1, exif_block(NOTHING, ppi) or b""))
    if any(len(body) > MOST_SEGMENT for _, body in labelled):
        return None
    head = b"".join(segment(marker, body) for marker, body in labelled)
    return b"\xff\xd8" + jfif_segment(ppi) + head + rest


def _is_exif(segment: Segment) -> bool:
    return segment[0] == 0xE1 and segment[1].startswith(_EXIF)


def _only_encoded_anew(segments: list[Segment]) -> bool:
    if any(marker == 0xE2 and body.startswith(_MPF) for marker, body in segments):
        return True
    if any(marker == 0xE0 and body.startswith(_JFIF) for marker, body in segments):
        return False
    frame = next((body for marker, body in segments if marker in FRAMES), None)
    if frame is None:
        return True
    if frame[5] != 3:
        return False
    adobe = [body for marker, body in segments if marker == 0xEE and body.startswith(_ADOBE)]
    if adobe:
        return adobe[0][11] == 0  # the colour transform: none
    return frame[6::3][:3] == b"RGB"  # as libjpeg guesses without either block


def _labelled(segment: Segment, ppi: Fraction | None) -> Segment:
    if not _is_exif(segment):
        return segment
    return segment[0], _EXIF + _with_resolution(segment[1][len(_EXIF) :], ppi)


def _with_resolution(tiff: bytes, ppi: Fraction | None) -> bytes:
    """Put the resolution into the first directory of a TIFF block, or take it out (TIFF 6.0).

    The directory is written anew behind everything else, so that nothing another tag points at
    moves: makers' own notes count from the start of the block.
    """
    order = "<" if tiff[:2] == b"II" else ">"
    (start,) = struct.unpack(order + "I", tiff[4:8])
    (count,) = struct.unpack(order + "H", tiff[start : start + 2])
    entries = [tiff[at : at + 12] for at in range(start + 2, start + 2 + 12 * count, 12)]
    following = tiff[start + 2 + 12 * count :][:4].ljust(4, b"\x00")
    kept = {struct.unpack(order + "H", entry[:2])[0]: entry for entry in entries}
    for tag in RESOLUTION_TAGS:
        kept.pop(tag, None)
    at = len(tiff) + len(tiff) % 2
    value = b""
    if ppi is not None:
        across, along, unit = RESOLUTION_TAGS
        value_at = at + 2 + 12 * (len(kept) + 3) + 4
        for tag in (across, along):
            kept[tag] = struct.pack(order + "HHII", tag, _RATIONAL, 1, value_at)
        kept[unit] = struct.pack(order + "HHIHH", unit, _SHORT, 1, INCH_UNIT, 0)
        value = struct.pack(order + "II", *rational_of(ppi))
    directory = struct.pack(order + "H", len(kept)) + b"".join(kept[tag] for tag in sorted(kept))
    head = tiff[:4] + struct.pack(order + "I", at) + tiff[8:]
    return head.ljust(at, b"\x00") + directory + following + value
