"""The sizes a new library begins with."""

from __future__ import annotations

from oak_ledge.core.sizes.choices import Group
from oak_ledge.core.sizes.file.ppi_range import PpiRange

IN_THE_HAND = PpiRange(low=240, high=300)


ON_THE_WALL = PpiRange(low=150, high=300)


# ISO/IEC 19794-5: no fewer than 300 pixels to the inch.
OF_A_HEAD = PpiRange(low=300, high=600)


def _framed(opening: str) -> dict[str, object]:
    return {"frame": {"opening": opening, "lip": "6mm"}}


def _matted(outer: str, window: str) -> dict[str, object]:
    mat = {"outer": outer, "window": window}
    return {"frame": {"opening": outer, "lip": "6mm", "mat": mat}}


_PNG_SIGN: dict[str, object] = {"file": {"format": "png", "at_most": "150kB"}}


# Trade print sizes in inches; A sizes by ISO 216; screens by their common names. The sources
# are in docs/sizes-and-sources.md.
STARTERS: tuple[tuple[str, Group, str, PpiRange | None, dict[str, object]], ...] = (
    ("4 × 6 in print", "print", "4x6in@300", IN_THE_HAND, {}),
    ("5 × 7 in print", "print", "5x7in@300", IN_THE_HAND, {}),
    ("8 × 8 in print", "print", "8x8in@300", IN_THE_HAND, {}),
    ("8 × 10 in print", "print", "8x10in@300", IN_THE_HAND, {}),
    ("8 × 12 in print", "print", "8x12in@300", IN_THE_HAND, {}),
    ("11 × 14 in print", "print", "11x14in@300", IN_THE_HAND, {}),
    ("12 × 18 in print", "print", "12x18in@240", ON_THE_WALL, {}),
    ("16 × 20 in print", "print", "16x20in@240", ON_THE_WALL, {}),
    ("20 × 30 in print", "print", "20x30in@200", ON_THE_WALL, {}),
    ("24 × 36 in print", "print", "24x36in@200", ON_THE_WALL, {}),
    ("10 × 15 cm print", "print", "10x15cm@300", IN_THE_HAND, {}),
    ("13 × 18 cm print", "print", "13x18cm@300", IN_THE_HAND, {}),
    ("20 × 30 cm print", "print", "20x30cm@300", IN_THE_HAND, {}),
    ("A6 print", "print", "105x148mm@300", IN_THE_HAND, {}),
    ("A5 print", "print", "148x210mm@300", IN_THE_HAND, {}),
    ("A4 print", "print", "210x297mm@300", IN_THE_HAND, {}),
    ("A3 print", "print", "297x420mm@240", ON_THE_WALL, {}),
    ("A2 print", "print", "420x594mm@200", ON_THE_WALL, {}),
    ("A6 card with bleed", "print", "105x148mm@300", IN_THE_HAND, {"bleed": "3mm"}),
    ("40 × 60 cm canvas", "print", "40x60cm@200", ON_THE_WALL, {"wrap": "4cm"}),
    (
        "40 × 60 cm canvas with mirrored sides",
        "print",
        "40x60cm@200",
        ON_THE_WALL,
        {"wrap": "4cm", "sides": "mirror"},
    ),
    ("Identity picture", "print", "35x45mm@600 head 32-36mm eyes 50-60%", OF_A_HEAD, {}),
    ("Passport 35 × 45 mm, UK", "print", "35x45mm@600 head 29-34mm", OF_A_HEAD, {}),
    ("Passport 2 × 2 in, US", "print", "2x2in@300 head 1-1.375in eyes 56-69%", OF_A_HEAD, {}),
    ("Passport 50 × 70 mm, Canada", "print", "50x70mm@600 head 31-36mm", OF_A_HEAD, {}),
    ("20 × 25 cm frame", "frame", "20x25cm@300", IN_THE_HAND, _framed("20x25cm")),
    ("24 × 30 cm frame", "frame", "24x30cm@300", IN_THE_HAND, _framed("24x30cm")),
    ("30 × 40 cm frame", "frame", "30x40cm@240", ON_THE_WALL, _framed("30x40cm")),
    ("40 × 50 cm frame", "frame", "40x50cm@200", ON_THE_WALL, _framed("40x50cm")),
    ("50 × 70 cm frame", "frame", "50x70cm@200", ON_THE_WALL, _framed("50x70cm")),
    ("8 × 10 in stair frame", "frame", "8x10in@300", IN_THE_HAND, _framed("8x10in")),
    ("A4 in a mat", "frame", "210x297mm@300", IN_THE_HAND, _matted("30x40cm", "200x287mm")),
    ("Square picture", "marketplace", "1600x1600px", None, {}),
    ("Stall picture", "marketplace", "2000x1500px", None, {}),
    ("Square on white", "marketplace", "2000x2000px extend", None, {"file": {"at_most": "2MB"}}),
    ("Round picture", "marketplace", "1600x1600px outline circle", None, {}),
    ("Strip in 3", "marketplace", "1080x1350px panels 3", None, {}),
    ("Harbour list", "marketplace", "long 2000px", None, {}),
    ("16:9 screen", "screen", "1920x1080px", None, {}),
    ("16:9 screen, large", "screen", "3840x2160px", None, {}),
    ("9:16 screen, tall", "screen", "1080x1920px", None, {}),
    ("Quay sign", "screen", "384x160px", None, _PNG_SIGN),
    ("Ferry board", "screen", "320x96px dot 1:2", None, _PNG_SIGN),
    ("Within a screen", "screen", "within 1920x1080px", None, {}),
    ("Free crop", "own", "100%", None, {}),
    ("Whole photo", "own", "photo", None, {}),
    ("Long strip", "own", "3:1", None, {}),
)
