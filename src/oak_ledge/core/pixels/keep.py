"""Keeping what is made of a photo besides its pieces: who asks for a scene says where."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Any, TypeAlias

if TYPE_CHECKING:
    import numpy.typing as npt


Arrays: TypeAlias = "Mapping[str, npt.NDArray[Any]]"

Keep = Callable[[str, Callable[[], Arrays]], Arrays]
"""Gives what is kept under a text that says all it is made of, or makes and keeps it."""


def not_kept(of: str, make: Callable[[], Arrays]) -> Arrays:
    """Keep nothing: what is asked for is made."""
    return make()
