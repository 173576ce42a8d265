"""A mark as it is laid over a piece: its files, how it lies, what it must not lie on."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from oak_ledge.core.marks.mark import Mark
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.keep_zones import NOTHING, Keeps


@dataclass(frozen=True)
class MarkFile:
    """A mark's picture: its file, and its own width and height, which give its ratio."""

    path: Path
    shape: Pixels
    drawn: bool
    """an SVG, drawn as large as it is needed"""


@dataclass(frozen=True)
class LaidMark:
    """A mark as it is laid over a piece, and what of its photo it must not lie on."""

    file: MarkFile
    how: Mark
    keeps: Keeps = NOTHING
    on_dark: MarkFile | None = None
    """laid instead of it where the ground below is dark"""
