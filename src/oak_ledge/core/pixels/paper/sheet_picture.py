"""A page of a sheet as pixels: every piece drawn straight from its photo onto whole pixels of the page."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from io import BytesIO
from pathlib import Path

import numpy as np
import numpy.typing as npt
from PIL import Image, ImageDraw, ImageFont

from oak_ledge.core.errors import FileError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.sheets.trim_marks import TrimMark
from oak_ledge.core.sizes.edges.panels import PanelBox

INK = (30, 58, 52)

# Inches: a trim mark's width, the height of a name.
LINE, LETTERS = 0.25 / 72, 6.5 / 72


@dataclass(frozen=True)
class Drawn:
    """A piece's pixels, upright, (H, W, bands), and where they stand."""

    pixels: Array
    box: PanelBox
    turned: bool
    name: str = ""


def draw_page(
    canvas: Pixels,
    ground: str,
    pieces: Iterator[Drawn],
    marks: Sequence[TrimMark],
    ppi: float | None,
) -> Array:
    """Draw a page: (H, W, 3) uint8 in the profile the pieces have; what is clear shows the ground.

    Raises
    ------
    FileError
        If a piece is not as large as its place.
    """
    tone = [int(ground[at : at + 2], 16) for at in (1, 3, 5)]
    page = np.empty((canvas[1], canvas[0], 3), np.uint8)
    page[:] = tone
    names = []
    for piece in pieces:
        pixels = np.rot90(piece.pixels, -1) if piece.turned else piece.pixels
        left, top, width, height = piece.box
        if pixels.shape[:2] != (height, width):
            high, wide = pixels.shape[:2]
            msg = f"a piece came out {wide} × {high} px where {width} × {height} are asked"
            raise FileError(msg)
        page[top : top + height, left : left + width] = _opaque(pixels, tone)
        names.append((piece.name, left, top + height))
    return _lettered(page, names, marks, ppi) if ppi else page


def _opaque(pixels: Array, tone: Sequence[int]) -> npt.NDArray[np.uint8]:
    """Return pixels as three bands of 8 bits, what is clear laid over a colour."""
    values = pixels.astype(np.float32) / (257 if pixels.dtype == np.uint16 else 1)
    bands = pixels.shape[2]
    colours = np.repeat(values[..., :1], 3, axis=2) if bands <= 2 else values[..., :3]
    if bands in (2, 4):
        share = values[..., -1:] / 255
        colours = colours * share + np.array(tone, np.float32) * (1 - share)
    return np.rint(colours).astype(np.uint8)


def _lettered(
    page: Array, names: Sequence[tuple[str, int, int]], marks: Sequence[TrimMark], ppi: float
) -> Array:
    image = Image.fromarray(page)
    draw = ImageDraw.Draw(image)
    width = max(1, round(ppi * LINE))
    for mark in marks:
        draw.line([round(end * ppi) for end in mark], fill=INK, width=width)
    letters = ImageFont.load_default(max(6, round(ppi * LETTERS)))
    for name, left, foot in names:
        if name:
            draw.text(
                (left + round(ppi * 0.04), foot + round(ppi * 0.02)),
                name[:120],
                fill=INK,
                font=letters,
            )
    return np.asarray(image)


@dataclass(frozen=True)
class Small:
    """A piece's preview on disk, which part of it is shown, as shares, and where it stands."""

    path: Path
    cut: tuple[float, float, float, float]
    box: PanelBox
    turned: bool


def draw_small(canvas: Pixels, ground: str, pieces: Iterable[Small]) -> bytes:
    """Draw a page from the previews of its pieces, for the screen; a JPEG."""
    page = Image.new("RGB", canvas, ground)
    for piece in pieces:
        left, top, width, height = piece.box
        with Image.open(piece.path) as preview:
            wide, high = preview.size
            x, y, across, along = piece.cut
            part = preview.crop(
                (
                    round(x * wide),
                    round(y * high),
                    round((x + across) * wide),
                    round((y + along) * high),
                )
            )
            if piece.turned:
                part = part.transpose(Image.Transpose.ROTATE_270)
            part = part.resize((max(1, width), max(1, height)))
            page.paste(part, (left, top), part if part.mode == "RGBA" else None)
    out = BytesIO()
    page.save(out, "JPEG", quality=88)
    return out.getvalue()
