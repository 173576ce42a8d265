"""Files made from photo files, every photo on every size."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Executor, Future, ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass, field, replace
from functools import cached_property
from math import prod
from pathlib import Path
from threading import Semaphore

from pydantic import BaseModel, Field

from oak_ledge.core.errors import CoreError, FillError, PhotoError
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.files.names import Sorting, sub_folder
from oak_ledge.core.files.proof import Measured, differences
from oak_ledge.core.heads.face_points import Faces
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.photos.keep_zones import Keeps
from oak_ledge.core.photos.retouches import Retouch
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.open.layers import Patch, Scene
from oak_ledge.core.pixels.open.photo import Source, decoded_once, path_of
from oak_ledge.core.pixels.prove.measure import measure
from oak_ledge.core.sizes.file.formats import format_of
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.commands.tell import (
    FOUND,
    TO_TAKE,
    LyingOptions,
    PhotoFigures,
    found_in,
    heads_in,
    look,
    mark_called_for,
    place,
    shown,
    stopped,
)
from oak_ledge.flows.delivery.making import Work, draw, finish, panels_of, stem_of
from oak_ledge.flows.pieces.figures import Around, FileFigures, figures
from oak_ledge.store.errors import disk_words

Laid = tuple[Work, FileFigures]

Drawn = tuple[Work, FileFigures, list[bytes]]


class MadeFile(PhotoFigures):
    """A file with its figures and what was measured of it."""

    file: str
    panel: int | None = Field(default=None, exclude_if=lambda panel: panel is None)
    """which panel of its piece it is, from 1; None for a whole piece"""
    measured: Measured
    size_at: int = Field(default=0, exclude=True)
    """which of the call's sizes it is on, from 0"""


class Failed(BaseModel):
    """A photo no file was made of, and why."""

    photo: str
    reason: str
    size_at: int = Field(default=0, exclude=True)


class Skipped(BaseModel):
    """A file that was there already and measures as asked."""

    photo: str
    file: str


class Outcome(BaseModel):
    """What one call made, skipped, and could not make."""

    files: list[MadeFile]
    failed: list[Failed]
    skipped: list[Skipped] = []


@dataclass(frozen=True)
class MakeOptions:
    """How one call makes its files: the same for every photo and size of it."""

    folder: Path
    limits: Limits
    way: LyingOptions = field(default_factory=LyingOptions)
    allowed: frozenset[str] = frozenset()
    by: Sorting = "none"
    """the sub-folders that files are sorted into"""
    skip_made: bool = False
    """leave a file as it is if it has the name the new one would have, and measures as asked"""
    to_take: str = TO_TAKE
    """the words that say how to make a file in spite of a stop, with `{code}` for its code"""


def make_all(
    paths: Sequence[Path],
    sizes: Sequence[Size],
    options: MakeOptions,
    came: Callable[[int], None] = lambda done: None,
) -> Outcome:
    """Make every photo on every size; what fails does not hold up the others.

    The sizes of a photo are drawn at the same time, on all cores. Files are written in the order of
    the call, so that the same call gives the same names. `came` is called with the number of files
    that are done.
    """
    outcome = Outcome(files=[], failed=[])
    cores = os.cpu_count() or 1
    spare = Semaphore(cores)
    for number, path in enumerate(paths, 1):
        with ThreadPoolExecutor(cores) as pool:
            before = (number - 1) * len(sizes)
            photo = _Photo(path, number, options, pool, spare)
            for done, part in enumerate(photo.made_on(sizes)):
                came(before + done)
                outcome.files += part.files
                outcome.failed += part.failed
                outcome.skipped += part.skipped
    return outcome


