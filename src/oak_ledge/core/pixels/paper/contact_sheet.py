"""A contact sheet: small pictures of files with their figures, on pages of paper."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

import pyvips
from PIL import Image, ImageDraw, ImageFont

PPI = 200


PAPERS = {  # inches; ISO 216, ANSI/ASME Y14.1
    "a3": (297 / 25.4, 420 / 25.4), "a4": (210 / 25.4, 297 / 25.4), "a5": (148 / 25.4, 210 / 25.4),
    "letter": (8.5, 11.0), "tabloid": (11.0, 17.0),
}  # fmt: skip


Paper = Literal["a3", "a4", "a5", "letter", "tabloid"]


# Inches: of paper around, between cells.
PAPER_MARGIN, GAP = 0.5, 0.14


COLUMNS, ROWS = 4, 5


# Pixels.
TEXT = 21


INK, PALE, OAK = (30, 58, 52), (236, 236, 236), (168, 118, 62)


# Pixels of a line across a picture.
LINE = 2


@dataclass(frozen=True)
class Cell:
    """One picture of a sheet, and what is written below it."""

    path: Path
    name: str
    figures: str
    lines: tuple[float, ...] = ()
    """drawn across it, as shares of its height from its top"""


def draw_sheet(title: str, cells: Sequence[Cell], paper: Paper, font: Path) -> bytes:
    """Draw a contact sheet as PDF, a page for every twenty pictures.

    `font` is a file of letters that FreeType reads.
    """
    pages = [cells[n : n + COLUMNS * ROWS] for n in range(0, len(cells), COLUMNS * ROWS)]
    drawn = [
        _page(f"{title}, {n} of {len(pages)}", page, paper, font) for n, page in enumerate(pages, 1)
    ]
    out = io.BytesIO()
    drawn[0].save(out, "PDF", resolution=PPI, quality=90, save_all=True, append_images=drawn[1:])
    return out.getvalue()


def _page(title: str, cells: Sequence[Cell], paper: Paper, font: Path) -> Image.Image:
    wide, high = (round(edge * PPI) for edge in PAPERS[paper])
    page = Image.new("RGB", (wide, high), "white")
    draw = ImageDraw.Draw(page)
    edge, gap = round(PAPER_MARGIN * PPI), round(GAP * PPI)
    draw.text((edge, edge - 2 * TEXT), title, fill=INK, font=ImageFont.truetype(font, TEXT + 8))
    cell_wide = (wide - 2 * edge - (COLUMNS - 1) * gap) // COLUMNS
    cell_high = (high - 2 * edge - (ROWS - 1) * gap) // ROWS
    room = (cell_wide, cell_high - round(3 * TEXT * 1.3))
    letters = ImageFont.truetype(font, TEXT)
    for n, cell in enumerate(cells):
        x = edge + n % COLUMNS * (cell_wide + gap)
        y = edge + n // COLUMNS * (cell_high + gap)
        draw.rectangle((x, y, x + room[0], y + room[1]), fill=PALE)
        small = _small(cell.path, room)
        left, top = x + (room[0] - small.width) // 2, y + (room[1] - small.height) // 2
        page.paste(small, (left, top))
        for share in cell.lines:
            at = top + round(share * small.height)
            draw.line((x, at, x + room[0], at), fill=OAK, width=LINE)
        for line, text in enumerate((cell.name, *cell.figures.split("\n"))):
            words = _fitted(text, letters, cell_wide)
            draw.text(
                (x, y + room[1] + 6 + line * round(TEXT * 1.25)), words, fill=INK, font=letters
            )
    return page


def _small(path: Path, room: tuple[int, int]) -> Image.Image:
    """Draw a file in sRGB within a room; what has alpha stands on white."""
    image = pyvips.Image.thumbnail(
        str(path), room[0], height=room[1], size="down", export_profile="srgb"
    )
    if image.hasalpha():
        image = image.flatten(background=[255])
    pixels = image.colourspace("srgb").cast("uchar").numpy()
    return Image.fromarray(pixels.reshape(image.height, image.width, -1)[..., :3])


def _fitted(text: str, letters: ImageFont.FreeTypeFont, wide: int) -> str:
    if letters.getlength(text) <= wide:
        return text
    while text and letters.getlength(f"{text}…") > wide:
        text = text[:-1]
    return f"{text}…"
