"""Photo + size + placement → a file on disk, measured. Web and command line make files here."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from oak_ledge.core.errors import CoreError, FileError
from oak_ledge.core.names import file_stem
from oak_ledge.core.photo_facts import PhotoFacts
from oak_ledge.core.pixels.cut import cut, load_shrink
from oak_ledge.core.pixels.files import ENDINGS, encode
from oak_ledge.core.pixels.photos import open_photo
from oak_ledge.core.pixels.proof import Asked, Measured, asked_of, differences, measure
from oak_ledge.core.placements import Placement, asked_pixels, crop_of
from oak_ledge.core.size_text import write_size
from oak_ledge.core.sizes import Size
from oak_ledge.store.folders import write_new


@dataclass(frozen=True)
class Made:
    """A finished file and what was measured of it."""

    path: Path
    asked: Asked
    measured: Measured


@dataclass(frozen=True)
class Work:
    """All that one file is made from."""

    path: Path
    photo_name: str
    photo: PhotoFacts
    size: Size
    placement: Placement
    job: str = ""
    number: int = 1


def make(work: Work, folder: Path) -> Made:
    """Make one file in a folder and measure it from disk.

    Raises
    ------
    CoreError
        If it cannot be made, or is not measured as asked. A file that fails its proof is
        taken away again: no wrong file lies about under a good name.
    """
    size, held = work.size, work.photo.held
    pixels = asked_pixels(size, held, work.placement)
    asked = asked_of(size, pixels)
    stem = file_stem(
        size.file.pattern,
        photo=work.photo_name,
        size=size.name or write_size(size),
        width=pixels[0],
        height=pixels[1],
        ppi=asked.ppi,
        job=work.job,
        number=work.number,
    )
    crop = crop_of(size, held, work.placement)
    opened = open_photo(work.path, shrink=load_shrink(crop, pixels))
    data = encode(cut(opened, crop, pixels, held), size.file, size.ppi, opened.icc)
    try:
        path = write_new(folder, stem, ENDINGS[size.file.format], data)
    except OSError as exc:
        msg = f"{folder} cannot be written to: {exc.strerror or exc}. Choose another folder"
        raise FileError(msg) from exc
    try:
        measured = measure(path)
        wrong = differences(size, asked, measured)
        if wrong:
            msg = f"{path.name} is not as asked: {'; '.join(wrong)}. It was removed"
            raise FileError(msg)
    except CoreError:
        path.unlink(missing_ok=True)
        raise
    return Made(path, asked, measured)
