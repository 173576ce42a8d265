"""The parts that a file of each format is built of: segments, chunks, boxes, directories."""

from __future__ import annotations

import struct
from collections.abc import Iterator
from dataclasses import dataclass
from typing import BinaryIO

# Bytes of a value of each type: TIFF 6.0, section 2, and BigTIFF's 8-byte integers.
TYPE_BYTES = {1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 10: 8, 11: 4, 12: 8, 13: 4, 16: 8, 17: 8, 18: 8}  # fmt: skip

_INTEGERS = {1: "B", 3: "H", 4: "I", 13: "I", 16: "Q", 18: "Q"}

_MOST_DIRECTORIES = 64

# Chains of directories longer than this are no photo's: each value of a tag is read at once.
_MOST_VALUES = 2_000_000


@dataclass(frozen=True)
class Segment:
    """A part of a JPEG before its first scan (ITU T.81, B.1.1); `place` is where its body begins."""

    marker: int
    place: int
    length: int
    start: bytes


@dataclass(frozen=True)
class Part:
    """A chunk of a PNG or WebP, or a box of an ISO media file; `end` is where the next begins."""

    name: bytes
    length: int
    end: int


@dataclass(frozen=True)
class TiffEntry:
    """An entry of a TIFF's directory; `place` is where its values lie in the file."""

    tag: int
    kind: int
    count: int
    place: int

    @property
    def bytes(self) -> int:
        """How many bytes its values take."""
        return TYPE_BYTES.get(self.kind, 1) * self.count


@dataclass(frozen=True)
class TiffLayout:
    """How the numbers of a TIFF are written: byte order, and whether it is a BigTIFF."""

    order: str
    big: bool
    first: int

    def read_integers(self, file: BinaryIO, entry: TiffEntry) -> tuple[int, ...]:
        """Read an entry's values; none where they are no whole numbers, too many, or not there."""
        code = _INTEGERS.get(entry.kind)
        if code is None or entry.count > _MOST_VALUES:
            return ()
        file.seek(entry.place)
        data = file.read(entry.bytes)
        if len(data) < entry.bytes:
            return ()
        return struct.unpack(f"{self.order}{entry.count}{code}", data)


def jpeg_segments(file: BinaryIO) -> Iterator[Segment]:
    """Go through the segments of a JPEG as far as the first scan, which is the last of them."""
    file.seek(2)
    while True:
        head = file.read(4)
        if len(head) < 4 or head[0] != 0xFF or head[1] == 0xD9:
            return
        if head[1] == 0xFF:  # a fill byte
            file.seek(-3, 1)
            continue
        length = int.from_bytes(head[2:], "big")
        place = file.tell()
        start = file.read(min(6, max(0, length - 2)))
        yield Segment(head[1], place, length, start)
        if head[1] == 0xDA:
            return
        file.seek(place + length - 2)


def png_chunks(file: BinaryIO) -> Iterator[Part]:
    """Go through the chunks of a PNG (ISO/IEC 15948, 5.3): length, name, data, checksum."""
    place = 8
    file.seek(place)
    while len(head := file.read(8)) == 8:
        length = int.from_bytes(head[:4], "big")
        place += 12 + length
        yield Part(head[4:], length, place)
        file.seek(place)


def webp_chunks(file: BinaryIO) -> Iterator[Part]:
    """Go through the chunks of a RIFF file (WebP container specification), each of even length."""
    file.seek(4)
    end = 8 + int.from_bytes(file.read(4), "little")
    place = 12
    file.seek(place)
    while place + 8 <= end and len(head := file.read(8)) == 8:
        length = int.from_bytes(head[4:], "little")
        place += 8 + length + length % 2
        yield Part(head[:4], length, place)
        file.seek(place)


def media_boxes(file: BinaryIO, size: int) -> Iterator[Part]:
    """Go through the outermost boxes of an ISO media file of so many bytes (ISO/IEC 14496-12, 4.2)."""
    place = 0
    file.seek(place)
    while len(head := file.read(8)) == 8:
        length = int.from_bytes(head[:4], "big")
        if length == 1:
            length = int.from_bytes(file.read(8), "big")
        elif length == 0:  # as far as the file goes
            length = size - place
        place += max(8, length)
        yield Part(head[4:], length, place)
        file.seek(place)


def tiff_layout(head: bytes) -> TiffLayout | None:
    """Read a TIFF's first 16 bytes (TIFF 6.0, section 2; BigTIFF); None for another file."""
    if len(head) < 16:
        return None
    order = {b"II": "<", b"MM": ">"}.get(head[:2])
    if order is None:
        return None
    (version,) = struct.unpack(order + "H", head[2:4])
    if version == 42:
        return TiffLayout(order, False, struct.unpack(order + "I", head[4:8])[0])
    if version == 43:
        return TiffLayout(order, True, struct.unpack(order + "Q", head[8:16])[0])
    return None


def tiff_directories(
    file: BinaryIO, layout: TiffLayout, first: int | None = None
) -> Iterator[list[TiffEntry]]:
    """Go through the directories of a TIFF that follow each other.

    Raises
    ------
    EOFError
        Where one lies beyond the file's end, or goes over it.
    """
    number, entry, word = ("Q", "HHQQ", 8) if layout.big else ("H", "HHII", 4)
    place = layout.first if first is None else first
    seen: set[int] = set()
    while place and place not in seen and len(seen) < _MOST_DIRECTORIES:
        seen.add(place)
        file.seek(place)
        (count,) = struct.unpack(
            layout.order + number, _exactly(file, struct.calcsize("<" + number))
        )
        start, size = file.tell(), struct.calcsize("<" + entry)
        if count > _MOST_VALUES:
            raise EOFError
        data = _exactly(file, size * count)
        entries = []
        for at, (tag, kind, many, value) in enumerate(
            struct.iter_unpack(layout.order + entry, data)
        ):
            within = TYPE_BYTES.get(kind, 1) * many <= word
            entries.append(
                TiffEntry(tag, kind, many, start + at * size + size - word if within else value)
            )
        last = file.read(word)  # left out behind the only directory by some who write
        if 0 < len(last) < word:
            raise EOFError
        yield entries
        place = struct.unpack(layout.order + "IQ"[layout.big], last)[0] if len(last) == word else 0


def _exactly(file: BinaryIO, size: int) -> bytes:
    data = file.read(size)
    if len(data) < size:
        raise EOFError
    return data
