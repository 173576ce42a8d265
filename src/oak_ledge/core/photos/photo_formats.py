"""Every format photos come in, and all that is known of each; a new one is a row here.

What decodes it is named by its reader; choices of files, watched folders and originals follow.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

PhotoFormat = Literal["JPEG", "PNG", "TIFF", "WebP", "AVIF", "HEIC", "raw"]


@dataclass(frozen=True)
class PhotoKind:
    """A format of photos.

    `ending` is the original's own, `endings` all that photos of it are called by; `loaders` are the
    image library's names for what reads it, `readers` Pillow's; `whole` where it can't be decoded row
    by row.
    """

    ending: str
    endings: tuple[str, ...]
    loaders: tuple[str, ...]
    readers: tuple[str, ...] = ()
    whole: bool = False


# Camera makers' own endings, as their cameras write them.
_RAW = (".dng", ".cr2", ".cr3", ".nef", ".arw", ".raf", ".orf", ".rw2", ".pef", ".srw")

PHOTO_FORMATS: dict[PhotoFormat, PhotoKind] = {
    "JPEG": PhotoKind(".jpg", (".jpg", ".jpeg"), ("jpeg",), ("JPEG", "MPO")),
    "PNG": PhotoKind(".png", (".png",), ("png",), ("PNG",)),
    "TIFF": PhotoKind(".tif", (".tif", ".tiff"), ("tiff",), ("TIFF",)),
    "WebP": PhotoKind(".webp", (".webp",), ("webp",), ("WEBP",), whole=True),
    "AVIF": PhotoKind(".avif", (".avif",), ("heif",), ("AVIF",), whole=True),
    "HEIC": PhotoKind(".heic", (".heic", ".heif"), ("heic",), whole=True),
    "raw": PhotoKind(".raw", _RAW, ("raw",)),
}


def photo_endings() -> tuple[str, ...]:
    """Return every ending that photos come with, in small letters."""
    return tuple(ending for kind in PHOTO_FORMATS.values() for ending in kind.endings)


def accepted() -> str:
    """Return what a field for files takes: pictures, and endings that no browser knows for such."""
    known = {"JPEG", "PNG", "TIFF", "WebP"}
    more = (kind.endings for name, kind in PHOTO_FORMATS.items() if name not in known)
    return ",".join(["image/*", *(ending for endings in more for ending in endings)])
