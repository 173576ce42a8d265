"""Photo + size + placement → a file on disk, measured. Web and command line make files here."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from oak_ledge.core.errors import FileError
from oak_ledge.core.files.formats import ENDINGS
from oak_ledge.core.files.limits import Limits, check_output
from oak_ledge.core.files.names import stem_on
from oak_ledge.core.files.proof import Asked, Measured, asked_of, differences
from oak_ledge.core.files.relabelled import is_relabelled
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.pixels.cut.cut import prove_whole
from oak_ledge.core.pixels.encode.encode import encode
from oak_ledge.core.pixels.encode.exif import metadata_of
from oak_ledge.core.pixels.encode.relabel import relabelled_jpeg
from oak_ledge.core.pixels.open.border import reading_pixels
from oak_ledge.core.pixels.open.photo import open_photo
from oak_ledge.core.pixels.prove.measure import measure
from oak_ledge.core.pixels.render import held_like, render
from oak_ledge.core.placements.crop import Crop, asked_pixels, crop_of
from oak_ledge.core.placements.held import held_at
from oak_ledge.core.placements.placement import Placement, size_at
from oak_ledge.core.sizes.size import Size
from oak_ledge.store.folders import place_new, place_over, written


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

    @property
    def held(self) -> Pixels:
        """The extent the placement lies on."""
        return held_at(self.size, self.photo.held, self.placement)


def make(work: Work, folder: Path, limits: Limits) -> Made:
    """Make one file in a folder and measure it from disk: `draw`, then `finish`."""
    return finish(work, draw(work, limits), folder)


def draw(work: Work, limits: Limits) -> bytes:
    """Draw and encode one file in memory.

    Raises
    ------
    CoreError
        If it cannot be made.
    """
    size = size_at(work.size, work.placement)
    check_output(asked_pixels(size, work.held, work.placement), limits)
    crop = crop_of(size, work.held, work.placement)
    return _relabelled(work, size, crop) or _drawn(work, size, crop)


def finish(work: Work, data: bytes, folder: Path, name: str | None = None) -> Made:
    """Write the bytes of a file into a folder and measure it from disk.

    Under `name`, which is then the caller's own, or under one of its pattern that is not taken.
    It is opened again and measured before it bears its name: no wrong file ever does, and none that
    was right is lost to it.

    Raises
    ------
    CoreError
        If it cannot be written, or is not measured as asked.
    """
    size = size_at(work.size, work.placement)
    asked = asked_of(size, asked_pixels(size, work.held, work.placement))
    ending = ENDINGS[size.file.format]
    stem = stem_of(work) if name is None else name.removesuffix(ending)
    try:
        with written(folder, stem, [data]) as part:
            measured = measure(part)
            wrong = differences(size, asked, measured)
            if wrong:
                msg = f"{stem}{ending} is not as asked: {'; '.join(wrong)}. It was not kept"
                raise FileError(msg)
            if name is None:
                path = place_new(part, folder, stem, ending)
            else:
                path = folder / name
                place_over(part, path)
    except OSError as exc:
        why = exc.strerror or exc
        msg = f"{folder} cannot be written to: {why}. Make room there, or choose another folder"
        raise FileError(msg) from exc
    return Made(path, asked, measured)


def stem_of(work: Work) -> str:
    """Fill the name pattern of a file; its ending is not part of it."""
    size = size_at(work.size, work.placement)
    pixels = asked_pixels(size, work.held, work.placement)
    return stem_on(size, pixels, work.photo_name, work.job, work.number)


def _drawn(work: Work, size: Size, crop: Crop) -> bytes:
    asked = asked_pixels(size, work.held, work.placement)
    held = held_like(work.placement, size, work.photo.held)
    pixels, icc = render(work.path, size, crop, asked, held)
    return encode(pixels, size.file, size.ppi, icc, metadata_of(work.path, size.file))


def _relabelled(work: Work, size: Size, crop: Crop) -> bytes | None:
    """Give the photo's own bytes under the size's label; None where they must be drawn anew."""
    asked = asked_pixels(size, work.held, work.placement)
    if not is_relabelled(work.photo, size, work.placement, crop, asked):
        return None
    with reading_pixels():
        prove_whole(open_photo(work.path, shrink=8).image)
    data = relabelled_jpeg(work.path.read_bytes(), size.ppi)
    most = size.file.at_most
    return None if data is None or (most is not None and len(data) > most) else data
