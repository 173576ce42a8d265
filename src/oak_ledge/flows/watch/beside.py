"""What stands beside a watched photo: the files made of it, or why not.

Files are made in a folder of their own first. Where each will lie is then written beside the photo, and
only after that are they put there: whoever finds such a note finishes what it says, so that a kill at any
moment neither loses a file nor makes one twice.
"""

from __future__ import annotations

import os
from collections.abc import Iterator, Sequence
from contextlib import suppress
from pathlib import Path

from pydantic import BaseModel, ValidationError

from oak_ledge.flows.commands.make import Failed, MadeFile
from oak_ledge.store.folders import numbered, place_as, place_over, written

ENDING = ".made.json"


class Move(BaseModel):
    """A file that is made and still has to be put in its place."""

    made: str
    place: str


class Beside(BaseModel):
    """What was made of a photo with this hash; `asked` tells the sizes that are over with."""

    photo: str
    photo_sha256: str
    made_at: str
    asked: list[str] = []
    files: list[MadeFile] = []
    failed: list[Failed] = []
    moves: list[Move] = []


def path_of(photo: Path) -> Path:
    return photo.with_name(f"{photo.name}{ENDING}")


def read(photo: Path) -> Beside | None:
    """Give what stands beside a photo; None where nothing does, or nothing of ours."""
    with suppress(OSError, ValidationError):
        return Beside.model_validate_json(path_of(photo).read_bytes())
    return None


def write(photo: Path, told: Beside) -> None:
    """Write it in the place of what stood there, synced."""
    path = path_of(photo)
    data = told.model_dump_json(indent=2, exclude_defaults=True).encode()
    with written(path.parent, path.stem, [data]) as part:
        place_over(part, path)


def settled(photo: Path, told: Beside) -> Beside:
    """Put every file that is still on its way in its place, under a name that is free there.

    Raises
    ------
    OSError
        If the disk refuses; what is not in its place yet is put there by the next call.
    """
    while told.moves:
        told = _planned(told)
        write(photo, told)
        if all(_placed(one) for one in told.moves):
            told = told.model_copy(update={"moves": []})
            write(photo, told)
    return told


def _planned(told: Beside) -> Beside:
    """Find a free name for each file whose place was taken by another."""
    taken: set[str] = {one.place for one in told.moves if _is_there(one)}
    moves, files = [], {file.file: file for file in told.files}
    for one in told.moves:
        place = one.place
        if not _is_there(one):
            place = next(path for path in _names(one.place) if path not in taken and _free(path))
            taken.add(place)
        files[one.place] = files[one.place].model_copy(update={"file": place})
        moves.append(Move(made=one.made, place=place))
    return told.model_copy(update={"moves": moves, "files": list(files.values())})


def _is_there(move: Move) -> bool:
    """Say whether a file was put in its place before: it is no more where it was made, or is in both."""
    made, place = Path(move.made), Path(move.place)
    return not made.exists() or (place.exists() and place.samefile(made))


def _free(path: str) -> bool:
    return not os.path.lexists(path)


def _names(path: str) -> Iterator[str]:
    first = Path(path)
    return map(str, numbered(first.parent, first.stem, first.suffix))


def _placed(move: Move) -> bool:
    """Put a file in its place; False if another took the name meanwhile. Nothing is written over."""
    made, place = Path(move.made), Path(move.place)
    place.parent.mkdir(parents=True, exist_ok=True)
    if not (_is_there(move) or place_as(made, place)):
        return False
    made.unlink(missing_ok=True)
    return True


def moves_of(files: Sequence[MadeFile], made_in: Path, out: Path) -> list[Move]:
    """Say where each file that was made in one folder goes in another, below it as it lay there."""
    return [
        Move(made=one.file, place=str(out / Path(one.file).relative_to(made_in))) for one in files
    ]
