"""How the words for files and pixels are read: format, quality, bytes, bits, metadata, method, names."""

from __future__ import annotations

import re

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.bytes import read_bytes
from oak_ledge.core.sizes.choices import MethodChoice, SharpenFor
from oak_ledge.core.sizes.file.formats import FORMATS
from oak_ledge.core.sizes.text.reader import QUOTED, Fields, Reader

# What a method, a surface or a choice of metadata is called in a line.
METHOD_NAMES: dict[str, MethodChoice] = {
    "gentle": "mitchell", "natural": "bicubic", "crisp": "lanczos", "blocks": "nearest",
}  # fmt: skip
SURFACES: dict[str, SharpenFor] = {"screen": "screen", "smooth": "smooth", "rough": "rough"}
METADATA = {"all": "keep", "keep": "keep", "copyright": "copyright", "none": "none"}
PROFILES = {"srgb": "srgb", "p3": "p3", "grey": "grey", "gray": "grey"}

FORMAT_WORDS = {key: key for key in FORMATS} | {"jpg": "jpeg", "tif": "tiff"}


def _file(fields: Fields) -> Fields:
    file: Fields = fields.setdefault("file", {})
    return file


def read_format(reader: Reader, word: str, fields: Fields) -> None:
    """Read the format."""
    _file(fields)["format"] = FORMAT_WORDS[word]


_WHOLE = re.compile(r"\d{1,3}(?![\d.,]*\d)")


def read_quality(reader: Reader, word: str, fields: Fields) -> None:
    """Read `quality 85`."""
    reader.skip()
    start = reader.at
    quality = reader.take(_WHOLE)
    if quality is None or not 1 <= int(quality[0]) <= 100:
        reader.at = start
        msg = "a quality is a whole number from 1 to 100"
        raise reader.fail(msg, "Write it like quality 85.")
    _file(fields)["quality"] = int(quality[0])


_BYTES = re.compile(r"\d{1,12}(?:[.,]\d{1,9})?\s*(?:[kmg]b|bytes|[kmg])?(?!\w)", re.IGNORECASE)


def read_at_most(reader: Reader, word: str, fields: Fields) -> None:
    """Read `at most 300kB`."""
    limit = reader.take(_BYTES)
    if limit is None:
        msg = "how many bytes is missing behind “at most”"
        raise reader.fail(msg, "Write it like at most 300kB.")
    try:
        _file(fields)["at_most"] = read_bytes(limit[0])
    except SizeError as exc:
        raise reader.fail(str(exc)) from exc


def read_bits(reader: Reader, word: str, fields: Fields) -> None:
    """Read `8 bit` or `16 bit`."""
    _file(fields)["bits"] = 16 if word.startswith("16") else 8


def read_profile(reader: Reader, word: str, fields: Fields) -> None:
    """Read the profile: srgb, p3 or grey."""
    _file(fields)["profile"] = PROFILES[word]


_METADATA = re.compile(rf"({'|'.join(METADATA)})\b", re.IGNORECASE)


def read_metadata(reader: Reader, word: str, fields: Fields) -> None:
    """Read what is kept of the photo: `metadata copyright`."""
    kept = reader.take(_METADATA)
    if kept is None:
        msg = "what is kept is missing behind “metadata”"
        raise reader.fail(msg, "Write metadata all, metadata copyright or metadata none.")
    _file(fields)["metadata"] = METADATA[kept[1].lower()]


def read_no_location(reader: Reader, word: str, fields: Fields) -> None:
    """Leave out where the photo was taken."""
    _file(fields)["location"] = False


def read_method(reader: Reader, word: str, fields: Fields) -> None:
    """Read how pixels are resampled."""
    fields["method"] = METHOD_NAMES[word]


_SURFACE = re.compile(rf"({'|'.join(SURFACES)})\b", re.IGNORECASE)


def read_sharpen(reader: Reader, word: str, fields: Fields) -> None:
    """Read what is sharpened for, and how strongly."""
    surface = reader.take(_SURFACE)
    if surface is None:
        msg = "what it is sharpened for is missing"
        raise reader.fail(msg, "Write sharpen screen, sharpen smooth or sharpen rough.")
    fields["sharpen_for"] = SURFACES[surface[1].lower()]
    strength = reader.take(_WHOLE)
    if strength is not None:
        if int(strength[0]) > 100:
            msg = "a strength goes from 0 to 100"
            raise reader.fail(msg, "Write it like sharpen smooth 40.")
        fields["sharpen"] = int(strength[0])


def read_named(reader: Reader, word: str, fields: Fields) -> None:
    """Read the pattern of names, in quotes."""
    pattern = reader.take(QUOTED)
    if pattern is None or not pattern[1].strip():
        msg = "the pattern of names is missing, in quotes"
        raise reader.fail(msg, 'Write it like named "{photo}_{size}".')
    _file(fields)["pattern"] = pattern[1].strip()