@dataclass(frozen=True)
class _Photo:
    """One photo of a call, drawn by a pool of threads that take a `spare` core each."""

    path: Path
    number: int
    options: MakeOptions
    pool: Executor
    spare: Semaphore

    @cached_property
    def facts(self) -> PhotoFacts:
        """Its facts: the header is read once for all sizes."""
        return look(self.path, self.options.limits)

    def made_on(self, sizes: Sequence[Size]) -> Iterator[Outcome]:
        """Make its file of each size, or say why there is none; one after the other."""
        try:
            source = self._source(len(sizes))
        except FillError as exc:
            yield from (self._failed(f"--paint-over: {exc}", at) for at in range(len(sizes)))
            return
        wanted = []
        for at, size in enumerate(sizes):
            there = self._made_before(size) if self.options.skip_made else []
            if there:
                skipped = [Skipped(photo=shown(self.path), file=str(key)) for key in there]
                yield Outcome(files=[], failed=[], skipped=skipped)
            else:
                wanted.append((at, size))
        drawing = self._begun([size for _, size in wanted], source)
        for drawn, (at, size) in zip(drawing, wanted, strict=True):
            try:
                files = self._finished(drawn.result(), at, self._folder(size))
                yield Outcome(files=files, failed=[])
            except Exception as exc:  # noqa: BLE001 - whatever it is, it is this piece's alone
                yield self._failed(_why(exc), at)

    def _source(self, sizes: int) -> Source:
        """Return what is cut: the file, painted over where a mask says so, decoded once for several sizes.

        Raises
        ------
        FillError
            If the mask can't be used.
        """
        limits = self.options.limits
        try:
            scene = _painted(self.path, self.options.way, limits)
            if sizes == 1:
                return scene
            return decoded_once(scene, most_bytes=limits.held_bytes, spare=self.spare)
        except FillError:
            raise
        except Exception:  # noqa: BLE001 - what is wrong with it is told size by size
            return self.path

    def _known(self, size: Size) -> Around:
        """Return what is known of the photo; its subject and its heads are looked for once."""
        way = self.options.way
        keeps = self._found if size.fills and not way.zones else Keeps(zones=way.zones)
        return Around(keeps=keeps, faces=None if size.head is None else self._faces)

    @cached_property
    def _faces(self) -> Faces:
        return heads_in(self.path, self.facts, self.options.way)

    @cached_property
    def _found(self) -> Keeps:
        return found_in(self.path, self.facts, self.options.way)

    def _failed(self, reason: str, at: int) -> Outcome:
        failed = Failed(photo=shown(self.path), reason=reason, size_at=at)
        return Outcome(files=[], failed=[failed])

    def _folder(self, size: Size) -> Path:
        by = self.options.by
        return self.options.folder / sub_folder(by, photo=self.path.name, size=size_name(size))

    def _made_before(self, size: Size) -> list[Path]:
        """Find the files this call would make of a piece, where they are there and measure as asked."""
        with suppress(CoreError):
            placement = place(size, self.facts, self.options.way, self._known(size))
            work = Work(self.path, self.path.name, self.facts, size, placement, number=self.number)
            ending = format_of(size.file.format).ending
            stems = [stem_of(work, panel) for panel in panels_of(work)]
            files = [self._folder(size) / f"{stem}{ending}" for stem in stems]
            if all(
                file.is_file() and not differences(size, work.asked, measure(file))
                for file in files
            ):
                return files
        return []

    def _laid(self, size: Size, source: Source) -> Laid:
        name, known = path_of(source).name, self._known(size)
        placement = place(size, self.facts, self.options.way, known)
        mark = mark_called_for(self.options.way, size, known.keeps)
        told_figures = figures(size, self.facts, placement, known, mark)
        why = stopped(told_figures, self.options.allowed, self.options.to_take)
        if why is not None:
            raise PhotoError(why)
        work = Work(source, name, self.facts, size, placement, number=self.number, mark=mark)
        return replace(work, behind=self.options.way.behind), told_figures

    def _begun(self, sizes: Sequence[Size], source: Source) -> list[Future[Drawn]]:
        """Begin to draw it on sizes, the largest first; each takes one of the `spare` cores meanwhile."""
        begun: dict[int, Future[Drawn]] = {}
        laid: dict[int, Laid] = {}
        for n, size in enumerate(sizes):
            try:
                laid[n] = self._laid(size, source)
            except Exception as exc:  # noqa: BLE001 - it is this piece's alone, and told as such
                begun[n] = Future()
                begun[n].set_exception(exc)

        def drawn(n: int) -> Drawn:
            with self.spare:
                return *laid[n], draw(laid[n][0], self.options.limits)

        for n in sorted(laid, key=lambda n: prod(laid[n][0].lying.asked), reverse=True):
            begun[n] = self.pool.submit(drawn, n)
        return [begun[n] for n in range(len(sizes))]

    def _finished(self, drawn: Drawn, at: int, folder: Path) -> list[MadeFile]:
        """Write and measure the files of a piece that is drawn."""
        work, told_figures, files = drawn
        made = []
        for panel, data in zip(panels_of(work), files, strict=True):
            finished = finish(work, data, folder, panel=panel)
            file, measured = shown(finished.path), finished.measured
            fields = {"photo": shown(self.path), "file": file, "panel": panel, "size_at": at}
            made.append(MadeFile(**fields, measured=measured, **dict(told_figures)))
        return made


