"""Papers and screens that the trade calls by name, and their measures."""

from __future__ import annotations

import re
from fractions import Fraction

from oak_ledge.core.sizes.shapes.exact import ExactShape

# ISO 216: A0 is 841 × 1189 mm, each next one half of it, rounded down to the millimetre.
_ISO_A = (
    (841, 1189), (594, 841), (420, 594), (297, 420), (210, 297), (148, 210), (105, 148), (74, 105),
    (52, 74), (37, 52), (26, 37),
)  # fmt: skip


# ANSI/ASME Y14.1, in inches
_PAPERS = {
    "letter": ("8.5", "11"),
    "legal": ("8.5", "14"),
    "tabloid": ("11", "17"),
    "ledger": ("17", "11"),
}


# CTA-770.3 and SMPTE ST 2036: as many lines, at 16:9
_SCREENS = {
    "720p": (1280, 720),
    "1080p": (1920, 1080),
    "1440p": (2560, 1440),
    "2160p": (3840, 2160),
    "4320p": (7680, 4320),
    "full hd": (1920, 1080),
    "qhd": (2560, 1440),
    "uhd": (3840, 2160),
    "4k uhd": (3840, 2160),
    "8k uhd": (7680, 4320),
}


NAMED = re.compile(
    rf"a(\d\d?)(?!\w)|({'|'.join(_PAPERS)})\b|({'|'.join(_SCREENS)})\b".replace(" ", r"\s*"),
    re.IGNORECASE,
)


def named(match: re.Match[str]) -> ExactShape | None:
    """Return the shape that a name found by `NAMED` stands for; None for a paper there isn't.

    >>> named(NAMED.match("A4")).text, named(NAMED.match("Full HD")).text
    ('210x297mm', '1920x1080px')
    """
    iso, paper, screen = match.groups()
    if iso is not None:
        if int(iso) >= len(_ISO_A):
            return None
        width, height = _ISO_A[int(iso)]
        return ExactShape(width=Fraction(width), height=Fraction(height), unit="mm")
    if paper is not None:
        across, along = map(Fraction, _PAPERS[paper.lower()])
        return ExactShape(width=across, height=along, unit="in")
    spaced = {name.replace(" ", ""): edges for name, edges in _SCREENS.items()}
    wide, high = spaced["".join(screen.lower().split())]
    return ExactShape(width=Fraction(wide), height=Fraction(high), unit="px")
