"""Where the pieces of a review are drawn: at true size to each other, framed as they will be."""

from __future__ import annotations

from dataclasses import dataclass, fields
from functools import cached_property

from oak_ledge.flows.jobs.review import Review, ReviewPiece
from oak_ledge.web.drawings.picture import Rect

# The longest edge of all prints is drawn so long, in CSS pixels; a screen's longer edge so long at most.
LONGEST, SCREEN = 520.0, 420.0


@dataclass(frozen=True)
class DrawnPiece(ReviewPiece):
    """A piece with its drawn width and height; of its print, without the frame."""

    wide: float
    high: float

    @cached_property
    def rims(self) -> list[tuple[str, str]]:
        """Mat and moulding as path data, each with its class."""
        if self.hung is None:
            return []
        outer, sight = self._about(self.hung.frame), self._about(self.hung.sight)
        rims = []
        if self.hung.window is not None:
            window = self._about(self.hung.window)
            rims.append((_box(sight) + (_oval(window) if self.hung.round else _box(window)), "mat"))
        return [*rims, (_box(outer) + _box(sight), "moulding")]

    def _about(self, shares: tuple[float, float]) -> Rect:
        """Return a rectangle about the piece's middle, within the drawing."""
        assert self.hung is not None
        outer = self.hung.frame
        wide, high = self.wide * shares[0], self.high * shares[1]
        return (self.wide * outer[0] - wide) / 2, (self.high * outer[1] - high) / 2, wide, high


def drawn(review: Review) -> list[DrawnPiece]:
    """Return the pieces of a review as they are drawn: prints at one scale, screens at another."""
    prints = [edge for piece in review.pieces for edge in piece.inches or ()]
    screens = [edge for piece in review.pieces if piece.inches is None for edge in piece.pixels]
    per_inch = LONGEST / max(prints) if prints else 1.0
    per_pixel = SCREEN / max(screens) if screens else 1.0
    return [_drawn(piece, per_inch, per_pixel) for piece in review.pieces]


def _drawn(piece: ReviewPiece, per_inch: float, per_pixel: float) -> DrawnPiece:
    edges, scale = (piece.pixels, per_pixel) if piece.inches is None else (piece.inches, per_inch)
    own = {field.name: getattr(piece, field.name) for field in fields(piece)}
    return DrawnPiece(**own, wide=edges[0] * scale, high=edges[1] * scale)


def _box(rect: Rect) -> str:
    left, top, wide, high = rect
    return f"M{left:.2f} {top:.2f}h{wide:.2f}v{high:.2f}h-{wide:.2f}z"


def _oval(rect: Rect) -> str:
    left, top, wide, high = rect
    arc = f"a{wide / 2:.2f} {high / 2:.2f} 0 1 0"
    return f"M{left:.2f} {top + high / 2:.2f}{arc} {wide:.2f} 0{arc} -{wide:.2f} 0z"
