"""What can go wrong with a data folder, each as a sentence a person can act on."""

from __future__ import annotations

import errno

from oak_ledge.core.errors import OakLedgeError

# What a disk says that holds no more.
FULL = (errno.ENOSPC, errno.EDQUOT, errno.EFBIG)


class StoreError(OakLedgeError):
    """The data folder can't be read or written; `full` where there is no room."""

    def __init__(self, text: str, *, full: bool = False) -> None:
        super().__init__(text)
        self.full = full


class DamagedError(StoreError):
    """One stored thing can't be read; the others are as they were."""


def disk_words(exc: OSError) -> str:
    """Return what a disk refused, why, and what to do.

    >>> disk_words(OSError(errno.ENOSPC, "No space left on device"))
    'The disk is full. Make room, then try again; nothing half written was kept.'
    """
    if exc.errno in FULL:
        return "The disk is full. Make room, then try again; nothing half written was kept."
    why = exc.strerror or str(exc)
    if exc.filename is None:
        return f"The disk answered: {why}. Look at the data folder, then try again."
    return f"{exc.filename}: {why}. Look at that place, then try again."
