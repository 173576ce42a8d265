"""Every format files are made in, and all that is known of each; a new one is a row here.

Its writer is registered in `core/pixels/encode/encode.py`; choices, endings, words, limits and
readers follow from the row.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

# A place in a file, and what stands there.
Signature = tuple[int, bytes]


@dataclass(frozen=True)
class Format:
    """A format of files.

    `longest_edge` is in pixels, None where the format sets no limit; `depths` are bits of a band;
    `reader` is Pillow's name for what reads it back; `inks` where it can carry CMYK.
    """

    key: str
    words: str
    ending: str
    mime: str
    signatures: tuple[Signature, ...]
    reader: str
    article: str = "a"
    endings: tuple[str, ...] = ()
    longest_edge: int | None = None
    lossless: bool = False
    alpha: bool = True
    depths: tuple[int, ...] = (8,)
    inks: bool = False

    @property
    def a_file(self) -> str:
        """Its words with their article: `a JPEG`, `an AVIF`."""
        return f"{self.article} {self.words}"


_EVERY = (
    # libjpeg's own limit, JPEG_MAX_DIMENSION
    Format("jpeg", "JPEG", ".jpg", "image/jpeg", ((0, b"\xff\xd8\xff"),), "Jpeg",
           endings=(".jpeg",), longest_edge=65_500, alpha=False, inks=True),
    Format("png", "PNG", ".png", "image/png", ((0, b"\x89PNG\r\n\x1a\n"),), "Png",
           lossless=True, depths=(8, 16)),
    Format("tiff", "TIFF", ".tif", "image/tiff", ((0, b"II"), (0, b"MM")), "Tiff",
           endings=(".tiff",), lossless=True, depths=(8, 16), inks=True),
    # 14 bits for an edge
    Format("webp", "WebP", ".webp", "image/webp", ((8, b"WEBP"),), "WebP", longest_edge=16_383),
    # the largest frame of AV1 at level 6
    Format("avif", "AVIF", ".avif", "image/avif", ((4, b"ftyp"),), "Avif",
           article="an", longest_edge=16_384),
)  # fmt: skip

FORMATS: dict[str, Format] = {each.key: each for each in _EVERY}

# What only sheets are made as.
PDF = Format("pdf", "PDF", ".pdf", "application/pdf", ((0, b"%PDF"),), "", alpha=False)


def format_of(kind: str) -> Format:
    """Return the format of a file of a photo or of a sheet.

    >>> format_of("pdf").ending, format_of("avif").a_file
    ('.pdf', 'an AVIF')
    """
    return PDF if kind == PDF.key else FORMATS[kind]


def lossy() -> tuple[str, ...]:
    """Return the formats that have a quality, which lose something."""
    return tuple(key for key, each in FORMATS.items() if not each.lossless)


if TYPE_CHECKING:
    FileFormat = str
    FileKind = str


def __getattr__(name: str) -> object:
    """Return the formats that are there as a type, for models and commands: read when they ask."""
    if name == "FileFormat":
        return Literal[tuple(FORMATS)]
    if name == "FileKind":
        return Literal[(*FORMATS, PDF.key)]
    raise AttributeError(name)
