"""What stands beside a watched photo: the files made of it, or why not.

It is written only when every file it names is in its place. Whoever can write into a watched folder can
write such a note too: it is believed only with the seal of the watch that follows the folder.
"""

from __future__ import annotations

import hashlib
import json
import os
import stat
from contextlib import suppress
from pathlib import Path

from pydantic import BaseModel, ValidationError

from oak_ledge.flows.commands.make import Failed, MadeFile
from oak_ledge.flows.watch.seal import NO_LINK_NO_WAIT, Seal
from oak_ledge.store.folders import place_over, written

ENDING = ".made.json"

# Of a note: thousands of files made of one photo.
MOST_BYTES = 4_000_000

# Bytes: of a file's name on the usual file systems.
LONGEST_NAME = 255


class Beside(BaseModel):
    """What was made of a photo with this hash; `asked` tells the sizes that are over with."""

    photo: str
    photo_sha256: str
    made_at: str
    asked: list[str] = []
    files: list[MadeFile] = []
    failed: list[Failed] = []


def path_of(photo: Path, ending: str = ENDING) -> Path:
    """Return where a photo's note stands; a name too long for an ending is cut and told by its hash."""
    name = f"{photo.name}{ending}"
    if len(os.fsencode(name)) > LONGEST_NAME:
        full = os.fsencode(photo.name)
        kept = full[:200].decode(errors="ignore")
        name = f"{kept}-{hashlib.sha256(full).hexdigest()[:16]}{ending}"
    return photo.with_name(name)


def read(photo: Path, seal: Seal | None) -> Beside | None:
    """Return what stands beside a photo; None where nothing does, or nothing with this seal."""
    return read_note(path_of(photo), seal)


def read_note(note: Path, seal: Seal | None) -> Beside | None:
    """Read a note; without a seal to ask for, any is believed that can be read."""
    try:
        content = json.loads(bytes_of(note))
        if seal is not None and not seal.is_on(content):
            return None
        return Beside.model_validate(content)
    except (OSError, ValueError, RecursionError, ValidationError):
        return None


def bytes_of(note: Path) -> bytes:
    """Read a regular file of bounded length, and nothing else that bears its name.

    A pipe or a device would be waited for, or read, without an end.
    """
    handle = os.open(note, os.O_RDONLY | NO_LINK_NO_WAIT)
    with open(handle, "rb") as file:  # noqa: PTH123 - the handle that was looked at is the one read
        status = os.fstat(handle)
        if not stat.S_ISREG(status.st_mode) or status.st_size > MOST_BYTES:
            msg = f"{note} is no note"
            raise ValueError(msg)
        return file.read(MOST_BYTES)


def write(photo: Path, beside: Beside, seal: Seal) -> None:
    """Write a photo's note in the place of what stood there, sealed and synced."""
    put(path_of(photo), seal.put_on(beside.model_dump(mode="json", exclude_defaults=True)))


def put(path: Path, content: object) -> None:
    """Write JSON in the place of what stood there, synced."""
    data = json.dumps(content, indent=2, ensure_ascii=False).encode()
    with written(path.parent, path.stem, [data]) as part:
        place_over(part, path)


def adopt(photo: Path, seal: Seal) -> None:
    """Seal a note that was written before there were seals; one whose files were on their way is none."""
    with suppress(OSError, ValueError, RecursionError):
        content = json.loads(bytes_of(path_of(photo)))
        if isinstance(content, dict) and not content.get("moves"):
            write(photo, Beside.model_validate(content), seal)
