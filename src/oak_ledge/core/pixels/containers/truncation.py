"""Files that hold less than their header promises: cut short while they were copied or written.

Only places and lengths are compared with the file's length, so that a file of any size is judged at
once; what is wrong within its pixels shows when they are decoded.
"""

from __future__ import annotations

import mmap
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from typing import BinaryIO

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.pixels.containers.parts import (
    TiffEntry,
    TiffLayout,
    jpeg_segments,
    media_boxes,
    png_chunks,
    tiff_directories,
    tiff_layout,
    webp_chunks,
)

CUT_SHORT = "the file is cut short: it promises more than it holds. Copy it again from its source"

# TIFF 6.0 by name
_WIDTH, _HEIGHT, _BITS, _COMPRESSION, _PHOTOMETRIC, _SAMPLES = 256, 257, 258, 259, 262, 277
_ROWS_PER_STRIP, _PLANAR, _TILE_WIDTH, _TILE_HEIGHT, _SUB_DIRECTORIES = 278, 284, 322, 323, 330
_OFFSETS_AND_COUNTS = ((273, 279), (324, 325))

_YCBCR, _UNCOMPRESSED, _SEPARATE = 6, 1, 2

# Directories within directories: a raw file's sensor values lie in the second.
_DEEPEST = 3


def refuse_cut_short(path: Path) -> None:
    """Refuse a file whose parts lie beyond its end, or whose last part is missing.

    Raises
    ------
    PhotoError
        If it is cut short. A file of another kind passes: whoever reads it says what it is.
    """
    size = path.stat().st_size
    with path.open("rb") as file:
        if not _is_whole(file, size):
            raise PhotoError(CUT_SHORT)


def _is_whole(file: BinaryIO, size: int) -> bool:
    head = file.read(16)
    layout = tiff_layout(head)
    if layout is not None:
        return _whole_tiff(file, size, layout)
    if head.startswith(b"\xff\xd8\xff"):
        return _whole_jpeg(file)
    if head.startswith(b"\x89PNG\r\n\x1a\n"):
        last = None
        for last in png_chunks(file):
            if last.name == b"IEND":
                break
        return last is not None and last.name == b"IEND" and last.end <= size
    if head[:4] == b"RIFF" and head[8:12] == b"WEBP":
        return 8 + int.from_bytes(head[4:8], "little") <= size and all(
            part.end - part.length % 2 <= size for part in webp_chunks(file)
        )
    if head[4:8] == b"ftyp":
        boxes = list(media_boxes(file, size))
        return (
            all(box.end <= size for box in boxes)
            and {b"meta", b"moov"} & {box.name for box in boxes} != set()
        )
    if head.startswith(b"FUJIFILMCCD-RAW"):
        return _whole_raf(file, size)
    return True


def _whole_jpeg(file: BinaryIO) -> bool:
    """Return whether the end of the image comes behind its first scan (ITU T.81, B.2.1).

    Within a scan the bytes of that marker never stand beside each other.
    """
    scan = next((segment.place for segment in jpeg_segments(file) if segment.marker == 0xDA), None)
    if scan is None:
        return False
    with mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ) as data:
        return data.rfind(b"\xff\xd9") > scan


def _whole_raf(file: BinaryIO, size: int) -> bool:
    """Return whether preview, header and sensor values lie within the file: three places and lengths."""
    file.seek(84)
    numbers = file.read(24)
    places = [int.from_bytes(numbers[at : at + 4], "big") for at in range(0, 24, 4)]
    return len(numbers) == 24 and all(
        place + length <= size for place, length in zip(places[::2], places[1::2], strict=True)
    )


def _whole_tiff(file: BinaryIO, size: int, layout: TiffLayout) -> bool:
    with suppress(EOFError):
        return all(
            _whole_directory(file, size, layout, entries)
            for entries in _directories(file, layout, layout.first, _DEEPEST)
        )
    return False


def _directories(
    file: BinaryIO, layout: TiffLayout, first: int, deep: int
) -> Iterator[dict[int, TiffEntry]]:
    """Go through all directories of a TIFF, those within others too."""
    for entries in tiff_directories(file, layout, first):
        directory = {entry.tag: entry for entry in entries}
        yield directory
        within = directory.get(_SUB_DIRECTORIES)
        if within is not None and deep > 1:
            for place in layout.read_integers(file, within)[:12]:
                yield from _directories(file, layout, place, deep - 1)


def _whole_directory(
    file: BinaryIO, size: int, layout: TiffLayout, entries: dict[int, TiffEntry]
) -> bool:
    """Return whether a directory's values and the strips or tiles it names lie within the file."""
    if any(entry.place + entry.bytes > size for entry in entries.values()):
        return False
    for offsets_tag, counts_tag in _OFFSETS_AND_COUNTS:
        if offsets_tag not in entries:
            continue
        offsets = layout.read_integers(file, entries[offsets_tag])
        counts = layout.read_integers(file, entries[counts_tag]) if counts_tag in entries else ()
        if any(place + count > size for place, count in zip(offsets, counts, strict=False)):
            return False
        wanted = _Wanted.of(file, layout, entries, tiled=counts_tag == 325)
        if wanted is None:
            continue
        if len(offsets) < wanted.parts or any(place > size for place in offsets):
            return False
        if wanted.bytes is not None:
            held = sum(counts) if counts else size - min(offsets)
            if held < wanted.bytes:
                return False
    return True


class _Wanted:
    """How many strips or tiles a picture takes, and how many bytes where nothing is compressed."""

    def __init__(self, parts: int, size: int | None) -> None:
        self.parts, self.bytes = parts, size

    @classmethod
    def of(
        cls, file: BinaryIO, layout: TiffLayout, entries: dict[int, TiffEntry], *, tiled: bool
    ) -> _Wanted | None:
        def number(tag: int, otherwise: int) -> int:
            values = layout.read_integers(file, entries[tag]) if tag in entries else ()
            return values[0] if values else otherwise

        width, height = number(_WIDTH, 0), number(_HEIGHT, 0)
        across, down = width, min(height, number(_ROWS_PER_STRIP, height))
        if tiled:
            across, down = number(_TILE_WIDTH, 0), number(_TILE_HEIGHT, 0)
        if not (width and height and across and down):
            return None
        samples = number(_SAMPLES, 1)
        planes = samples if number(_PLANAR, 1) == _SEPARATE else 1
        columns, rows = -(-width // across), -(-height // down)
        plain = number(_COMPRESSION, _UNCOMPRESSED) == _UNCOMPRESSED
        if not plain or number(_PHOTOMETRIC, 0) == _YCBCR:  # whose colours may be halved
            return cls(columns * rows * planes, None)
        bits = number(_BITS, 1) * samples // planes
        high = rows * down if tiled else height
        return cls(columns * rows * planes, high * columns * -(-across * bits // 8) * planes)
