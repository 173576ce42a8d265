"""The files of a claim, drawn piece by piece: the same on this machine and on any other."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import suppress
from itertools import groupby
from typing import Protocol, TypeVar

from oak_ledge.core.errors import CoreError, FileTooHeavyError, sentence
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.photos.retouches import Retouches
from oak_ledge.core.pixels.open.photo import Source, decoded_once
from oak_ledge.core.pixels.scene_maker import Maker
from oak_ledge.flows.delivery.making import Work, draw
from oak_ledge.store.errors import StoreError, disk_words

LESS, OTHER = "ask for fewer pixels", "Change the piece, or bring its photo in anew"


class Claimed(Protocol):
    """A file that is to be made; those of one piece follow one another."""

    @property
    def placement_id(self) -> int:
        """The placement the file is made of."""
        ...

    @property
    def panel(self) -> int | None:
        """The panel the file holds, from 1; None for a whole piece."""
        ...

    @property
    def retouches(self) -> Retouches:
        """What was painted over on the photo when the file was asked for."""
        ...


T = TypeVar("T")
F = TypeVar("F", bound=Claimed)
# Gives what a file is made from; where its photo is decoded already, from those pixels.
WorkOf = Callable[[F, Source | None], Work]


def draw_files(
    files: Sequence[F],
    work_of: WorkOf[F],
    maker_of: Callable[[Retouches], Maker],
    limits: Limits,
) -> Iterator[tuple[F, tuple[Work, bytes] | str]]:
    """Draw files of one photo, each piece once: its work and bytes, or why it can't be made.

    The photo is decoded once for several pieces where they are cut from the same; what is wrong
    with it is told file by file.
    """
    source = None
    if len({file.placement_id for file in files}) > 1:
        with suppress(Exception):
            source = _decoded(files, maker_of, limits)
    for _, same in groupby(files, key=lambda file: file.placement_id):
        piece = tuple(same)
        drawn = or_why(lambda piece=piece: _drawn(work_of(piece[0], source), limits))  # type: ignore[misc]
        for file in piece:
            if isinstance(drawn, str):
                yield file, drawn
            else:
                work, parts = drawn
                yield file, (work, parts[(file.panel or 1) - 1])


def _decoded(
    files: Sequence[F], maker_of: Callable[[Retouches], Maker], limits: Limits
) -> Source | None:
    retouches = files[0].retouches
    if any(file.retouches != retouches for file in files):
        return None
    return decoded_once(maker_of(retouches).scene(), most_bytes=limits.held_bytes)


def _drawn(work: Work, limits: Limits) -> tuple[Work, list[bytes]]:
    return work, draw(work, limits)


def or_why(do: Callable[[], T], less: str = LESS, other: str = OTHER) -> T | str:
    """Do something for a file, or say why it can't be done.

    Whatever goes wrong is this file's own: it ends as failed, and never as one that is being made.

    Parameters
    ----------
    less : what would need less memory
    other : what to try where nothing else can be said
    """
    try:
        return do()
    except FileTooHeavyError as exc:  # what would do stands beside it, as it lies by then
        return sentence(exc.why)
    except (CoreError, StoreError) as exc:
        return sentence(str(exc))
    except OSError as exc:
        return disk_words(exc)
    except MemoryError:
        return f"There was not enough memory. Close other programs, or {less}."
    except Exception as exc:  # noqa: BLE001 - see above
        return f"It could not be made: {type(exc).__name__}. {other}."
