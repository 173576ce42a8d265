"""A piece as it lies on a sheet: how much room it takes, at exactly its own size."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from oak_ledge.core.gestures.pixels import resampled_to
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.sheets.canvas import Rect, is_paper, per_unit
from oak_ledge.core.sizes.file_geometry import file_pixels, one_panel
from oak_ledge.core.sizes.geometry import whole_margin
from oak_ledge.core.sizes.hidden_edges import printed_inches
from oak_ledge.core.sizes.resolution import resampled
from oak_ledge.core.sizes.size import Size

# Inches below a piece for its name: 4 mm.
NAME_ROOM = Fraction(40, 254)

NOTHING = Fraction(0)


@dataclass(frozen=True)
class PieceOn:
    """A piece, or one of its panels, as shot: its edges and its bleed, in a canvas' measure."""

    width: Fraction
    height: Fraction
    bleed: Fraction
    below: Fraction
    """room for its name"""

    def taken(self, x: Fraction, y: Fraction, *, turned: bool) -> Rect:
        """Return all it takes of the sheet, from its top left corner on, bleed and name counted."""
        rect = self.whole(x, y, turned=turned)
        return rect._replace(height=rect.height + self.below)

    def whole(self, x: Fraction, y: Fraction, *, turned: bool) -> Rect:
        """Return the piece with its bleed."""
        wide, high = (self.height, self.width) if turned else (self.width, self.height)
        return Rect(x, y, wide, high)

    def trimmed(self, x: Fraction, y: Fraction, *, turned: bool) -> Rect:
        """Return the piece as it is trimmed."""
        whole, off = self.whole(x, y, turned=turned), self.bleed
        return Rect(whole.x + off, whole.y + off, whole.width - 2 * off, whole.height - 2 * off)


def piece_on(canvas: Size, lying: Lying, *, named: bool = False) -> PieceOn:
    """Return what a piece takes of a canvas; each of its panels, where it has some, takes as much.

    On a paper these are its own lengths; one that has none counts in the paper's pixels. On a face
    it is its pixels.
    """
    size, output = one_panel(lying.size), file_pixels(lying.size, lying.asked)
    if not is_paper(canvas):
        return PieceOn(Fraction(output[0]), Fraction(output[1]), NOTHING, NOTHING)
    printed = printed_inches(size, output)
    wide, high = printed or (output[0] / per_unit(canvas), output[1] / per_unit(canvas))
    off = whole_margin(size) if printed else NOTHING
    return PieceOn(wide + 2 * off, high + 2 * off, off, NAME_ROOM if named else NOTHING)


def drawn_on(canvas: Size, lying: Lying) -> Lying:
    """Return a piece as it is drawn on a canvas' own pixels: its lengths at the paper's resolution."""
    size = lying.size
    if not is_paper(canvas) or canvas.ppi is None or size.ppi in (None, canvas.ppi):
        return lying
    own = resampled(lying.size, file_pixels(lying.size, lying.asked), canvas.ppi)
    placement = resampled_to(size, lying, own)
    return Lying(size_at(size, placement), lying.surface, placement)
