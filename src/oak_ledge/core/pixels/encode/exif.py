"""What a file says about itself besides its pixels: who holds the rights, when, with what, where.

EXIF is never copied wholesale: a new block is built from tags on a list, so that nothing unknown
travels along. XMP and IPTC are carried as they are where all is kept, less what would be wrong in
the new file (orientation, resolution, thumbnails) and less the place where that is not wanted (`places`).
"""

from __future__ import annotations

import struct
import warnings
from dataclasses import dataclass, field
from fractions import Fraction
from pathlib import Path
from typing import Any

from PIL import Image, TiffImagePlugin, UnidentifiedImageError

from oak_ledge.core.pixels.open.label import exif_of, xmp_of
from oak_ledge.core.sizes.file.file_settings import FileSettings

EXIF_IFD, GPS_IFD = 0x8769, 0x8825


ORIENTATION = 274


# Across, along, unit: TIFF 6.0 and EXIF alike.
RESOLUTION_TAGS = (282, 283, 296)


# TIFF 6.0, ResolutionUnit.
INCH_UNIT, NO_UNIT = 2, 1


# Artist, Copyright.
_RIGHTS = (315, 33432)


# EXIF 2.32, 4.6.4: description, maker, model, date; exposure, aperture, sensitivity, dates and
# their zones, focal length, lens
_IFD0 = (270, 271, 272, 306, *_RIGHTS)


_EXIF = (
    33434, 33437, 34850, 34855, 36867, 36868, 36880, 36881, 36882, 37386, 41989, 42035, 42036,
)  # fmt: skip


# Of a JPEG's APP13 block: IPTC-NAA record.
_IPTC_RESOURCE = 0x0404


# TIFF 6.0, field types.
_ASCII, _LONG = 2, 4


@dataclass(frozen=True)
class Metadata:
    """What shall be written: EXIF tags by directory, an XMP packet, an IPTC record."""

    ifd0: dict[int, Any] = field(default_factory=dict)
    exif: dict[int, Any] = field(default_factory=dict)
    gps: dict[int, Any] = field(default_factory=dict)
    xmp: bytes | None = None
    iptc: bytes | None = None

    @property
    def empty(self) -> bool:
        """Whether there is nothing to write."""
        return not (self.ifd0 or self.exif or self.gps or self.xmp or self.iptc)


NOTHING = Metadata()


def metadata_of(path: Path, settings: FileSettings) -> Metadata:
    """Read of a photo's metadata what its file shall keep; nothing where it cannot be read."""
    if settings.metadata == "none":
        return NOTHING
    try:
        with warnings.catch_warnings(action="ignore"), Image.open(path) as image:
            tags = exif_of(image, path)
            xmp = xmp_of(image, path)
            iptc = _iptc(image)
            ifd0 = {tag: tags[tag] for tag in _IFD0 if tag in tags}
            exif = {tag: value for tag, value in tags.get_ifd(EXIF_IFD).items() if tag in _EXIF}
            gps = dict(tags.get_ifd(GPS_IFD))
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, struct.error):
        return NOTHING
    if settings.metadata == "copyright":
        return Metadata(ifd0={tag: value for tag, value in ifd0.items() if tag in _RIGHTS})
    if xmp is not None or iptc is not None:
        # here: few photos have any
        from oak_ledge.core.pixels.encode.xmp import plain_packet, plain_record

        packet = xmp.encode(errors="replace") if isinstance(xmp, str) else xmp
        xmp = None if packet is None else plain_packet(packet, location=settings.location)
        iptc = None if iptc is None else plain_record(iptc, location=settings.location)
    return Metadata(ifd0, exif, gps if settings.location else {}, xmp, iptc)


def _iptc(image: Image.Image) -> bytes | None:
    blocks = image.info.get("photoshop")
    block = blocks.get(_IPTC_RESOURCE) if isinstance(blocks, dict) else None
    return block if isinstance(block, bytes) else None


def rational_of(ppi: Fraction) -> tuple[int, int]:
    """Return a resolution as a ratio of 32 bits each (TIFF 6.0, RATIONAL); exact but for odd ones.

    >>> rational_of(Fraction(481, 2))
    (481, 2)
    """
    fraction = ppi.limit_denominator(
        40_000
    )  # up to 100 000 ppi, so that neither half outgrows 32 bits
    return (fraction.numerator, fraction.denominator) if fraction else (1, 40_000)


def exif_block(metadata: Metadata, ppi: Fraction | None) -> bytes | None:
    """Build an EXIF block, `Exif` and a TIFF behind it; None where it would be empty."""
    block = Image.Exif()
    for tag, value in metadata.ifd0.items():
        block[tag] = _writable(value)
    for directory, tags in ((EXIF_IFD, metadata.exif), (GPS_IFD, metadata.gps)):
        if tags:
            block.get_ifd(directory).update({tag: _writable(value) for tag, value in tags.items()})
    if ppi is not None:
        across, along, unit = RESOLUTION_TAGS
        block[across] = block[along] = TiffImagePlugin.IFDRational(*rational_of(ppi))
        block[unit] = INCH_UNIT
    if not len(block):
        return None
    try:
        return block.tobytes()
    except (struct.error, ValueError, TypeError, KeyError):
        return (
            exif_block(Metadata(ifd0=metadata.ifd0), ppi) if metadata.exif or metadata.gps else None
        )


