"""Photo + size + placement → a file on disk, measured. Web and command line make files here."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from functools import cached_property
from pathlib import Path

from oak_ledge.core.errors import FileError
from oak_ledge.core.files.density import written_ppi
from oak_ledge.core.files.limits import Limits, check_output
from oak_ledge.core.files.names import stem_on
from oak_ledge.core.files.proof import Asked, Measured, asked_of, differences
from oak_ledge.core.files.relabelled import is_relabelled
from oak_ledge.core.marks.laid import LaidMark
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.photos.retouches import NO_RETOUCHES, Retouches
from oak_ledge.core.pixels.cache import Keep, not_kept
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.cut.rows import prove_whole
from oak_ledge.core.pixels.encode.encode import encode_alike
from oak_ledge.core.pixels.encode.exif import metadata_of
from oak_ledge.core.pixels.encode.relabel import relabelled_jpeg
from oak_ledge.core.pixels.finish.sides import with_fold_marks
from oak_ledge.core.pixels.open.border import reading_pixels
from oak_ledge.core.pixels.open.photo import Source, cores_for, open_photo, path_of, scene_in
from oak_ledge.core.pixels.prove.measure import measure
from oak_ledge.core.pixels.render import Behind, render
from oak_ledge.core.placements.lying import Lying, lying_on
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.placements.scene_geometry import on_scene, with_ground
from oak_ledge.core.placements.sides import with_continued_sides
from oak_ledge.core.placements.zones.mark_box import barred_on, boxes
from oak_ledge.core.sizes.edges.panels import numbers_of
from oak_ledge.core.sizes.file.formats import format_of
from oak_ledge.core.sizes.file_geometry import file_pixels, panel_boxes
from oak_ledge.core.sizes.size import Size
from oak_ledge.store.folders import place_new, place_over, written


@dataclass(frozen=True)
class MadePiece:
    """A finished file and what was measured of it."""

    path: Path
    asked: Asked
    measured: Measured


@dataclass(frozen=True)
class Work:
    """All that one piece's file, or files, are made from.

    `source` is the photo, or already with its retouches; what is laid over it and is not there yet
    is made, and kept by `keep`.
    """

    source: Source
    photo_name: str
    photo: PhotoFacts
    size: Size
    placement: Placement
    job: str = ""
    number: int = 1
    retouches: Retouches = NO_RETOUCHES
    keep: Keep = not_kept
    mark: LaidMark | None = None
    behind: Path | None = None
    """the photo of its size's backdrop"""

    @cached_property
    def lying(self) -> Lying:
        """How the photo lies on the size."""
        return lying_on(self.size, self.photo.upright, self.placement)

    @property
    def asked(self) -> Asked:
        """What the file shall measure."""
        return asked_of(self.lying.size, self.lying.asked, self.photo.ppi)


def panels_of(work: Work) -> tuple[int | None, ...]:
    """Name the files of a piece: its panels from 1, or None for the one file of a whole piece."""
    return numbers_of(work.lying.size.panels)


def make(work: Work, folder: Path, limits: Limits) -> list[MadePiece]:
    """Make the files of one piece in a folder and measure each from disk: `draw`, then `finish`."""
    files = zip(panels_of(work), draw(work, limits), strict=True)
    return [finish(work, data, folder, panel=panel) for panel, data in files]


def draw(work: Work, limits: Limits) -> list[bytes]:
    """Draw a piece once and encode it in memory: one file, or one for each of its panels in order.

    Raises
    ------
    CoreError
        If it cannot be made.
    """
    check_output(work.lying.asked, limits)
    data = _relabelled(work)
    return draw_anew(work, limits) if data is None else [data]


def draw_anew(work: Work, limits: Limits) -> list[bytes]:
    """Do the same, and never hand out the photo's own bytes under another label.

    Raises
    ------
    CoreError
        If it cannot be made.
    """
    check_output(work.lying.asked, limits)
    size = work.lying.size
    pixels, icc = pixels_of(work)
    metadata = metadata_of(path_of(work.source), size.file)
    parts = cut_in_panels(work.lying, pixels)
    ppi, cores = written_ppi(size, work.photo.ppi), cores_for(work.source)
    return encode_alike(parts, size.file, ppi, icc, metadata, cores=cores)


def finish(
    work: Work, data: bytes, folder: Path, name: str | None = None, panel: int | None = None
) -> MadePiece:
    """Write the bytes of a file into a folder and measure it from disk.

    Under `name`, which is then the caller's own, or under one of its pattern that is not taken.
    It is opened again and measured before it bears its name: no wrong file ever does, and none that
    was right is lost to it.

    Raises
    ------
    CoreError
        If it cannot be written, or is not measured as asked.
    """
    stem = stem_of(work, panel)
    return proven(work.lying.size, work.asked, [data], folder, stem, name)