def _painted(path: Path, way: LyingOptions, limits: Limits) -> Path | Scene:
    """Paint over what a mask says, and cut out the thing, before a photo is cut to any size.

    Where neither is asked for it is its file.
    """
    if way.paint_over is None and way.cut_out is None:
        return path
    # here: they take time to load, and most calls paint nothing over
    from oak_ledge.core.pixels.retouch.mask import paint_mask, read_mask
    from oak_ledge.core.pixels.scene_maker import Maker

    facts = look(path, limits)
    patches: tuple[Patch, ...] = ()
    if way.paint_over is not None:
        mask = read_mask(way.paint_over, facts.upright)
        patches = (paint_mask(Maker(path).photo, mask, way.attempt),)
    if way.cut_out is not None:
        patches = (*patches, _cut(path, facts, way, Maker(path, first=patches).photo))
    return Scene(path, patches, (0, 0, *facts.upright))


def _cut(path: Path, facts: PhotoFacts, way: LyingOptions, photo: Array) -> Patch:
    """Cut out of a photo's pixels what a mask says, keep zones lie around, or is found in it."""
    from oak_ledge.core.pixels.cut_out.cut_out import cut_by_mask, cut_out
    from oak_ledge.core.pixels.retouch.mask import read_mask

    if way.cut_out != FOUND:
        mask = read_mask(Path(way.cut_out or ""), facts.upright)
        return cut_by_mask(photo, mask, alpha=facts.alpha)
    if not way.finds and not way.zones:
        msg = "subjects are not looked for (OAK_LEDGE_FIND_SUBJECTS): give a mask, or --keep-zone"
        raise FillError(msg)
    keeps = Keeps(zones=way.zones) if way.zones else found_in(path, facts, way)
    lies = tuple(zone.corners for zone in keeps.zones)
    how = Retouch(kind="cut_out", polygons=lies, attempt=way.attempt)
    return cut_out(photo, how, alpha=facts.alpha).patch


def check_masks(paths: Sequence[Path], way: LyingOptions, limits: Limits) -> None:
    """Refuse a call whose mask can't be used on its photos, before anything is made.

    Raises
    ------
    FillError
        If it is missing, no picture, cut short, not as large as a photo, or says nothing.
    """
    cuts = None if way.cut_out in (None, FOUND) else Path(way.cut_out or "")
    if way.paint_over is None and cuts is None:
        return
    from oak_ledge.core.pixels.retouch.mask import read_mask
    from oak_ledge.core.pixels.retouch.paint_over import check_mask

    extents = set()
    for path in paths:
        with suppress(CoreError, OSError):  # the photo itself is refused where it is made
            extents.add(look(path, limits).upright)
    for upright in extents:  # read once for all photos that are as large
        if way.paint_over is not None:
            mask = read_mask(way.paint_over, upright)
            check_mask(mask, mask.size)
        if cuts is not None and not read_mask(cuts, upright).any():
            msg = "the mask is dark all over: what is to be kept must be light in it"
            raise FillError(msg)


def _why(exc: Exception) -> str:
    if isinstance(exc, CoreError):
        return str(exc)
    if isinstance(exc, OSError) and exc.errno is not None:
        return disk_words(exc)
    return f"the file is damaged, or not what it says it is ({type(exc).__name__})"
