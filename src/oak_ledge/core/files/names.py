"""File names from a pattern: safe on every file system, never one over another (rules, section 7)."""

from __future__ import annotations

import re
import string
import unicodedata
from functools import lru_cache
from pathlib import PurePath
from typing import Literal

import pathvalidate

from oak_ledge.core.errors import FileError
from oak_ledge.core.files.proof import Asked
from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.write import file_text

FIELDS = ("photo", "size", "width", "height", "ppi", "job", "number")


# What files that are handed out stand together by, in sub-folders.
Sorting = Literal["none", "size", "photo"]


# Bytes left free for a number and an ending under the usual 255.
MOST_LENGTH = 120


def file_stem(
    pattern: str, *, photo: str, size: str, width: int, height: int, ppi: float | None,
    job: str = "", number: int = 1,
) -> str:  # fmt: skip
    """Fill a pattern and make it safe; the ending is not part of it.

    Raises
    ------
    FileError
        If the pattern has a field that does not exist.

    Examples
    --------
    >>> file_stem("{photo}_{size}", photo="quay.jpg", size="8 × 10 in", width=1, height=1, ppi=None)
    'quay_8-x-10-in'
    """
    values = {
        "photo": safe(PurePath(photo).stem),
        "size": safe(size),
        "width": str(width),
        "height": str(height),
        "ppi": "" if ppi is None else rounded(ppi, 2),
        "job": safe(job),
        "number": f"{number:03d}",
    }
    try:
        pattern_fields = [
            field for _, field, _, _ in string.Formatter().parse(pattern) if field is not None
        ]
    except ValueError as exc:
        msg = f"the name pattern “{pattern}” has an unmatched brace"
        raise FileError(msg) from exc
    for field in pattern_fields:
        if field not in FIELDS:
            fields = ", ".join("{" + name + "}" for name in FIELDS)
            msg = f"the name pattern has {{{field}}}, which is unknown; there are {fields}"
            raise FileError(msg)
    filled = pattern
    for field, value in values.items():
        filled = filled.replace("{" + field + "}", value)
    return safe(filled)


@lru_cache(maxsize=1024)  # a name is told anew at every frame of a drag, of the same parts
def safe(text: str) -> str:
    """Keep what every file system can hold; the rest becomes a dash.

    >>> safe("../../etc: passwd?"), safe("Müritz 20×30"), safe("nul"), safe("LPT1.tiff_8")
    ('etc-passwd', 'Müritz-20x30', 'nul_', 'LPT1_.tiff_8')
    """
    text = text.encode(errors="replace").decode()  # a name on disk may be no text
    text = unicodedata.normalize("NFC", text).replace("×", "x").replace("%", "pct")
    text = re.sub(r"[^\w.+@-]+", "-", text)
    text = re.sub(r"-{2,}", "-", text).lstrip("-. ")
    text = text.encode()[:MOST_LENGTH].decode(errors="ignore").rstrip("-. ") or "photo"
    # without the names that some system keeps for itself
    return pathvalidate.sanitize_filename(text, platform="universal")


def sub_folder(by: Sorting, *, photo: str, size: str) -> str:
    """Name the sub-folder a file stands in; nothing where files are not sorted.

    >>> sub_folder("size", photo="quay.jpg", size="8 × 10 in"), sub_folder("none", photo="", size="")
    ('8-x-10-in', '')
    """
    return {"none": "", "size": safe(size), "photo": safe(PurePath(photo).stem)}[by]


def unlike(stem: str, ending: str, taken: set[str]) -> str:
    """Return a name that is not taken, whatever the case of its letters, and take it.

    >>> taken: set[str] = set()
    >>> [unlike("quay", ".jpg", taken), unlike("Quay", ".jpg", taken)]
    ['quay.jpg', 'Quay-2.jpg']
    """
    name, number = f"{stem}{ending}", 1
    while name.casefold() in taken:
        number += 1
        name = f"{stem}-{number}{ending}"
    taken.add(name.casefold())
    return name


def stem_on(
    size: Size, asked: Asked, photo: str, job: str, number: int, panel: int | None = None
) -> str:
    """Fill the name pattern of a size for one photo; a panel's number stands behind it.

    Raises
    ------
    FileError
        If the pattern has a field that does not exist.
    """
    stem = file_stem(
        size.file.pattern,
        photo=photo,
        size=size.name or file_text(size),
        width=asked.width,
        height=asked.height,
        ppi=asked.ppi,
        job=job,
        number=number,
    )
    return stem if panel is None else f"{stem}_{panel}"
