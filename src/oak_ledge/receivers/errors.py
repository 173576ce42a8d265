"""What can go wrong on the way to a receiver.

OakLedgeError
└── SendError            a file did not get there
    ├── NotTakenError        the receiver refuses it, for good
    ├── BrokenLineError      for now; it can be tried again
    └── NotReadyError        nothing can be sent before a person did something
"""

from __future__ import annotations

from oak_ledge.core.errors import OakLedgeError


class SendError(OakLedgeError):
    """A file did not get to its receiver; the text says why."""


class NotTakenError(SendError):
    """The receiver refuses the file; the text is its reason."""


class BrokenLineError(SendError):
    """The line broke, or the receiver can't just now. `wait` is in seconds, where it said how long."""

    def __init__(self, text: str, wait: float | None = None) -> None:
        super().__init__(text)
        self.wait = wait


class NotReadyError(SendError):
    """Nothing can be sent there before a person did something; the text says what.

    `host_key` is the key a server showed, where it is that which is not known.
    """

    def __init__(self, text: str, host_key: str | None = None) -> None:
        super().__init__(text)
        self.host_key = host_key
