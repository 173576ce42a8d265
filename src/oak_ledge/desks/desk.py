"""What every stand-in receiver is, and what it is handed."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

from oak_ledge.core.files.proof import Measured
from oak_ledge.core.files.wishes import Wish
from oak_ledge.core.sizes.choices import Group


@dataclass(frozen=True)
class Parcel:
    """A file on its way: where it lies, what it measures, what its size is for."""

    path: Path
    """of a file that is not made yet, a picture of it"""
    measured: Measured
    group: Group
    number: int
    """its place among those that come together, from 1"""


@dataclass(frozen=True)
class Fix:
    """What would do away with a reason: in words, and as a wish that can be granted in one step."""

    words: str
    wish: Wish


@dataclass(frozen=True)
class Answer:
    """What a desk says of a file: nothing against it, or its reasons, and what would fix them."""

    reasons: tuple[str, ...]
    fixes: tuple[Fix, ...] = ()
    hangs: bool = False
    """it would not only refuse the file but stand still until it is reset"""

    @property
    def accepted(self) -> bool:
        """Whether nothing speaks against the file."""
        return not self.reasons


class Desk(Protocol):
    """A receiver: pure rules, no memory; what it received is kept by the store."""

    name: str
    title: str
    wants: str

    def is_for(self, parcel: Parcel) -> bool:
        """Return whether such a file is meant for this desk at all."""

    def check(self, parcel: Parcel) -> Answer:
        """Return what the desk would answer to a file."""
