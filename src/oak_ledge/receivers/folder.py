"""The way into a folder, also one of a drive that goes away."""

from __future__ import annotations

import errno
from dataclasses import dataclass
from pathlib import Path

from oak_ledge.core.measures.bytes import bytes_words
from oak_ledge.core.pixels.prove.measure import file_hash
from oak_ledge.receivers.errors import BrokenLineError, NotTakenError
from oak_ledge.receivers.line import Outgoing, Sent
from oak_ledge.store.errors import disk_words
from oak_ledge.store.folders import copy_new

# A folder that may be there again: it is away, its drive failed or is full.
_LATER = {errno.ENOENT, errno.EIO, errno.ENOSPC, errno.EDQUOT, errno.ESTALE, errno.EBUSY, errno.ENODEV}  # fmt: skip


@dataclass
class FolderLine:
    """Copies files into a folder, each compared with what was sent. Nothing there is written over."""

    folder: Path

    def put(self, file: Outgoing, sent: Sent) -> str:
        """Copy a file; other bytes under its name stay, it gets a free name beside them."""
        if not self.folder.is_dir():
            msg = f"the folder {self.folder} isn't there; connect its drive, or make it"
            raise BrokenLineError(msg)
        if not file.path.is_file():
            raise FileNotFoundError(errno.ENOENT, "it is gone", str(file.path))
        try:
            path, new = copy_new(file.path, self.folder, file.name)
            same = file_hash(path) == file.sha256
        except OSError as exc:
            words = f"{disk_words(exc)} ({self.folder})"
            if exc.errno in _LATER:
                raise BrokenLineError(words) from exc
            raise NotTakenError(words) from exc
        sent(file.bytes)
        if not same:
            msg = f"{path} does not hold what was sent"
            raise BrokenLineError(msg)
        renamed = "" if path.name == file.name else f" as {path.name}"
        there = "arrived" if new else "was there already"
        return f"{there}{renamed}, {bytes_words(file.bytes)}, every byte compared"

    def close(self) -> None:
        """Nothing is held open."""
