"""Measure a file from disk, by a reader that did not write it: asked = measured."""

from __future__ import annotations

import hashlib
from pathlib import Path

from PIL import Image, UnidentifiedImageError

from oak_ledge.core.errors import FileError
from oak_ledge.core.files.proof import Measured
from oak_ledge.core.pixels.open.label import profile_name, recorded_ppi
from oak_ledge.core.sizes.choices import FileFormat

_FORMATS: dict[str, FileFormat] = {
    "JPEG": "jpeg", "PNG": "png", "TIFF": "tiff", "WEBP": "webp", "AVIF": "avif",
}  # fmt: skip


_ORIENTATION_TAG = 274  # EXIF 2.32, 4.6.4


_BITS_TAG = 258  # TIFF 6.0, BitsPerSample


_PNG_DEPTH_AT = 24  # PNG, 11.2.2: the byte of the bit depth in IHDR


def measure(path: Path) -> Measured:
    """Open a file from disk, decode it, and measure it.

    Raises
    ------
    FileError
        If it cannot be opened or is damaged.
    """
    try:
        with Image.open(path, formats=("JPEG", "PNG", "TIFF", "WEBP", "AVIF")) as image:
            form = _FORMATS[image.format or ""]
            width, height = image.size
            if image.getexif().get(_ORIENTATION_TAG, 1) >= 5:  # a relabelled original keeps its tag
                width, height = height, width
            ppi = recorded_ppi(image)
            icc = image.info.get("icc_profile")
            bits = _bits(image, path)
            if form == "jpeg":
                image.draft(
                    image.mode, (max(1, width // 8), max(1, height // 8))
                )  # reads every byte, draws less
            image.load()
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, KeyError) as exc:
        msg = f"{path.name} cannot be read back from disk: {exc}"
        raise FileError(msg) from exc
    return Measured(
        width=width,
        height=height,
        ppi=None if ppi is None else round(ppi, 4),
        bytes=path.stat().st_size,
        format=form,
        profile=None if icc is None else profile_name(icc),
        bits=bits,
        sha256=file_hash(path),
    )


def file_hash(path: Path) -> str:
    """Give the SHA-256 of a whole file, in hexadecimal digits."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _bits(image: Image.Image, path: Path) -> int:
    if image.format == "PNG":
        with path.open("rb") as file:
            return file.read(_PNG_DEPTH_AT + 1)[_PNG_DEPTH_AT]
    tags = getattr(image, "tag_v2", None)
    return int(tags[_BITS_TAG][0]) if tags is not None and _BITS_TAG in tags else 8
