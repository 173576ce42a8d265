"""A framing card: outlines of sizes inside a camera's picture, to take along to the next shoot."""

from __future__ import annotations

import io
from collections.abc import Sequence
from fractions import Fraction
from pathlib import Path
from typing import Literal

from PIL import Image, ImageDraw, ImageFont

from oak_ledge.core.reports.survivors import Framed

PPI = 300


# A6 at 300 ppi.
CARD = (1748, 1240)


# Pixels of paper around the picture.
CARD_BORDER = 84


INK, OAK, PALE = (30, 58, 52), (168, 118, 62), (238, 228, 210)


LINE, TEXT = 5, 34


def draw_card(
    title: str,
    sizes: Sequence[Framed],
    camera: Fraction,
    kind: Literal["png", "pdf"],
    font: Path,
) -> bytes:
    """Draw an A6 card: the camera's picture, every size's outline in it, and what survives them all.

    `font` is a file of letters that FreeType reads.
    """
    wide, high = CARD if camera >= 1 else CARD[::-1]
    image = Image.new("RGB", (wide, high), "white")
    draw = ImageDraw.Draw(image)
    room = (wide - 2 * CARD_BORDER, high - 2 * CARD_BORDER - 3 * TEXT)
    scale = min(room[0] / float(camera), room[1])
    frame_wide, frame_high = scale * float(camera), scale
    left, top = (wide - frame_wide) / 2, CARD_BORDER + 2 * TEXT

    def box(framed: Framed) -> tuple[float, float, float, float]:
        x, y = left + framed.left * frame_wide, top + framed.top * frame_high
        return x, y, x + framed.width * frame_wide, y + framed.height * frame_high

    draw.rectangle(
        (left, top, left + frame_wide, top + frame_high), fill="white", outline=INK, width=LINE
    )
    small = ImageFont.truetype(font, TEXT)
    _draw_sizes(draw, [(framed.name, box(framed)) for framed in sizes], small)
    draw.text((left, CARD_BORDER - TEXT), title, fill=INK, font=ImageFont.truetype(font, TEXT + 12))
    words = f"inside a picture of {camera.numerator}:{camera.denominator}; tinted: what all of them keep"
    draw.text((left, top + frame_high + 16), words, fill=INK, font=small)
    out = io.BytesIO()
    if kind == "pdf":
        image.save(out, "PDF", resolution=PPI, quality=95)
    else:
        image.save(out, "PNG", dpi=(PPI, PPI))
    return out.getvalue()


def _draw_sizes(
    draw: ImageDraw.ImageDraw,
    sizes: Sequence[tuple[str, tuple[float, float, float, float]]],
    font: ImageFont.FreeTypeFont,
) -> None:
    """Draw the outlines of sizes with their names, and tinted what all of them keep."""
    if sizes:
        lefts, tops, rights, feet = zip(*(box for _, box in sizes), strict=True)
        draw.rectangle((max(lefts), max(tops), min(rights), min(feet)), fill=PALE)
    for number, (name, box) in enumerate(sizes):
        draw.rectangle(box, outline=OAK, width=LINE)
        at = (box[0] + 14, box[1] + 12 + number * (TEXT + 8))
        draw.text(at, name, fill=INK, font=font, stroke_width=6, stroke_fill="white")
