"""Encode pixels as a file: format, resolution and profile written right (rules, section 7)."""

from __future__ import annotations

import struct
import zlib
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

import pyvips

from oak_ledge.core.errors import FileError, FileTooHeavyError
from oak_ledge.core.files.density import per_metre
from oak_ledge.core.measures.bytes import too_many
from oak_ledge.core.measures.lengths import MM_PER_INCH, Pixels
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.encode.exif import (
    NOTHING,
    Metadata,
    exif_block,
    into_tiff,
    tiff_without_unit,
    without_unit,
)
from oak_ledge.core.pixels.encode.image import image_of, with_icc
from oak_ledge.core.pixels.encode.jpeg import jpeg_head
from oak_ledge.core.pixels.encode.jpeg_parts import in_one, rows_at_once
from oak_ledge.core.pixels.open.photo import on_white
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.core.sizes.file.formats import FORMATS, Format

# Libvips, VipsForeignKeep.
_EXIF, _XMP, _IPTC, _ICC = 1, 2, 4, 8


def encode(
    pixels: Array,
    settings: FileSettings,
    ppi: Fraction | None,
    icc: bytes | None,
    metadata: Metadata = NOTHING,
) -> bytes:
    """Encode pixels as the bytes of one file: `encode_alike` of them alone."""
    return encode_alike([pixels], settings, ppi, icc, metadata)[0]


@dataclass(frozen=True)
class WriteCall:
    """What a writer is told beside the picture; a lossless one does not ask for the quality."""

    settings: FileSettings
    quality: int
    ppi: Fraction | None
    metadata: Metadata
    cores: int = 1


# Encodes a picture of the image library, whose profile is attached, as the bytes of a file.
Writer = Callable[[Any, WriteCall], bytes]

WRITERS: dict[str, Writer] = {}


def writes(key: str) -> Callable[[Writer], Writer]:
    """Register what writes a format, under the format's key."""

    def registered(writer: Writer) -> Writer:
        WRITERS[key] = writer
        return writer

    return registered


def encode_alike(
    parts: Sequence[Array],
    settings: FileSettings,
    ppi: Fraction | None,
    icc: bytes | None,
    metadata: Metadata = NOTHING,
    *,
    cores: int = 1,
) -> list[bytes]:
    """Encode parts of one picture as files of the same quality, none with more bytes than allowed.

    Parameters
    ----------
    parts : each (H, W, C) uint8 or uint16; JPEG, WebP and AVIF take them as 8 bits, JPEG on white
        where they have alpha
    settings : format, quality and greatest bytes; over those the highest quality that fits is
        found by bisection, down to the settings' floor; one for all, or a joint would be seen
    ppi : written into the file, or None for none
    icc : profile to embed, or None
    metadata : what the file says about itself
    cores : how many may encode a JPEG at once; its bytes are the same

    Raises
    ------
    FileError
        If the format cannot hold so many pixels, or the bytes can't be kept.
    """
    kind, write = FORMATS[settings.format], WRITERS[settings.format]
    images = [_image_for(pixels, kind, settings, icc) for pixels in parts]

    def written(quality: int) -> list[bytes]:
        call = WriteCall(settings, quality, ppi, metadata, cores)
        return [write(image, call) for image in images]

    if not kind.lossless:
        return _within(written, settings, (images[0].width, images[0].height))
    files = written(settings.quality)
    largest = max(map(len, files))
    if settings.at_most is not None and largest > settings.at_most:
        msg = (
            f"as {kind.a_file}, which loses nothing, {too_many(largest, settings.at_most)}. "
            "Choose JPEG, or fewer pixels"
        )
        raise FileError(msg)
    return files


def _image_for(pixels: Array, kind: Format, settings: FileSettings, icc: bytes | None) -> Any:
    """Return a picture as its format takes it: on white where that has no alpha, and in its depth."""
    image = image_of(pixels, icc)
    _check_edges(image, kind)
    if not kind.alpha:
        image = on_white(image)
    if 16 not in kind.depths or settings.bits == 8:
        image = _in_8_bits(image)
    elif settings.bits == 16:
        image = _in_16_bits(image)
    return image if icc is None else with_icc(image, icc)


def _check_edges(image: Any, kind: Format) -> None:
    extent, most = max(image.width, image.height), kind.longest_edge
    if most is not None and extent > most:
        msg = f"{kind.words} holds at most {most} px on an edge, not {extent}. Choose PNG or TIFF"
        raise FileError(msg)


def _within(
    make: Callable[[int], list[bytes]], settings: FileSettings, pixels: Pixels
) -> list[bytes]:
    """Make files at their quality, or at the highest below at which each has few enough bytes."""
    files, most = make(settings.quality), settings.at_most
    if most is None or max(map(len, files)) <= most:
        return files
    floor = min(settings.floor, settings.quality)
    fits, low, high = None, floor, settings.quality - 1
    while low <= high:
        middle = (low + high + 1) // 2
        files = make(middle)
        if max(map(len, files)) <= most:
            fits, low = files, middle + 1
        else:
            high = middle - 1
    if fits is not None:
        return fits
    largest = max(map(len, files))
    share = min(0.99, (most / largest) ** 0.5 * 0.98)
    width, height = (max(1, int(edge * share)) for edge in pixels)
    why = f"even at quality {floor} {too_many(largest, most)}"
    raise FileTooHeavyError(why, f"Ask for fewer pixels, such as {width} × {height}")


@writes("png")
def _png(image: Any, call: WriteCall) -> bytes:
    depth = 16 if image.format == "ushort" else 8
    image, keep = _with_blocks(image, call.ppi, call.metadata)
    data = bytes(image.pngsave_buffer(keep=keep, bitdepth=depth, compression=6))
    return _png_resolution(data, call.ppi)


