"""Encode pixels as a file: format, resolution and profile written right (rules, section 7)."""

from __future__ import annotations

import struct
import zlib
from collections.abc import Callable
from contextlib import suppress
from fractions import Fraction
from typing import Any

import numpy as np
import pyvips

from oak_ledge.core.errors import FileError
from oak_ledge.core.pixels.cut import Array
from oak_ledge.core.pixels.metadata import (
    NOTHING,
    Metadata,
    exif_block,
    into_tiff,
    iptc_segment,
    tiff_without_unit,
    without_unit,
)
from oak_ledge.core.pixels.photos import on_white
from oak_ledge.core.size_text import FORMAT_WORDS
from oak_ledge.core.sizes import FileFormat, FileSettings
from oak_ledge.core.units import (
    CM_PER_INCH,
    MM_PER_INCH,
    Pixels,
    bytes_words,
    halves_up,
    limit_words,
)

# libjpeg's own limit, JPEG_MAX_DIMENSION; WebP's 14 bits; AV1's largest frame at level 6
MOST_EDGES: dict[FileFormat, int] = {"jpeg": 65_500, "webp": 16_383, "avif": 16_384}
MOST_DENSITY = 65_535  # JFIF 1.02: 16 bits
MOST_SEGMENT = 65_533  # ITU T.81: its length counts itself in 16 bits
_EXIF, _XMP, _IPTC, _ICC = 1, 2, 4, 8  # libvips, VipsForeignKeep
_XMP_HEAD = b"http://ns.adobe.com/xap/1.0/\x00"
LEAST_QUALITY = 60  # under it a JPEG shows its blocks (rules, section 7)
ENDINGS: dict[FileFormat, str] = {
    "jpeg": ".jpg", "png": ".png", "tiff": ".tif", "webp": ".webp", "avif": ".avif",
}  # fmt: skip


def holdable_ppi(ppi: Fraction, file_format: FileFormat) -> float:
    """Give the resolution a format can really hold for one asked for.

    PNG's density is in whole pixels per metre (PNG, 11.3.5.3); TIFF's is a ratio, as is that of EXIF
    in JPEG, WebP and AVIF. What JFIF holds beside it is `jfif_density`.

    >>> holdable_ppi(Fraction(300), "png")
    299.9994
    """
    if file_format == "png":
        return per_metre(ppi) * float(MM_PER_INCH) / 1000
    return float(ppi)


def jfif_density(ppi: Fraction) -> tuple[int, int]:
    """Give the unit and density a JFIF block holds for a resolution (JFIF 1.02).

    Unit 1 is whole dots per inch, 2 is whole dots per centimetre: whichever is exact, else the
    nearest dots per inch. What has more than 16 bits is told per centimetre.

    >>> jfif_density(Fraction(300)), jfif_density(Fraction(1524, 5)), jfif_density(Fraction(481, 2))
    ((1, 300), (2, 120), (1, 241))
    """
    per_cm = ppi / CM_PER_INCH
    if (per_cm.denominator == 1 and ppi.denominator != 1) or ppi > MOST_DENSITY:
        return 2, halves_up(per_cm)
    return 1, max(1, halves_up(ppi))


def per_metre(ppi: Fraction) -> int:
    """Give whole pixels per metre for a resolution in ppi."""
    return max(1, halves_up(ppi * 1000 / MM_PER_INCH))


def encode(
    pixels: Array,
    settings: FileSettings,
    ppi: Fraction | None,
    icc: bytes | None,
    metadata: Metadata = NOTHING,
) -> bytes:
    """Encode pixels as the bytes of a file, no more of them than the settings allow.

    Parameters
    ----------
    pixels : (H, W, C) uint8 or uint16; JPEG, WebP and AVIF take them as 8 bits, JPEG on white
        where they have alpha
    settings : format, quality and greatest bytes; over those the highest quality that fits is
        found by bisection, down to `LEAST_QUALITY`
    ppi : written into the file, or None for none
    icc : profile to embed, or None
    metadata : what the file says about itself

    Raises
    ------
    FileError
        If the format cannot hold so many pixels, or the bytes can't be kept.
    """
    image, kind = image_of(pixels, icc), settings.format
    _check_edges(image, kind)
    if kind in ("jpeg", "webp", "avif"):
        image = _in_8_bits(on_white(image) if kind == "jpeg" else image)
        image = image if icc is None else with_icc(image, icc)
        lossy = {"jpeg": _jpeg, "webp": _webp, "avif": _avif}[kind]
        return _within(
            lambda quality: lossy(image, quality, settings, ppi, metadata),
            settings,
            (image.width, image.height),
        )
    image = image if icc is None else with_icc(image, icc)
    data = (_png if kind == "png" else _tiff)(image, settings, ppi, metadata)
    if settings.at_most is not None and len(data) > settings.at_most:
        msg = (
            f"as a {kind.upper()}, which loses nothing, it has {bytes_words(len(data))}; "
            f"at most {limit_words(settings.at_most)} may be. Choose JPEG, or fewer pixels"
        )
        raise FileError(msg)
    return data