def proven(
    size: Size, asked: Asked, parts: Iterable[bytes], folder: Path, stem: str, name: str | None
) -> MadePiece:
    """Write a file and measure it from disk before it bears its name: `name`, or a free one by `stem`.

    Raises
    ------
    FileError
        If it cannot be written, or is not measured as asked.
    """
    ending = format_of(asked.format).ending
    stem = stem if name is None else name.removesuffix(ending)
    with measured_part(size, asked, parts, folder, stem) as (part, measured):
        if name is None:
            path = place_new(part, folder, stem, ending)
        else:
            path = folder / name
            place_over(part, path)
    return MadePiece(path, asked, measured)


@contextmanager
def measured_part(
    size: Size, asked: Asked, parts: Iterable[bytes], folder: Path, stem: str
) -> Iterator[tuple[Path, Measured]]:
    """Write a file under a temporary name and measure it from disk; gone again where nobody names it.

    Raises
    ------
    FileError
        If it cannot be written or named, or is not measured as asked.
    """
    try:
        with written(folder, stem, parts) as part:
            name = f"{stem}{format_of(asked.format).ending}"
            try:
                expected = (asked.width, asked.height)
                measured = measure(
                    part, asked.ppi if asked.format == "pdf" else None, expected=expected
                )
            except FileError as exc:
                msg = f"{name} cannot be read back from disk. It was not kept; make it again"
                raise FileError(msg) from exc
            wrong = differences(size, asked, measured)
            if wrong:
                msg = f"{name} is not as asked: {'; '.join(wrong)}. It was not kept"
                raise FileError(msg)
            yield part, measured
    except OSError as exc:
        why = exc.strerror or exc
        msg = f"{folder} cannot be written to: {why}. Make room there, or choose another folder"
        raise FileError(msg) from exc


def stem_of(work: Work, panel: int | None = None) -> str:
    """Fill the name pattern of a file; its ending is not part of it."""
    size = work.lying.size
    return stem_on(size, work.asked, work.photo_name, work.job, work.number, panel)


def pixels_of(work: Work) -> tuple[Array, bytes | None]:
    """Draw a piece's one picture: (H, W, C) pixels and the profile they are in."""
    opened = with_continued_sides(work.lying)
    size, surface, crop, ground = on_scene(replace(opened, placement=with_ground(opened, ())))
    source, scene = work.source, scene_in(work.source)
    if ground is not None or (work.retouches.shown and scene is None):
        from oak_ledge.core.pixels.scene_maker import Maker  # here: most files are made without it

        first = scene.patches if scene is not None and not work.retouches.shown else ()
        source = Maker(path_of(source), work.retouches, work.keep, first).scene(ground)
    file = file_pixels(work.lying.size, work.lying.asked)
    if work.lying.size.backdrop is not None and work.behind is None:
        msg = f"the photo {work.lying.size.backdrop.name} behind it is not here: choose another, or none"
        raise FileError(msg)
    behind = None if work.behind is None else Behind(work.behind)
    pixels, icc = render(source, size, crop, opened.asked, surface, sides=file, behind=behind)
    folds = work.lying.size.sides
    if folds is not None and folds.marks and work.lying.size.ppi is not None:
        pixels = with_fold_marks(pixels, work.lying.asked, work.lying.size.ppi)
    return (pixels if work.mark is None else _marked(work, work.mark, pixels, icc)), icc


def _marked(work: Work, mark: LaidMark, pixels: Array, icc: bytes | None) -> Array:
    """Lay a mark over a piece's one picture."""
    from oak_ledge.core.pixels.marks.lay import lay_mark  # here: most files have none

    at = boxes(work.lying.size, work.lying.asked, mark.how, mark.file.shape)
    return lay_mark(pixels, icc, mark, at, barred_on(work.lying, mark.keeps))


def cut_in_panels(lying: Lying, pixels: Array) -> list[Array]:
    """Cut a piece's one picture in what each of its files holds."""
    if lying.size.panels is None:
        return [pixels]
    boxes = panel_boxes(lying.size, lying.asked)
    return [
        pixels[box.top : box.top + box.height, box.left : box.left + box.width] for box in boxes
    ]


def _relabelled(work: Work) -> bytes | None:
    """Return the photo's own bytes under the size's label; None where they must be drawn anew."""
    size, path = work.lying.size, path_of(work.source)
    painted = scene_in(work.source) is not None or work.mark is not None or work.behind is not None
    if painted or not is_relabelled(work.photo, work.lying, work.retouches):
        return None
    with reading_pixels():
        prove_whole(open_photo(work.source, shrink=8))
    data = relabelled_jpeg(path.read_bytes(), written_ppi(size, work.photo.ppi))
    most = size.file.at_most
    return None if data is None or (most is not None and len(data) > most) else data