@writes("tiff")
def _tiff(image: Any, call: WriteCall) -> bytes:
    image, keep = _with_blocks(image, call.ppi, call.metadata)
    data = bytes(
        image.tiffsave_buffer(
            keep=keep & ~_EXIF,  # libvips would leave it out; `into_tiff` writes the tags
            compression=call.settings.compression,
            predictor="horizontal",
            resunit="inch",
        )
    )
    data = into_tiff(data, call.metadata)
    return data if call.ppi is not None else tiff_without_unit(data)


@writes("webp")
def _webp(image: Any, call: WriteCall) -> bytes:
    image, keep = _with_blocks(image, call.ppi, call.metadata)
    data = bytes(image.webpsave_buffer(Q=call.quality, keep=keep, effort=4))
    return data if call.ppi is not None else without_unit(data)


@writes("avif")
def _avif(image: Any, call: WriteCall) -> bytes:
    image, keep = _with_blocks(image, call.ppi, call.metadata)
    data = bytes(
        image.heifsave_buffer(Q=call.quality, keep=keep, compression="av1", effort=4, bitdepth=8)
    )
    return data if call.ppi is not None else without_unit(data)


def _with_blocks(image: Any, ppi: Fraction | None, metadata: Metadata) -> tuple[Any, int]:
    """Attach what libvips writes itself, and say which of it to write."""
    image, keep = image.copy(), _ICC
    exif = exif_block(metadata, ppi)
    if ppi is not None:
        per_mm = float(ppi / MM_PER_INCH)
        image = image.copy(xres=per_mm, yres=per_mm)
    if exif is not None:
        image.set_type(pyvips.GValue.blob_type, "exif-data", exif)
        keep |= _EXIF
    for name, block, flag in (
        ("xmp-data", metadata.xmp, _XMP),
        ("iptc-data", metadata.iptc, _IPTC),
    ):
        if block is not None:
            image.set_type(pyvips.GValue.blob_type, name, block)
            keep |= flag
    return image, keep


def encode_preview(pixels: Array, icc: bytes | None) -> bytes:
    """Encode (H, W, C) pixels as a JPEG for the screen, in sRGB, transparent parts white."""
    image = on_white(image_of(pixels, icc))
    if icc is not None:
        with suppress(pyvips.Error):  # a broken profile: shown as it is
            image = with_icc(image, icc).icc_transform("srgb", embedded=True)
    return bytes(_in_8_bits(image).jpegsave_buffer(Q=90, keep="none"))


def encode_picture(pixels: Array, icc: bytes | None) -> bytes:
    """Encode (H, W, C) pixels as a PNG in sRGB, 8 bits, see-through where they are."""
    image = image_of(pixels, icc)
    if icc is not None:
        with suppress(pyvips.Error):  # a broken profile: as it is
            image = with_icc(image, icc).icc_transform("srgb", embedded=True)
    return bytes(_in_8_bits(image).pngsave_buffer(keep="none", compression=3))


def _in_8_bits(image: Any) -> Any:
    if image.format != "ushort":
        return image
    if _is_grey(image) and image.hasalpha():  # which libvips would take for colours
        return image.cast("uchar", shift=True).copy(interpretation="b-w")
    return image.colourspace("b-w" if image.bands == 1 else "srgb")


def _is_grey(image: Any) -> bool:
    return bool(image.bands - int(image.hasalpha()) == 1)


def _in_16_bits(image: Any) -> Any:
    """Return the same values in 16 bits: 255 becomes 65535."""
    if image.format == "ushort":
        return image
    deep = (image.cast("ushort") * 257).cast("ushort")
    return deep.copy(interpretation="grey16" if _is_grey(image) else "rgb16")


@writes("jpeg")
def _jpeg(image: Any, call: WriteCall) -> bytes:
    """Encode a JPEG in parts; what is no pixel stands in the first of them."""
    width, height = image.width, image.height
    rows = height if call.settings.progressive else rows_at_once(width, height)
    fine = {"subsample_mode": "off"} if call.settings.fine_colour else {}

    def saved(top: int) -> bytes:
        part = image.crop(0, top, width, min(rows, height - top)).copy()
        # libvips' own name: the parts are shared out among threads already
        part.set_type(pyvips.GValue.gint_type, "concurrency", 1)
        keep = "icc" if top == 0 else "none"
        return bytes(
            part.jpegsave_buffer(
                Q=call.quality, keep=keep, interlace=call.settings.progressive, **fine
            )
        )

    with ThreadPoolExecutor(call.cores) as pool:
        parts = list(pool.map(saved, range(0, height, rows)))
    return jpeg_head(in_one(parts, (width, height), rows), call.ppi, call.metadata)


def _png_resolution(data: bytes, ppi: Fraction | None) -> bytes:
    """Replace the pHYs chunk, or leave it out, and then say so in the EXIF chunk too."""
    at, parts = 8, [data[:8]]
    while at < len(data):
        length = struct.unpack(">I", data[at : at + 4])[0]
        name, body = data[at + 4 : at + 8], data[at + 8 : at + 8 + length]
        if name == b"eXIf" and ppi is None:
            body = tiff_without_unit(body)
        if name != b"pHYs":
            parts.append(_chunk(name, body))
        if name == b"IHDR" and ppi is not None:
            parts.append(_chunk(b"pHYs", struct.pack(">IIB", per_metre(ppi), per_metre(ppi), 1)))
        at += 12 + length
    return b"".join(parts)


def _chunk(name: bytes, body: bytes) -> bytes:
    """Return a PNG chunk (PNG, 5.3)."""
    return struct.pack(">I", len(body)) + name + body + struct.pack(">I", zlib.crc32(name + body))