def _check_edges(image: Any, kind: FileFormat) -> None:
    extent, most = max(image.width, image.height), MOST_EDGES.get(kind)
    if most is not None and extent > most:
        msg = (
            f"{FORMAT_WORDS[kind]} holds at most {most} px on an edge, not {extent}. "
            "Choose PNG or TIFF"
        )
        raise FileError(msg)


def _within(make: Callable[[int], bytes], settings: FileSettings, pixels: Pixels) -> bytes:
    """Make a file at its quality, or at the highest below at which it has few enough bytes."""
    data, most = make(settings.quality), settings.at_most
    if most is None or len(data) <= most:
        return data
    fits, low, high = None, LEAST_QUALITY, settings.quality - 1
    while low <= high:
        middle = (low + high + 1) // 2
        data = make(middle)
        if len(data) <= most:
            fits, low = data, middle + 1
        else:
            high = middle - 1
    if fits is not None:
        return fits
    share = min(0.99, (most / len(data)) ** 0.5 * 0.98)
    width, height = (max(1, int(edge * share)) for edge in pixels)
    msg = (
        f"even at quality {min(LEAST_QUALITY, settings.quality)} it has {bytes_words(len(data))}, "
        f"which exceeds the limit of {limit_words(most)}. Ask for fewer pixels, such as "
        f"{width} × {height}"
    )
    raise FileError(msg)


def _png(image: Any, settings: FileSettings, ppi: Fraction | None, metadata: Metadata) -> bytes:
    depth = 16 if image.format == "ushort" else 8
    image, keep = _with_blocks(image, ppi, metadata)
    data = bytes(image.pngsave_buffer(keep=keep, bitdepth=depth, compression=6))
    return _png_resolution(data, ppi)


def _tiff(image: Any, settings: FileSettings, ppi: Fraction | None, metadata: Metadata) -> bytes:
    image, keep = _with_blocks(image, ppi, metadata)
    data = bytes(
        image.tiffsave_buffer(
            keep=keep & ~_EXIF,  # libvips would leave it out; `into_tiff` writes the tags
            compression=settings.compression,
            predictor="horizontal",
            resunit="inch",
        )
    )
    data = into_tiff(data, metadata)
    return data if ppi is not None else tiff_without_unit(data)


def _webp(
    image: Any, quality: int, settings: FileSettings, ppi: Fraction | None, metadata: Metadata
) -> bytes:
    image, keep = _with_blocks(image, ppi, metadata)
    data = bytes(image.webpsave_buffer(Q=quality, keep=keep, effort=4))
    return data if ppi is not None else without_unit(data)


def _avif(
    image: Any, quality: int, settings: FileSettings, ppi: Fraction | None, metadata: Metadata
) -> bytes:
    image, keep = _with_blocks(image, ppi, metadata)
    data = bytes(
        image.heifsave_buffer(Q=quality, keep=keep, compression="av1", effort=4, bitdepth=8)
    )
    return data if ppi is not None else without_unit(data)


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


def image_of(pixels: Array, icc: bytes | None = None) -> Any:
    """Hand (H, W, C) pixels to the image library; four bands are RGBA but in a CMYK profile."""
    deep = pixels.dtype == np.uint16
    if icc is not None and pixels.shape[2] == 4 and icc[16:20] == b"CMYK":
        image = pyvips.Image.new_from_array(np.ascontiguousarray(pixels))
        return image.copy(interpretation="cmyk")
    colour = pixels.shape[2] > 2
    kind = {(False, False): "b-w", (False, True): "grey16", (True, False): "srgb"}.get(
        (colour, deep), "rgb16"
    )
    return pyvips.Image.new_from_array(np.ascontiguousarray(pixels), interpretation=kind)


def _in_8_bits(image: Any) -> Any:
    if image.format != "ushort":
        return image
    return image.colourspace("b-w" if image.bands == 1 else "srgb")


def with_icc(image: Any, icc: bytes) -> Any:
    """Give an image that carries a profile."""
    image = image.copy()
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", icc)
    return image


def _jpeg(
    image: Any, quality: int, settings: FileSettings, ppi: Fraction | None, metadata: Metadata
) -> bytes:
    fine = {"subsample_mode": "off"} if settings.fine_colour else {}
    data = bytes(
        image.jpegsave_buffer(Q=quality, keep="icc", interlace=settings.progressive, **fine)
    )
    return _jpeg_head(data, ppi, metadata)


def _jpeg_head(data: bytes, ppi: Fraction | None, metadata: Metadata) -> bytes:
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
    """Give a JFIF block (1.02) with a density, or none."""
    unit, density = (0, 1) if ppi is None else jfif_density(ppi)
    return segment(0xE0, b"JFIF\x00\x01\x02" + struct.pack(">BHHBB", unit, density, density, 0, 0))


def segment(marker: int, body: bytes) -> bytes:
    """Give a JPEG segment (ITU T.81, B.1.1.4)."""
    return struct.pack(">BBH", 0xFF, marker, len(body) + 2) + body


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
    """Give a PNG chunk (PNG, 5.3)."""
    return struct.pack(">I", len(body)) + name + body + struct.pack(">I", zlib.crc32(name + body))
