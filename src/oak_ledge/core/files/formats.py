"""Endings, and the largest edges, of the formats files are made in."""

from __future__ import annotations

from oak_ledge.core.sizes.choices import FileFormat, FileKind

# libjpeg's own limit, JPEG_MAX_DIMENSION; WebP's 14 bits; AV1's largest frame at level 6
MOST_EDGES: dict[FileFormat, int] = {"jpeg": 65_500, "webp": 16_383, "avif": 16_384}


ENDINGS: dict[FileKind, str] = {
    "jpeg": ".jpg", "png": ".png", "tiff": ".tif", "webp": ".webp", "avif": ".avif",
    "pdf": ".pdf",
}  # fmt: skip
