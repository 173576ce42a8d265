"""What stands beside a watched photo whose files were sent: what the receiver said of each."""

from __future__ import annotations

from pathlib import Path

from pydantic import BaseModel

from oak_ledge.flows.watch import beside

ENDING = ".sent.json"


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


def keep(photo: Path, receipts: Receipts) -> None:
    """Write a photo's receipts in the place of those before, where they say something else.

    Raises
    ------
    OSError
        If the disk refuses.
    """
    if read(photo) == receipts:
        return
    content = receipts.model_dump(mode="json", exclude_defaults=True)
    beside.put(beside.path_of(photo, ENDING), content)


def read(photo: Path) -> Receipts | None:
    """Return a photo's receipts; None where there are none, or what is there can't be read as such."""
    try:
        return Receipts.model_validate_json(beside.bytes_of(beside.path_of(photo, ENDING)))
    except (OSError, ValueError):
        return None


def words_of(photo: Path) -> list[str]:
    """Return what came of each file of a photo, in words."""
    receipts = read(photo)
    return [
        f"{file.file}: {file.receipt or '; '.join(file.reasons) or file.state}"
        f"{' (rehearsed)' if file.rehearsed else ''}"
        for file in (receipts.files if receipts else ())
    ]
