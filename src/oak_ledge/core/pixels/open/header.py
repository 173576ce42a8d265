"""A photo's file opened, and what its header says; hostile files are expected here."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from typing import Any

import pyvips

from oak_ledge.core.errors import PhotoError, SizeError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.facts import Channels
from oak_ledge.core.pixels.open.border import TAKEN
from oak_ledge.core.pixels.open.developing import kind_of, open_header, open_pixels
from oak_ledge.core.sizes.file.profile_file import colours_of


def load(path: Path, *, header: bool = False, **options: Any) -> Any:
    """Open a file, by libvips or by what develops it; `header` leaves its pixels alone."""
    developed = kind_of(path)
    if developed is not None:
        return (open_header if header else open_pixels)(path, developed)
    options |= {"access": "sequential", "fail_on": "truncated"}
    try:
        if _is_text(path):
            return pyvips.Image.new_from_file(str(path), **options)
        with path.open("rb") as file:  # the library takes names as text only
            source = pyvips.Source.new_from_descriptor(file.fileno())
        return pyvips.Image.new_from_source(source, "", **options)
    except pyvips.Error as exc:
        raise PhotoError(not_a_picture()) from exc


def _is_text(path: Path) -> bool:
    try:
        str(path).encode()
    except UnicodeEncodeError:
        return False
    return True


def not_a_picture() -> str:
    """Return the error for a file that is no picture."""
    return f"it is not a picture that can be read. {TAKEN}"


def upright_size(path: Path) -> Pixels:
    """Return a picture's width and height upright, from its header."""
    image = load(path, header=True)
    size = (image.width, image.height)
    return size if orientation_of(image) < 5 else (size[1], size[0])


def orientation_of(image: Any) -> int:
    """Return the orientation tag, 1 where it is missing or nonsense."""
    tag = image.get("orientation") if image.get_typeof("orientation") else 1
    return tag if 1 <= tag <= 8 else 1


def channels_of(image: Any) -> Channels:
    """Return what its pixels are: grey, colours, or inks."""
    if image.interpretation == "cmyk":
        return "CMYK"
    return "grey" if image.bands - bool(image.hasalpha()) == 1 else "RGB"


def fits_pixels(icc: bytes, channels: Channels) -> bool:
    """Return whether a profile is for such pixels."""
    with suppress(SizeError):
        return colours_of(icc) == channels
    return False


def icc_of(image: Any) -> bytes | None:
    """Return the profile a picture carries."""
    return bytes(image.get("icc-profile-data")) if image.get_typeof("icc-profile-data") else None
