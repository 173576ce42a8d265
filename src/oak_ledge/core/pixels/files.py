"""Encode pixels as a file: format, resolution and profile written right (rules, section 7)."""

from __future__ import annotations

import struct
import zlib
from contextlib import suppress
from fractions import Fraction
from typing import Any

import numpy as np
import pyvips
from PIL import Image

from oak_ledge.core.errors import FileError
from oak_ledge.core.pixels.cut import Array
from oak_ledge.core.pixels.photos import on_white
from oak_ledge.core.sizes import FileFormat, FileSettings
from oak_ledge.core.units import MM_PER_INCH, bytes_words, halves_up, limit_words, rounded

JPEG_MOST_EDGE = 65_500  # libjpeg's own limit, JPEG_MAX_DIMENSION
LEAST_QUALITY = 60  # under it a JPEG shows its blocks (rules, section 7)
INCH_UNIT, NO_UNIT = 2, 1  # TIFF 6.0, ResolutionUnit
RESOLUTION_TAGS = (282, 283, 296)  # across, along, unit: TIFF 6.0 and EXIF alike
ENDINGS: dict[FileFormat, str] = {"jpeg": ".jpg", "png": ".png", "tiff": ".tif"}


def holdable_ppi(ppi: Fraction, file_format: FileFormat) -> float:
    """Give the resolution a format can really hold for one asked for.

    JPEG's density is in whole dots per inch (JFIF 1.02), PNG's in whole pixels per metre
    (PNG, 11.3.5.3); TIFF's is a ratio.

    >>> holdable_ppi(Fraction(300), "png")
    299.9994
    """
    if file_format == "jpeg":
        return float(max(1, halves_up(ppi)))
    if file_format == "png":
        return per_metre(ppi) * float(MM_PER_INCH) / 1000
    return float(ppi)


def per_metre(ppi: Fraction) -> int:
    """Give whole pixels per metre for a resolution in ppi."""
    return max(1, halves_up(ppi * 1000 / MM_PER_INCH))


def encode(pixels: Array, settings: FileSettings, ppi: Fraction | None, icc: bytes | None) -> bytes:
    """Encode pixels as the bytes of a file, no more of them than the settings allow.

    Parameters
    ----------
    pixels : (H, W, C) uint8 or uint16; JPEG takes them as 8 bits, on white where they have alpha
    settings : format, quality and greatest bytes; over those the highest JPEG quality that fits
        is found by bisection, down to `LEAST_QUALITY`
    ppi : written into the file, or None for none
    icc : profile to embed, or None

    Raises
    ------
    FileError
        If the format cannot hold so many pixels, or the bytes can't be kept.
    """
    image = image_of(pixels)
    if settings.format == "jpeg":
        return _jpeg_within(_for_jpeg(image, icc), settings, ppi)
    data = (_png if settings.format == "png" else _tiff)(image, ppi, icc)
    if settings.at_most is not None and len(data) > settings.at_most:
        msg = (
            f"as a {settings.format.upper()}, which loses nothing, it has {bytes_words(len(data))}; "
            f"at most {limit_words(settings.at_most)} may be. Choose JPEG, or fewer pixels"
        )
        raise FileError(msg)
    return data


def _jpeg_within(image: Any, settings: FileSettings, ppi: Fraction | None) -> bytes:
    data, most = _jpeg(image, settings.quality, ppi), settings.at_most
    if most is None or len(data) <= most:
        return data
    fits, low, high = None, LEAST_QUALITY, settings.quality - 1
    while low <= high:
        middle = (low + high + 1) // 2
        data = _jpeg(image, middle, ppi)
        if len(data) <= most:
            fits, low = data, middle + 1
        else:
            high = middle - 1
    if fits is not None:
        return fits
    fewer = rounded((most / len(data)) ** 0.5 * 100, 0)
    msg = (
        f"even at quality {min(LEAST_QUALITY, settings.quality)} it has {bytes_words(len(data))}; at "
        f"most {limit_words(most)} may be. Ask for fewer pixels: about {fewer} % of each edge"
    )
    raise FileError(msg)


def _png(image: Any, ppi: Fraction | None, icc: bytes | None) -> bytes:
    image = image if icc is None else with_icc(image, icc)
    depth = 16 if image.format == "ushort" else 8
    data = bytes(image.pngsave_buffer(keep="icc", bitdepth=depth, compression=6))
    return _png_resolution(data, ppi)


