"""What can go wrong, each as a sentence a person can act on: the root, and what the core knows.

OakLedgeError
├── StoreError       the data folder: see `store.errors`
├── FlowError        what a person wished for: see `flows.errors`
└── CoreError        a value that cannot be
    ├── SizeError        a size that cannot be (also a ValueError)
    │   └── SizeTextError    a text that cannot be read as a size; knows where
    ├── PlacementError   a gesture that cannot be (also a ValueError)
    ├── FaceError        points that are no face (also a ValueError)
    ├── PhotoError       a file that cannot be taken in as a photo (also a ValueError)
    ├── FileError        a file that cannot be made as asked (also a ValueError)
    │   └── FileTooHeavyError    one that has more bytes than it may
    ├── ReceiverError    who files go to, as it was described (also a ValueError)
    └── FillError        a ground or a retouch that cannot be made as asked (also a ValueError)
"""

from __future__ import annotations

from typing_extensions import override


def sentence(reason: str) -> str:
    """Make a sentence of a reason that is told without a beginning.

    >>> sentence("it has more than 1 kB, the most that is taken")
    'It has more than 1 kB, the most that is taken.'
    """
    return reason[:1].upper() + reason[1:].rstrip(".") + "."


class OakLedgeError(Exception):
    """Root of all errors of this program; its text says what happened, why and what to do."""


class CoreError(OakLedgeError):
    """Base of every error of the core; its text says what happened, why and what to do."""


class SizeError(CoreError, ValueError):
    """A size that cannot be made."""


class SizeTextError(SizeError):
    """A text that cannot be read as a size.

    Attributes: `text` as it was given, `at` the place (0 = first character) where reading
    stopped, `why` and `how` to write it instead.
    """

    def __init__(self, text: str, at: int, why: str, how: str) -> None:
        super().__init__(text, at, why, how)
        self.text, self.at, self.why, self.how = text, at, why, how

    @override
    def __str__(self) -> str:
        shown = self.text if len(self.text) <= 60 else f"{self.text[:59]}…"
        return f"“{shown}” is not a size: {self.why}. {self.how}"


class FaceError(CoreError, ValueError):
    """Points that are no face: eyes, chin and crown in no order a head has."""


class PlacementError(CoreError, ValueError):
    """A placement or gesture that cannot be."""


class PhotoError(CoreError, ValueError):
    """A file that cannot be taken in as a photo."""


class FileError(CoreError, ValueError):
    """A file that cannot be made as asked."""


class FileTooHeavyError(FileError):
    """A file whose greatest bytes can't be kept; `why` says so, `advice` what would do by itself."""

    def __init__(self, why: str, advice: str) -> None:
        super().__init__(why, advice)
        self.why, self.advice = why, advice

    @override
    def __str__(self) -> str:
        return f"{self.why}. {self.advice}"


class ReceiverError(CoreError, ValueError):
    """A receiver can't be as it was described; the text says what is wrong and how to write it."""


class FillError(CoreError, ValueError):
    """A ground can't be continued, or a place not painted over, as asked."""
