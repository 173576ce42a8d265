"""A line of text as a mark: its letters' outlines in a shipped font, as an SVG that scales to any width."""

from __future__ import annotations

from pathlib import Path

from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer
from PIL import ImageFont

from oak_ledge.core.errors import SizeError

# Letters of a line.
LONGEST_LINE = 80

# Of a font that has several: what reads well small, over a picture.
_WEIGHT = 600


def line_of_text(text: str, font: Path, colour: str) -> bytes:
    """Return a line of text as an SVG: one path, kerned, as high as the font's letters.

    Parameters
    ----------
    font : a TrueType font file, as WOFF2
    colour : `#rrggbb`

    Raises
    ------
    SizeError
        If nothing is written, the line is too long, or the font lacks a letter of it.
    """
    line = " ".join(text.split())
    if not line or len(line) > LONGEST_LINE:
        msg = f"a line of text has 1 to {LONGEST_LINE} letters; write it anew"
        raise SizeError(msg)
    opened = TTFont(font)
    if "fvar" in opened:
        opened = instancer.instantiateVariableFont(opened, {"wght": _WEIGHT})
    names, glyphs = opened.getBestCmap(), opened.getGlyphSet()
    lacks = sorted({letter for letter in line if ord(letter) not in names})
    if lacks:
        msg = f"the font has no “{'”, “'.join(lacks[:5])}”; write it otherwise, or add the line as a picture"
        raise SizeError(msg)
    pen = SVGPathPen(glyphs)
    across = kerned(line, font, opened["head"].unitsPerEm)
    for letter, x in zip(line, across, strict=False):
        glyphs[names[ord(letter)]].draw(TransformPen(pen, (1, 0, 0, -1, x, 0)))
    above, below = opened["hhea"].ascent, opened["hhea"].descent
    wide = max(1, round(across[-1]))
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide / 10}" height="{(above - below) / 10}" '
        f'viewBox="0 {-above} {wide} {above - below}">'
        f'<path fill="{colour}" d="{pen.getCommands()}"/></svg>'
    ).encode()


def kerned(line: str, font: Path, em: int) -> list[float]:
    """Return where each letter of a line begins, and where the last one ends, in units of the em."""
    letters = ImageFont.truetype(font, em)
    if "wght" in font.name:
        letters.set_variation_by_axes([_WEIGHT])
    alone = ["-liga"]  # no two letters drawn as one

    def width(part: str) -> float:
        return letters.getlength(part, features=alone)

    return [width(line[: n + 1]) - width(line[n]) for n in range(len(line))] + [width(line)]
