"""Files made from photo files, every photo on every size."""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from concurrent.futures import Executor, Future, ThreadPoolExecutor
from contextlib import suppress
from functools import cache, partial
from math import prod
from pathlib import Path
from threading import Semaphore

from pydantic import BaseModel, Field

from oak_ledge.core.errors import CoreError, FillError, PhotoError
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.files.names import Sorting, sub_folder
from oak_ledge.core.files.proof import Measured, differences
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.pixels.open.layers import Scene
from oak_ledge.core.pixels.open.photo import Source, decoded_once, path_of
from oak_ledge.core.pixels.prove.measure import measure
from oak_ledge.core.sizes.file.formats import format_of
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.commands.tell import (
    TO_TAKE,
    LyingOptions,
    PhotoFigures,
    look,
    place,
    shown,
    stopped,
)
from oak_ledge.flows.delivery.making import Work, draw, finish, panels_of, stem_of
from oak_ledge.flows.pieces.figures import Figures, figures
from oak_ledge.store.errors import disk_words

Laid = tuple[Work, Figures]

Drawn = tuple[Work, Figures, list[bytes]]


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


def make_all(
    paths: Sequence[Path],
    sizes: Sequence[Size],
    way: LyingOptions,
    folder: Path,
    limits: Limits,
    *,
    allowed: frozenset[str],
    by: Sorting = "none",
    skip_made: bool = False,
    to_take: str = TO_TAKE,
    came: Callable[[int], None] = lambda done: None,
) -> Outcome:
    """Make every photo on every size; what fails does not hold up the others.

    The sizes of a photo are drawn at the same time, on all cores. Files are written in the order of
    the call, so that the same call gives the same names.

    Parameters
    ----------
    by : the sub-folders that files are sorted into
    skip_made : leave a file as it is if it has the name the new one would have, and measures as asked
    to_take : the words that say how to make a file in spite of a stop, with `{code}` for its code
    came : called with the number of files that are done
    """
    outcome, over = Outcome(files=[], failed=[]), 0
    cores = os.cpu_count() or 1
    spare = Semaphore(cores)
    for number, path in enumerate(paths, 1):
        source: Source = path
        facts_of = cache(partial(look, path, limits))  # its header is read once for all sizes
        with ThreadPoolExecutor(cores) as pool:
            try:
                source = scene = _painted(path, way, limits)
                if len(sizes) > 1:
                    source = decoded_once(scene, most_bytes=limits.held_bytes, spare=spare)
            except FillError as exc:
                reason = f"--paint-over: {exc}"
                outcome.failed += [
                    Failed(photo=shown(path), reason=reason, size_at=at) for at in range(len(sizes))
                ]
                over += len(sizes)
                continue
            except Exception:  # noqa: BLE001 - what is wrong with it is told size by size
                source = path
            wanted = []
            for at, size in enumerate(sizes):
                here = folder / sub_folder(by, photo=path.name, size=size_name(size))
                there = _made_before(path, facts_of, size, way, number, here) if skip_made else []
                if not there:
                    wanted.append((at, size, here))
                outcome.skipped += [Skipped(photo=shown(path), file=str(key)) for key in there]
            over += len(sizes) - len(wanted)
            lay = partial(
                _laid,
                source=source,
                facts_of=facts_of,
                way=way,
                number=number,
                allowed=allowed,
                to_take=to_take,
            )
            drawing = _begun(pool, lay, [size for _, size, _ in wanted], limits, spare)
            for drawn, (at, _, here) in zip(drawing, wanted, strict=True):
                came(over)
                over += 1
                try:
                    work, told_figures, files = drawn.result()
                    for panel, data in zip(panels_of(work), files, strict=True):
                        finished = finish(work, data, here, panel=panel)
                        file, measured = shown(finished.path), finished.measured
                        fields = {"photo": shown(path), "file": file, "panel": panel, "size_at": at}
                        outcome.files.append(
                            MadeFile(**fields, measured=measured, **dict(told_figures))
                        )
                except Exception as exc:  # noqa: BLE001 - whatever it is, it is this piece's alone
                    failed = Failed(photo=shown(path), reason=_why(exc), size_at=at)
                    outcome.failed.append(failed)
    return outcome