def _tiff(image: Any, ppi: Fraction | None, icc: bytes | None) -> bytes:
    image = image if icc is None else with_icc(image, icc)
    if ppi is not None:
        per_mm = float(ppi / MM_PER_INCH)
        image = image.copy(xres=per_mm, yres=per_mm)
    data = bytes(
        image.tiffsave_buffer(keep="icc", compression="lzw", predictor="horizontal", resunit="inch")
    )
    return data if ppi is not None else _tiff_without_unit(data)


def encode_preview(pixels: Array, icc: bytes | None) -> bytes:
    """Encode (H, W, C) pixels as a JPEG for the screen, in sRGB, transparent parts white."""
    image = on_white(image_of(pixels))
    if icc is not None:
        with suppress(pyvips.Error):  # a broken profile: shown as it is
            image = with_icc(image, icc).icc_transform("srgb", embedded=True)
    return bytes(_in_8_bits(image).jpegsave_buffer(Q=90, keep="none"))


def image_of(pixels: Array) -> Any:
    """Hand (H, W, C) pixels to the image library."""
    deep = pixels.dtype == np.uint16
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


def _for_jpeg(image: Any, icc: bytes | None) -> Any:
    extent = max(image.width, image.height)
    if extent > JPEG_MOST_EDGE:
        msg = f"JPEG holds at most {JPEG_MOST_EDGE} px on an edge, not {extent}. Choose PNG or TIFF"
        raise FileError(msg)
    image = _in_8_bits(on_white(image))
    return image if icc is None else with_icc(image, icc)


def _jpeg(image: Any, quality: int, ppi: Fraction | None) -> bytes:
    data = bytes(image.jpegsave_buffer(Q=quality, keep="icc"))
    return _jpeg_resolution(data, None if ppi is None else max(1, halves_up(ppi)))


def _jpeg_resolution(data: bytes, ppi: int | None) -> bytes:
    """Put density into JFIF and EXIF, both the same: readers differ in which they believe."""
    head = b"\xff\xd8" + jfif_segment(ppi)
    if ppi is not None:
        head += segment(0xE1, exif_of(ppi))
    at = 2
    while data[at : at + 2] == b"\xff\xe0":  # the encoder's own JFIF block
        at += 2 + struct.unpack(">H", data[at + 2 : at + 4])[0]
    return head + data[at:]


def exif_of(ppi: int) -> bytes:
    """Give the body of an EXIF block that holds a resolution and nothing else."""
    exif = Image.Exif()
    across, along, unit = RESOLUTION_TAGS
    exif[across] = exif[along] = float(ppi)
    exif[unit] = INCH_UNIT
    return exif.tobytes()


def jfif_segment(ppi: int | None) -> bytes:
    """Give a JFIF block (1.02) with a density in dots per inch, or none."""
    unit, density = (1, ppi) if ppi is not None else (0, 1)
    return segment(0xE0, b"JFIF\x00\x01\x02" + struct.pack(">BHHBB", unit, density, density, 0, 0))


def segment(marker: int, body: bytes) -> bytes:
    """Give a JPEG segment (ITU T.81, B.1.1.4)."""
    return struct.pack(">BBH", 0xFF, marker, len(body) + 2) + body


def _png_resolution(data: bytes, ppi: Fraction | None) -> bytes:
    """Replace the pHYs chunk, or leave it out."""
    at, parts = 8, [data[:8]]
    while at < len(data):
        length = struct.unpack(">I", data[at : at + 4])[0]
        name = data[at + 4 : at + 8]
        if name != b"pHYs":
            parts.append(data[at : at + 12 + length])
        if name == b"IHDR" and ppi is not None:
            body = b"pHYs" + struct.pack(">IIB", per_metre(ppi), per_metre(ppi), 1)
            parts.append(struct.pack(">I", 9) + body + struct.pack(">I", zlib.crc32(body)))
        at += 12 + length
    return b"".join(parts)


def _tiff_without_unit(data: bytes) -> bytes:
    """Say that a TIFF's resolution has no absolute unit: ResolutionUnit = 1 (TIFF 6.0, p. 38)."""
    order = "<" if data[:2] == b"II" else ">"
    (directory,) = struct.unpack(order + "I", data[4:8])
    (count,) = struct.unpack(order + "H", data[directory : directory + 2])
    out = bytearray(data)
    for entry in range(directory + 2, directory + 2 + 12 * count, 12):
        if struct.unpack(order + "H", data[entry : entry + 2])[0] == RESOLUTION_TAGS[2]:
            out[entry + 8 : entry + 10] = struct.pack(order + "H", NO_UNIT)
    return bytes(out)
