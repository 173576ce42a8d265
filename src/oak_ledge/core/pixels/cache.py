"""Keeping what is made of a photo besides its pieces: who asks for a scene says where."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Any, TypeAlias

if TYPE_CHECKING:
    import numpy.typing as npt


Arrays: TypeAlias = "Mapping[str, npt.NDArray[Any]]"

# Says whether what was kept is what it should be; what is not is made again.
IsSound = Callable[[Arrays], bool]

# Gives what is kept under a text that says all it is made of, or makes and keeps it.
Keep = Callable[[str, Callable[[], Arrays], IsSound], Arrays]


def not_kept(of: str, make: Callable[[], Arrays], is_sound: IsSound) -> Arrays:
    """Keep nothing: what is asked for is made."""
    return make()
