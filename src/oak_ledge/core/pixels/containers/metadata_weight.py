"""How much a file says besides its pixels, before any reader takes it all into memory."""

from __future__ import annotations

from pathlib import Path
from typing import BinaryIO

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.pixels.containers.parts import (
    TiffLayout,
    jpeg_segments,
    tiff_directories,
    tiff_layout,
    webp_chunks,
)

# Bytes: profiles, previews and depth pictures of phones stay under it.
MOST_METADATA = 64_000_000

# Bytes of EXIF in a JPEG, which readers put together piece by piece.
MOST_EXIF = 2_000_000

# Strip and tile offsets and lengths, one a strip, which are no metadata but places of pixels.
_PLACES_OF_PIXELS = frozenset((273, 279, 324, 325))

# Bytes of those.
_MOST_STRIPS = 16_000_000


def refuse_heavy_metadata(path: Path) -> None:
    """Refuse a file whose metadata would take more time and memory than its picture.

    Raises
    ------
    PhotoError
        With how much it carries.
    """
    with path.open("rb") as file:
        head = file.read(16)
        layout = tiff_layout(head)
        if head[:2] == b"\xff\xd8":
            _weigh_jpeg(file)
        elif layout is not None:
            _weigh_tiff(file, layout)
        elif head[:4] == b"RIFF" and head[8:12] == b"WEBP":
            _check(
                sum(part.length for part in webp_chunks(file) if part.name in (b"EXIF", b"XMP "))
            )


def _check(count: int, most: int = MOST_METADATA) -> None:
    if count > most:
        msg = (
            f"it carries {count / 1e6:.0f} MB of data about itself, where {most / 1e6:.0f} MB are "
            "taken at most. Save it again without them"
        )
        raise PhotoError(msg)


def _weigh_jpeg(file: BinaryIO) -> None:
    whole = exif = 0
    for segment in jpeg_segments(file):
        if segment.marker == 0xDA:
            return
        whole += segment.length
        if segment.marker == 0xE1 and segment.start.startswith(b"Exif"):
            exif += segment.length
        _check(whole)
        _check(exif, MOST_EXIF)


def _weigh_tiff(file: BinaryIO, layout: TiffLayout) -> None:
    whole = strips = 0
    for entries in tiff_directories(file, layout):
        for entry in entries:
            if entry.tag in _PLACES_OF_PIXELS:
                strips += entry.bytes
            else:
                whole += entry.bytes
        _check(whole)
        _check(strips, _MOST_STRIPS)