def _writable(value: Any) -> Any:
    """Return text back as the bytes it was read from: readers and writers guess Latin-1."""
    if not isinstance(value, str) or value.isascii():
        return value
    try:
        return value.encode("latin-1")
    except UnicodeEncodeError:
        return value.encode()


def iptc_segment(iptc: bytes) -> bytes:
    """Return the body of a JPEG's APP13 block that holds an IPTC record."""
    padded = iptc + b"\x00" * (len(iptc) % 2)
    resource = b"8BIM" + struct.pack(">HHI", _IPTC_RESOURCE, 0, len(iptc)) + padded
    return b"Photoshop 3.0\x00" + resource


def without_unit(data: bytes) -> bytes:
    """Mark the resolution in every EXIF block of a file's bytes as having no absolute unit."""
    out, at = bytearray(data), -1
    while (at := data.find(b"Exif\x00\x00", at + 1)) >= 0:
        start = at + 6
        if data[start : start + 2] in (b"II", b"MM"):
            _set_unit(out, start)
    return bytes(out)


def tiff_without_unit(data: bytes) -> bytes:
    """Mark a TIFF's resolution as having no absolute unit: ResolutionUnit = 1 (TIFF 6.0, p. 38)."""
    out = bytearray(data)
    _set_unit(out, 0)
    return bytes(out)


def _set_unit(data: bytearray, start: int) -> None:
    order = "<" if data[start : start + 2] == b"II" else ">"
    (directory,) = struct.unpack(order + "I", data[start + 4 : start + 8])
    at = start + directory
    (count,) = struct.unpack(order + "H", data[at : at + 2])
    for entry in range(at + 2, at + 2 + 12 * count, 12):
        if struct.unpack(order + "H", data[entry : entry + 2])[0] == RESOLUTION_TAGS[2]:
            data[entry + 8 : entry + 10] = struct.pack(order + "H", NO_UNIT)


def into_tiff(data: bytes, metadata: Metadata) -> bytes:
    """Write EXIF into a TIFF: its first directory is written anew behind everything else."""
    texts = {tag: value for tag, value in metadata.ifd0.items() if isinstance(value, str)}
    if not texts and not metadata.exif and not metadata.gps:
        return data
    order = "<" if data[:2] == b"II" else ">"
    (start,) = struct.unpack(order + "I", data[4:8])
    (count,) = struct.unpack(order + "H", data[start : start + 2])
    entries = {
        struct.unpack(order + "H", data[at : at + 2])[0]: data[at : at + 12]
        for at in range(start + 2, start + 2 + 12 * count, 12)
    }
    following = data[start + 2 + 12 * count :][:4].ljust(4, b"\x00")
    out = bytearray(data)
    for group, tags in ((EXIF_IFD, metadata.exif), (GPS_IFD, metadata.gps)):
        out += b"\x00" * (len(out) % 2)
        place, words = len(out), _directory(data[:8], group, tags, len(out))
        if words:
            out += words
            entries[group] = struct.pack(order + "HHII", group, _LONG, 1, place)
    out += b"\x00" * (len(out) % 2)
    total = len(entries.keys() | texts.keys())
    added, below = _texts(order, texts, len(out) + 2 + 12 * total + 4)
    entries |= added
    out[4:8] = struct.pack(order + "I", len(out))
    out += struct.pack(order + "H", total) + b"".join(entries[tag] for tag in sorted(entries))
    return bytes(out + following + below)


def _directory(head: bytes, group: int, tags: dict[int, Any], at: int) -> bytes | None:
    """Return a directory of EXIF tags that will lie from `at` on; None where there is none."""
    if not tags:
        return None
    directory = TiffImagePlugin.ImageFileDirectory_v2(head, group=group)
    try:
        for tag, value in tags.items():
            directory[tag] = _writable(value)
        return directory.tobytes(at)
    except (struct.error, ValueError, TypeError, KeyError):
        return None  # a camera's odd value; the file is worth more than it


def _texts(order: str, texts: dict[int, str], at: int) -> tuple[dict[int, bytes], bytes]:
    """Return directory entries for texts whose bytes will lie from `at` on, and those bytes."""
    entries, below = {}, b""
    for tag, text in texts.items():
        words = _writable(text)
        value = (words if isinstance(words, bytes) else words.encode()) + b"\x00"
        if len(value) <= 4:
            entries[tag] = struct.pack(order + "HHI", tag, _ASCII, len(value)) + value.ljust(
                4, b"\x00"
            )
            continue
        entries[tag] = struct.pack(order + "HHII", tag, _ASCII, len(value), at + len(below))
        below += value + b"\x00" * (len(value) % 2)
    return entries, below
