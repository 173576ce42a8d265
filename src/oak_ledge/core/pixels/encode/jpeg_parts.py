"""A JPEG encoded in parts, on all cores at once, and made one (ITU T.81)."""

from __future__ import annotations

import struct
from collections.abc import Iterator, Sequence

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.encode.jpeg import FRAMES, Segment, segment, segments_of

# Pixels; fewer one core encodes before two have begun.
_WORTH_PARTS = 1_000_000


# T.81, B.2.4.4: between two restart markers.
_MOST_UNITS = 65_535


# Pixels: the edges of a unit.
_SMALLEST, _HIGHEST = 8, 16


# T.81, table B.1.
_RESTARTS, _RESTART_EVERY = 0xD0, 0xDD


_START, _END = b"\xff\xd8", b"\xff\xd9"


def rows_at_once(width: int, height: int) -> int:
    """Return how many rows of a picture to encode by themselves; a multiple of 16, unless it is all.

    It is the same on every machine, as a file's bytes follow from it.
    """
    most = _MOST_UNITS // -(-width // _SMALLEST) * _SMALLEST // _HIGHEST * _HIGHEST
    parts = max(-(-height // most), 2 if width * height > _WORTH_PARTS else 1)
    return height if parts == 1 else -(-height // parts // _HIGHEST) * _HIGHEST


def in_one(parts: Sequence[bytes], pixels: Pixels, rows: int) -> bytes:
    """Make one JPEG of (W, H) pixels of those of its parts, each of so many rows but the last.

    Between two of them stands a restart marker, behind which an encoder begins anew as it does with a
    file (T.81, E.1.4). They must be baseline, and encoded alike.
    """
    if len(parts) == 1:
        return parts[0]
    taken = [segments_of(part) for part in parts]
    first, *others = (scan.removesuffix(_END) for _, scan in taken)
    data = [_START, *_head(taken[0][0], pixels, rows), first]
    for n, scan in enumerate(others):
        (length,) = struct.unpack(">H", scan[2:4])  # of its header, which stands once
        data += [bytes((0xFF, _RESTARTS + n % 8)), scan[2 + length :]]
    return b"".join([*data, _END])


def _head(segments: Sequence[Segment], pixels: Pixels, rows: int) -> Iterator[bytes]:
    """Return a part's segments as those of the whole, restart markers announced."""
    width, height = pixels
    for marker, body in segments:
        if marker not in FRAMES:
            yield segment(marker, body)
            continue
        yield segment(marker, body[:1] + struct.pack(">H", height) + body[3:])
        wide, high = _unit(body)
        units = -(-width // wide) * (rows // high)
        yield segment(_RESTART_EVERY, struct.pack(">H", units))


def _unit(frame: bytes) -> Pixels:
    """Return the edges of what is encoded at once, by a frame's sampling factors (T.81, B.2.2, A.2)."""
    factors = frame[7::3]
    if len(factors) == 1:  # of one component it is always a single block
        return _SMALLEST, _SMALLEST
    return max(factor >> 4 for factor in factors) * 8, max(factor & 15 for factor in factors) * 8
