"""The resolution and the profile a file says it has."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path
from typing import Any

from PIL import Image

from oak_ledge.core.pixels.containers.parts import png_chunks

# TIFF 6.0 and EXIF: ResolutionUnit 2 = inch, 3 = centimetre.
CM_UNIT = 3


# Bytes of EXIF or XMP that are read.
MOST_BLOCK = 2_000_000


# A label of more is damage.
MOST_PPI = 1_000_000


def profile_name(icc: bytes) -> str:
    """Return the name a colour profile carries."""
    from PIL import ImageCms  # here: it takes its time to load, and many photos carry none

    try:
        return ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(BytesIO(icc))).strip()
    except (ImageCms.PyCMSError, OSError):
        return "an unreadable profile"


def exif_of(image: Image.Image, path: Path) -> Image.Exif:
    """Return what a file says of itself as EXIF; a PNG's also from behind its pixels, which stay undecoded.

    Pillow would decode a PNG whole to look there.
    """
    if image.format != "PNG" or "exif" in image.info:
        return image.getexif()
    exif = Image.Exif()
    block = _png_chunk(path, b"eXIf")
    if block is not None:
        exif.load(b"Exif\0\0" + block)
    return exif


def xmp_of(image: Image.Image, path: Path) -> bytes | str | None:
    """Return a file's XMP packet; a PNG's also from behind its pixels."""
    packet = image.info.get("xmp") or image.info.get("XML:com.adobe.xmp")
    if packet or image.format != "PNG":
        return packet
    text = _png_chunk(path, b"iTXt", b"XML:com.adobe.xmp\0\0")  # PNG, 11.3.3.4: not compressed
    return None if text is None else text.split(b"\0", 5)[-1]


def _png_chunk(path: Path, name: bytes, start: bytes = b"") -> bytes | None:
    """Return the body of a PNG's first chunk of a name that begins so."""
    with path.open("rb") as file:
        for part in png_chunks(file):
            if part.name == name and part.length <= MOST_BLOCK:
                file.seek(part.end - 4 - part.length)
                body = file.read(part.length)
                if body.startswith(start):
                    return body
    return None


def recorded_ppi(image: Image.Image) -> float | None:
    """Return the resolution a file records, in ppi, or None where it records none that can be.

    JFIF density comes before EXIF, unless it only rounds what EXIF says exactly; PNG pHYs; TIFF and
    EXIF tags 282 and 296.
    """
    info = image.info
    if image.format == "PNG":
        return sound_ppi(info["dpi"][0]) if "dpi" in info else None
    tags = getattr(image, "tag_v2", None) or image.getexif()
    value, unit = sound_ppi(tags.get(282)), tags.get(296, 2)
    exact = None
    if value is not None and unit in (2, CM_UNIT):
        exact = round(value * (2.54 if unit == CM_UNIT else 1), 4)
    if "jfif_density" not in info or info.get("jfif_unit") not in (1, 2):
        return exact
    step = 2.54 if info["jfif_unit"] == 2 else 1.0
    rounded = sound_ppi(info["jfif_density"][0] * step)
    if rounded is not None and exact is not None and abs(rounded - exact) <= step / 2 + 1e-6:
        return exact
    return rounded


def sound_ppi(ppi: Any) -> float | None:
    """Return a recorded resolution, or None where it is none: nothing, 0, endless, beyond all sense."""
    try:
        value = float(ppi)
    except (TypeError, ValueError, ZeroDivisionError, OverflowError):
        return None
    return value if 0 < value <= MOST_PPI else None
