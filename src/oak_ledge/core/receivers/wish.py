"""What of a piece shall be otherwise, so that a receiver takes it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from oak_ledge.core.sizes.file.formats import FileFormat


@dataclass(frozen=True)
class Wish:
    """What of a piece shall be otherwise; what is left out stays."""

    lay_on: str | None = None
    """the text of a size"""
    ppi: int | None = None
    format: FileFormat | None = None
    profile: Literal["srgb", "p3", "grey"] | None = None
    at_most: int | None = None
    on_white: bool = False
    cut_out: bool = False
    """the thing in it shall stand free of its background, which is the photo's and not the piece's"""
