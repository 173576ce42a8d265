"""What is cut for a framed piece: print, mat, glass, backing and the four mouldings (rules, section 6)."""

from __future__ import annotations

from fractions import Fraction

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.measures.lengths import MM_PER_INCH, Pixels
from oak_ledge.core.measures.numbers import halves_up, rounded
from oak_ledge.core.sizes.edges.frame import Inches, outer_of
from oak_ledge.core.sizes.hidden_edges import as_printed, printed_inches
from oak_ledge.core.sizes.size import Size

# Glass and backing are so much smaller than the opening, in all.
PLAY = Fraction(2) / MM_PER_INCH

SIXTEENTHS = 16

# Inches.
FEET = 12


class Cut(BaseModel):
    """One thing to cut: its width and height in inches, exact; `remark` says how it lies."""

    model_config = ConfigDict(frozen=True)

    what: str
    inches: tuple[Fraction, Fraction]
    remark: str = ""

    @property
    def in_inches(self) -> str:
        """Width × height in inches, to a sixteenth."""
        return " × ".join(map(sixteenths, self.inches)) + " in"

    @property
    def in_mm(self) -> str:
        """Width × height in millimetres."""
        return " × ".join(map(millimetres, self.inches)) + " mm"


class CutCard(BaseModel):
    """All that is cut for one piece, and what its drawing shows: rectangles about one middle."""

    model_config = ConfigDict(frozen=True)

    cuts: tuple[Cut, ...]
    outer: tuple[Fraction, Fraction]
    """of the frame"""
    sight: tuple[Fraction, Fraction]
    """the inner edge of the moulding"""
    window: tuple[Fraction, Fraction] | None
    """of the mat"""
    round: bool
    """that window is round"""
    printed: tuple[Fraction, Fraction]
    moulding: Fraction
    """its width"""

    @property
    def moulding_length(self) -> Fraction:
        """How much moulding the four sides take at their outer edge, in inches; no waste counted."""
        return 2 * (self.outer[0] + self.outer[1])


def cut_card(size: Size, output: Pixels) -> CutCard | None:
    """Return what is cut for a framed piece; None for one without a frame."""
    printed = printed_inches(size, output)
    frame = size.frame
    if frame is None or printed is None:
        return None

    def turned(lengths: Inches) -> Inches:
        return as_printed(size, lengths, output) or lengths

    mat = frame.mat
    outer = turned(outer_of(frame, printed))
    box = frame.opening or (mat.outer if mat else None)
    opening = printed if box is None else turned(box.inches)
    glass = (opening[0] - PLAY, opening[1] - PLAY)
    sight = (outer[0] - 2 * frame.moulding.inches, outer[1] - 2 * frame.moulding.inches)
    cuts = [Cut(what="Print", inches=printed)]
    window = None
    if mat is not None:
        whole, window = turned(mat.outer.inches), turned(mat.window.inches)
        edge = tuple((a - b) / 2 for a, b in zip(whole, window, strict=True))
        place = f"{sixteenths(edge[0])} in ({millimetres(edge[0])} mm) from the sides, "
        place += f"{sixteenths(edge[1])} in ({millimetres(edge[1])} mm) from top and foot"
        cuts += [
            Cut(what="Mat", inches=whole),
            Cut(
                what=f"{'Round window' if mat.round else 'Window'} of the mat",
                inches=window,
                remark=place,
            ),
        ]
    cuts += [
        Cut(what="Glass and backing", inches=glass, remark="2 mm less than the opening"),
        Cut(
            what="Moulding, two of each",
            inches=outer,
            remark=f"at the outer edge, mitred at 45°; {millimetres(frame.moulding.inches)} mm wide",
        ),
    ]
    return CutCard(
        cuts=tuple(cuts),
        outer=outer,
        sight=sight,
        window=window,
        round=mat is not None and mat.round,
        printed=printed,
        moulding=frame.moulding.inches,
    )


def sixteenths(inches: Fraction) -> str:
    """Write inches as a whole and a fraction, to the nearest sixteenth.

    >>> sixteenths(Fraction(139, 16)), sixteenths(Fraction(8)), sixteenths(Fraction(3, 8))
    ('8 11/16', '8', '3/8')
    """
    whole, part = divmod(halves_up(inches * SIXTEENTHS), SIXTEENTHS)
    if not part:
        return str(whole)
    fraction = Fraction(part, SIXTEENTHS)
    words = f"{fraction.numerator}/{fraction.denominator}"
    return f"{whole} {words}" if whole else words


def millimetres(inches: Fraction) -> str:
    """Write inches in millimetres, to a tenth."""
    return rounded(float(inches * MM_PER_INCH), 1)


class MouldingNeeded(BaseModel):
    """How much of one moulding a job's framed pieces take, no waste counted."""

    width_mm: float
    pieces: int
    metres: float
    feet: float
    words: str


def mouldings(cards: list[CutCard]) -> list[MouldingNeeded]:
    """Add up the mouldings of framed pieces, by their width."""
    moulding_neededs: list[MouldingNeeded] = []
    for width in sorted({card.moulding for card in cards}):
        these = [card for card in cards if card.moulding == width]
        inches = sum((card.moulding_length for card in these), Fraction(0))
        metres, feet = float(inches * MM_PER_INCH) / 1000, float(inches) / FEET
        pieces = "1 piece" if len(these) == 1 else f"{len(these)} pieces"
        words = f"{millimetres(width)} mm moulding for {pieces}: {rounded(metres, 2)} m, {rounded(feet)} ft"
        moulding_neededs.append(
            MouldingNeeded(
                width_mm=float(width * MM_PER_INCH),
                pieces=len(these),
                metres=metres,
                feet=feet,
                words=words,
            )
        )
    return moulding_neededs
