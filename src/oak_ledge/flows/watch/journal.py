"""How files come from where they are made into their place: each once, through a kill at any moment.

Files are made in a folder that belongs to one watch alone, within the folder they are for and so on its
disk. Where each will lie is written in a journal there; then they are put in their places, and only when
all are is the photo's note written. Whoever finds a journal finishes what it says. Its places are names
below the two folders and are followed nowhere else.
"""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path, PurePosixPath
from typing import NamedTuple
from urllib.parse import quote, unquote_to_bytes

from pydantic import BaseModel, ValidationError

from oak_ledge.flows.commands.make import MadeFile
from oak_ledge.flows.commands.tell import shown
from oak_ledge.flows.watch import beside
from oak_ledge.flows.watch.beside import Beside
from oak_ledge.flows.watch.seal import Seal
from oak_ledge.store.folders import numbered, place_as, place_over, stays_inside, written


class FileMove(BaseModel):
    """A file that is made and has to be put in its place: names below the two folders."""

    made: str
    place: str


class Journal(BaseModel):
    """What is under way: the photo's name, percent-encoded, its files' places, and its note."""

    photo: str
    moves: list[FileMove]
    note: Beside


class Finished(NamedTuple):
    """A photo's note, and those of its files that were on their way."""

    note: Beside
    files: list[MadeFile]


@dataclass(frozen=True)
class Places:
    """The folders of a watch: where photos arrive, where files are made, where they go."""

    photos: Path
    out: Path
    own: Path

    @property
    def made(self) -> Path:
        """Where files are made."""
        return self.own / "made"

    @property
    def journal(self) -> Path:
        """The file of what is under way."""
        return self.own / "journal.json"

    def prepare(self) -> None:
        """Make the folder files are made in, also while another watch tidies the one above it."""
        while True:
            with suppress(FileNotFoundError):
                self.made.mkdir(parents=True, exist_ok=True)
                return
            self.out.stat()  # the disk itself may be gone

    def empty(self) -> None:
        """Remove what was made here and is in its place, or nobody's."""
        self.journal.unlink(missing_ok=True)
        shutil.rmtree(self.own, ignore_errors=True)
        with suppress(OSError):  # another watch has its own there
            self.own.parent.rmdir()


def begin(places: Places, photo: Path, note: Beside, moves: list[FileMove]) -> None:
    """Write down what has to be put where; `finish` does it.

    Raises
    ------
    OSError
        If the disk refuses; nothing is under way then.
    """
    _write(places, Journal(photo=quote(os.fsencode(photo.name)), moves=moves, note=note))


def finish(places: Places, seal: Seal) -> Finished | None:
    """Put everything in its place that is on its way, and write the note of its photo.

    Returns what was done; None where nothing was under way, or a file is neither here nor there: then its
    photo is made again.

    Raises
    ------
    OSError
        If the disk refuses; what is not in its place yet is put there by the next call.
    """
    journal = _read(places)
    if journal is None:
        return None
    placed = False
    while not placed:
        if not all(
            _is_there(places, move) or _made(places, move).is_file() for move in journal.moves
        ):
            places.empty()
            return None
        journal = _planned(places, journal)
        _write(places, journal)
        placed = all(_placed(places, move) for move in journal.moves)
    photo = places.photos / os.fsdecode(unquote_to_bytes(journal.photo))
    if os.path.lexists(photo):
        beside.write(photo, journal.note, seal)
    places.empty()
    files = journal.note.files
    return Finished(journal.note, files[len(files) - len(journal.moves) :])


def _write(places: Places, journal: Journal) -> None:
    data = journal.model_dump_json(exclude_defaults=True).encode()
    with written(places.own, "journal", [data]) as part:
        place_over(part, places.journal)


def _read(places: Places) -> Journal | None:
    with suppress(OSError, ValueError, ValidationError):
        journal = Journal.model_validate_json(places.journal.read_bytes())
        photo = os.fsdecode(unquote_to_bytes(journal.photo))
        names = [name for move in journal.moves for name in (move.made, move.place)]
        if photo == Path(photo).name and all(_is_below(name) for name in names):
            return journal
    return None


def _is_below(name: str) -> bool:
    path = PurePosixPath(name)
    return not path.is_absolute() and ".." not in path.parts and "\0" not in name


def _made(places: Places, move: FileMove) -> Path:
    return places.made / move.made


def _place(places: Places, move: FileMove) -> Path:
    return places.out / move.place


def _planned(places: Places, journal: Journal) -> Journal:
    """Find a free name for each file whose place was taken by another."""
    taken: set[Path] = {_place(places, move) for move in journal.moves if _is_there(places, move)}
    moves, files = [], {file.file: file for file in journal.note.files}
    for move in journal.moves:
        place = first = _place(places, move)
        if not _is_there(places, move):
            place = next(path for path in _names(first) if path not in taken and _is_free(path))
            taken.add(place)
        if shown(first) in files:
            files[shown(first)] = files[shown(first)].model_copy(update={"file": shown(place)})
        moves.append(FileMove(made=move.made, place=place.relative_to(places.out).as_posix()))
    note = journal.note.model_copy(update={"files": list(files.values())})
    return journal.model_copy(update={"moves": moves, "note": note})


def _is_there(places: Places, move: FileMove) -> bool:
    """Return whether a file was put in its place before: it is no more where it was made, or is in both."""
    path, place = _made(places, move), _place(places, move)
    return place.exists() and (not path.exists() or place.samefile(path))


def _is_free(path: Path) -> bool:
    return not os.path.lexists(path)


def _names(first: Path) -> Iterator[Path]:
    return numbered(first.parent, first.stem, first.suffix)


def _placed(places: Places, move: FileMove) -> bool:
    """Put a file in its place; False if another took the name meanwhile. Nothing is written over."""
    path, place = _made(places, move), _place(places, move)
    if not stays_inside(places.out, place.parent):
        msg = "a folder within it leads out of it"
        raise OSError(None, msg, str(place.parent))
    place.parent.mkdir(parents=True, exist_ok=True)
    if not (_is_there(places, move) or place_as(path, place)):
        return False
    path.unlink(missing_ok=True)
    return True
