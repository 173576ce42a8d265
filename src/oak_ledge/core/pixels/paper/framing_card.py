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
    if sizes:
        boxes = [box(framed) for framed in sizes]
        safe = (
            max(b[0] for b in boxes), max(b[1] for b in boxes),
            min(b[2] for b in boxes), min(b[3] for b in boxes),
        )  # fmt: skip
        draw.rectangle(safe, fill=PALE)
    small = ImageFont.truetype(font, TEXT)
    for number, size in enumerate(sizes):
        x0, y0, x1, y1 = box(size)
        draw.rectangle((x0, y0, x1, y1), outline=OAK, width=LINE)
        row = TEXT + 8
        draw.text(
            (x0 + 14, y0 + 12 + number * row),
            size.name,
            fill=INK,
            font=small,
            stroke_width=6,
            stroke_fill="white",
        )
    draw.text((left, CARD_BORDER - TEXT), title, fill=INK, font=ImageFont.truetype(font, TEXT + 12))
    words = f"inside a picture of {camera.numerator}:{camera.denominator}; tinted: what all of them keep"
    draw.text((left, top + frame_high + 16), words, fill=INK, font=small)
    out = io.BytesIO()
    if kind == "pdf":
        image.save(out, "PDF", resolution=PPI, quality=95)
    else:
        image.save(out, "PNG", dpi=(PPI, PPI))
    return out.getvalue()
