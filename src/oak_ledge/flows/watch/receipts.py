"""What stands beside a watched photo whose files were sent: what the receiver said of each."""

from __future__ import annotations

import json
import os
import stat
from contextlib import suppress
from pathlib import Path

from pydantic import BaseModel, ValidationError

from oak_ledge.flows.watch.seal import NO_LINK_NO_WAIT
from oak_ledge.store.folders import place_over, written

ENDING = ".sent.json"
# Bytes of such a file.
MOST_BYTES = 1_000_000


class SentFile(BaseModel):
    """What came of a file at a receiver."""

    file: str
    receiver: str
    state: str
    receipt: str | None = None
    reasons: tuple[str, ...] = ()
    rehearsed: bool = False
    """it was the receiver's stand-in"""


class Receipts(BaseModel):
    """What came of all files of a photo."""

    photo: str
    files: tuple[SentFile, ...] = ()


def path_of(photo: Path) -> Path:
    """Return where a photo's receipts stand."""
    return photo.with_name(f"{photo.name}{ENDING}")


def keep(photo: Path, receipts: Receipts) -> None:
    """Write a photo's receipts in the place of those before, where they say something else.

    Raises
    ------
    OSError
        If the disk refuses.
    """
    if read(photo) == receipts:
        return
    path, content = path_of(photo), receipts.model_dump(mode="json", exclude_defaults=True)
    data = json.dumps(content, indent=2, ensure_ascii=False).encode()
    with written(path.parent, path.stem, [data]) as part:
        place_over(part, path)


def read(photo: Path) -> Receipts | None:
    """Return a photo's receipts; None where there are none, or what is there can't be read as such."""
    with suppress(OSError, ValueError, RecursionError, ValidationError):
        handle = os.open(path_of(photo), os.O_RDONLY | NO_LINK_NO_WAIT)
        with open(handle, "rb") as file:  # noqa: PTH123 - the handle that was looked at is the one read
            status = os.fstat(handle)
            if stat.S_ISREG(status.st_mode) and status.st_size <= MOST_BYTES:
                return Receipts.model_validate_json(file.read(MOST_BYTES))
    return None


def words_of(photo: Path) -> list[str]:
    """Return what came of each file of a photo, in words."""
    receipts = read(photo)
    return [
        f"{file.file}: {file.receipt or '; '.join(file.reasons) or file.state}"
        f"{' (rehearsed)' if file.rehearsed else ''}"
        for file in (receipts.files if receipts else ())
    ]