def _painted(path: Path, way: LyingOptions, limits: Limits) -> Path | Scene:
    """Paint over what a mask says, before a photo is cut to any size; without a mask it is its file."""
    if way.paint_over is None:
        return path
    # here: they take time to load, and most calls paint nothing over
    from oak_ledge.core.pixels.retouch.mask import paint_mask, read_mask
    from oak_ledge.core.pixels.scene_maker import Maker

    upright = look(path, limits).upright
    patch = paint_mask(Maker(path).photo, read_mask(way.paint_over, upright), way.attempt)
    return Scene(path, (patch,), (0, 0, *upright))


def check_masks(paths: Sequence[Path], way: LyingOptions, limits: Limits) -> None:
    """Refuse a call whose mask can't be used on its photos, before anything is made.

    Raises
    ------
    FillError
        If it is missing, no picture, cut short, not as large as a photo, or paints nothing over.
    """
    if way.paint_over is None:
        return
    from oak_ledge.core.pixels.retouch.mask import read_mask
    from oak_ledge.core.pixels.retouch.paint_over import check_mask

    extents = set()
    for path in paths:
        with suppress(CoreError, OSError):  # the photo itself is refused where it is made
            extents.add(look(path, limits).upright)
    for upright in extents:  # read once for all photos that are as large
        mask = read_mask(way.paint_over, upright)
        check_mask(mask, mask.size)


def _why(exc: Exception) -> str:
    if isinstance(exc, CoreError):
        return str(exc)
    if isinstance(exc, OSError) and exc.errno is not None:
        return disk_words(exc)
    return f"the file is damaged, or not what it says it is ({type(exc).__name__})"


def _made_before(
    path: Path,
    facts_of: Callable[[], PhotoFacts],
    size: Size,
    way: LyingOptions,
    number: int,
    folder: Path,
) -> list[Path]:
    """Find the files this call would make of a piece, where they are there and measure as asked."""
    with suppress(CoreError):
        facts = facts_of()
        work = Work(path, path.name, facts, size, place(size, facts, way), number=number)
        ending = format_of(size.file.format).ending
        files = [folder / f"{stem_of(work, panel)}{ending}" for panel in panels_of(work)]
        if all(
            file.is_file() and not differences(size, work.asked, measure(file)) for file in files
        ):
            return files
    return []


def _begun(
    pool: Executor,
    lay: Callable[[Size], Laid],
    sizes: Sequence[Size],
    limits: Limits,
    spare: Semaphore,
) -> list[Future[Drawn]]:
    """Begin to draw a photo on sizes, the largest first; each takes one of the `spare` cores while it is drawn."""
    begun: dict[int, Future[Drawn]] = {}
    laid: dict[int, Laid] = {}
    for n, size in enumerate(sizes):
        try:
            laid[n] = lay(size)
        except Exception as exc:  # noqa: BLE001 - it is this piece's alone, and told as such
            begun[n] = Future()
            begun[n].set_exception(exc)

    def drawn(n: int) -> Drawn:
        with spare:
            return *laid[n], draw(laid[n][0], limits)

    for n in sorted(laid, key=lambda n: prod(laid[n][0].lying.asked), reverse=True):
        begun[n] = pool.submit(drawn, n)
    return [begun[n] for n in range(len(sizes))]


def _laid(
    size: Size,
    source: Source,
    facts_of: Callable[[], PhotoFacts],
    way: LyingOptions,
    number: int,
    allowed: frozenset[str],
    to_take: str,
) -> Laid:
    facts, name = facts_of(), path_of(source).name
    placement = place(size, facts, way)
    told_figures = figures(size, facts, placement)
    why = stopped(told_figures, allowed, to_take)
    if why is not None:
        raise PhotoError(why)
    return Work(source, name, facts, size, placement, number=number), told_figures
