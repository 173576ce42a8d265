"""How much a file says besides its pixels, before any reader takes it all into memory."""

from __future__ import annotations

import struct
from collections.abc import Iterator
from pathlib import Path
from typing import BinaryIO

from oak_ledge.core.errors import PhotoError

MOST_METADATA = 64_000_000  # bytes: profiles, previews and depth pictures of phones stay under it


MOST_EXIF = 2_000_000  # of EXIF in a JPEG, which readers put together piece by piece


_TYPE_BYTES = {
    1: 1,
    2: 1,
    3: 2,
    4: 4,
    5: 8,
    6: 1,
    7: 1,
    8: 2,
    9: 4,
    10: 8,
    11: 4,
    12: 8,
}  # TIFF 6.0


_PLACES_OF_PIXELS = frozenset(
    (273, 279, 324, 325)
)  # strip and tile offsets and lengths: one a strip


_MOST_STRIPS = 16_000_000  # bytes of those


_MOST_DIRECTORIES = 64


def refuse_heavy_metadata(path: Path) -> None:
    """Refuse a file whose metadata would take more time and memory than its picture.

    Raises
    ------
    PhotoError
        With how much it carries.
    """
    with path.open("rb") as file:
        head = file.read(16)
        if head[:2] == b"\xff\xd8":
            _weigh_jpeg(file)
        elif head[:4] in (b"II*\0", b"MM\0*"):
            _weigh_tiff(file, head)
        elif head[:4] == b"RIFF" and head[8:12] == b"WEBP":
            _check(sum(length for name, length in _chunks(file) if name in (b"EXIF", b"XMP ")))


def _check(count: int, most: int = MOST_METADATA) -> None:
    if count > most:
        msg = (
            f"it carries {count / 1e6:.0f} MB of data about itself, where {most / 1e6:.0f} MB are "
            "taken at most. Save it again without them"
        )
        raise PhotoError(msg)


def _weigh_jpeg(file: BinaryIO) -> None:
    """Go through the segments before the first scan (ITU T.81, B.1.1)."""
    whole = exif = 0
    file.seek(2)
    while True:
        head = file.read(4)
        if len(head) < 4 or head[0] != 0xFF or head[1] in (0xDA, 0xD9):
            return
        if head[1] == 0xFF:  # a fill byte
            file.seek(-3, 1)
            continue
        length = int.from_bytes(head[2:], "big")
        body = file.read(min(6, max(0, length - 2)))
        file.seek(length - 2 - len(body), 1)
        whole += length
        exif += length if head[1] == 0xE1 and body.startswith(b"Exif") else 0
        _check(whole)
        _check(exif, MOST_EXIF)


def _weigh_tiff(file: BinaryIO, head: bytes) -> None:
    """Go through the directories (TIFF 6.0, section 2)."""
    order = "<" if head[:2] == b"II" else ">"
    (at,) = struct.unpack(order + "I", head[4:8])
    seen: set[int] = set()
    whole = strips = 0
    while at and at not in seen and len(seen) < _MOST_DIRECTORIES:
        seen.add(at)
        file.seek(at)
        (count,) = struct.unpack(order + "H", file.read(2))
        entries = file.read(12 * count)
        for tag, kind, many, _ in struct.iter_unpack(order + "HHII", entries):
            size = _TYPE_BYTES.get(kind, 1) * many
            if tag in _PLACES_OF_PIXELS:
                strips += size
            else:
                whole += size
        _check(whole)
        _check(strips, _MOST_STRIPS)
        (at,) = struct.unpack(order + "I", file.read(4))


def _chunks(file: BinaryIO) -> Iterator[tuple[bytes, int]]:
    """Go through the chunks of a RIFF file (WebP container specification)."""
    file.seek(12)
    while len(head := file.read(8)) == 8:
        length = int.from_bytes(head[4:], "little")
        yield head[:4], length
        file.seek(length + length % 2, 1)
