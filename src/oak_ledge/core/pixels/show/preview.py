"""Pictures of a photo for the screen."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from typing import Any

import pyvips

from oak_ledge.core.pixels.open.border import reading_file, reading_pixels
from oak_ledge.core.pixels.open.header import load
from oak_ledge.core.pixels.open.layers import Scene
from oak_ledge.core.pixels.open.photo import on_white, open_photo, path_of


@reading_file()
def draw_preview(source: Path | Scene, edge: int, *, clear: bool = False) -> bytes:
    """Draw an upright sRGB JPEG of a photo, or its scene, whose longer edge is at most `edge` pixels.

    What is clear becomes white, or with `clear` stays so, in a PNG.

    The whole file is decoded, so this is also the proof that a photo is whole.

    Raises
    ------
    PhotoError
        If the file is damaged or cut short.
    """
    header = load(path_of(source), header=True)
    shrink = 1
    while shrink < 8 and max(header.width, header.height) / (shrink * 2) >= edge:
        shrink *= 2
    opened = open_photo(source, shrink=shrink)
    with reading_pixels():
        image = opened.image
        scale = min(1.0, edge / max(image.width, image.height))
        image = image if clear else on_white(image)
        image = image.copy_memory() if scale == 1 else image.resize(scale).copy_memory()
        if opened.icc is not None:
            with suppress(pyvips.Error):  # a broken profile: shown as it is
                image = image.icc_transform("srgb", embedded=True, intent="relative")
        elif image.format == "ushort":
            image = image.cast("uchar", shift=True)
        image = image.autorot()
        return _as_clear(image) if clear else bytes(image.jpegsave_buffer(Q=88, keep="none"))


def draw_turned(path: Path, quarter: int, *, mirror: bool) -> bytes:
    """Turn a preview by quarters clockwise, then mirror it; as a JPEG, or a PNG where it has clear parts."""
    image = load(path).copy_memory().rot(f"d{quarter * 90}")
    image = image.fliphor() if mirror else image
    if image.hasalpha():
        return _as_clear(image)
    return bytes(image.jpegsave_buffer(Q=92, keep="none"))


def _as_clear(image: Any) -> bytes:
    return bytes(image.pngsave_buffer(compression=1, keep="none"))
