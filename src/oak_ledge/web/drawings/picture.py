"""Where a piece's picture and its whole photo lie in a drawing of the print."""

from __future__ import annotations

from oak_ledge.flows.pieces.pieces import PieceView

# Left, top, width and height in a drawing.
Rect = tuple[float, float, float, float]


def picture_in(piece: PieceView, print_box: Rect) -> Rect:
    """Return where a piece's picture lies on its print, within its border."""
    left, top, width, height = print_box
    x, y, across, along = piece.inner
    return left + x * width, top + y * height, across * width, along * height


def photo_in(piece: PieceView, picture: Rect) -> Rect:
    """Return where all of a photo lies, so that a piece's picture shows its crop."""
    left, top, width, height = picture
    across, along = width / piece.crop[2], height / piece.crop[3]
    return (
        left - piece.crop[0] * across,
        top - piece.crop[1] * along,
        piece.extent[0] * across,
        piece.extent[1] * along,
    )
