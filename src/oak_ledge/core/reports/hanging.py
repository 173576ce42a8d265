"""A piece as it will hang: moulding, mat and what of the print they leave (rules, section 6)."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.measures.lengths import PER_INCH, Pixels
from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.sizes.edges.frame import Inches, outer_of
from oak_ledge.core.sizes.geometry import margin, seen_inches
from oak_ledge.core.sizes.hidden_edges import as_printed, printed_inches
from oak_ledge.core.sizes.size import Size

Shares = tuple[float, float]


class Hung(BaseModel):
    """Rectangles about the file's middle, as shares of its width and height; its border is part of it."""

    model_config = ConfigDict(frozen=True)

    frame: Shares
    """the outer edge of the moulding"""
    sight: Shares
    """its inner edge"""
    window: Shares | None
    """the mat's window; None without a mat"""
    round: bool
    """the window is round: an ellipse as wide and as high"""
    words: str


def hung(size: Size, output: Pixels) -> Hung | None:
    """Return how a framed piece hangs; None for one without a frame."""
    if size.frame is None:
        return None
    printed = printed_inches(size, output)
    if printed is None:
        return None
    outer = as_printed(size, outer_of(size.frame, printed), output) or printed
    moulding = size.frame.moulding.inches
    file = [edge + 2 * margin(size) for edge in printed]
    window = as_printed(size, seen_inches(size), output) if size.frame.mat is not None else None

    def shares(lengths: Inches) -> Shares:
        return float(lengths[0] / file[0]), float(lengths[1] / file[1])

    sight = (outer[0] - 2 * moulding, outer[1] - 2 * moulding)
    return Hung(
        frame=shares(outer),
        sight=shares(sight),
        window=None if window is None else shares(window),
        round=size.frame.mat is not None and size.frame.mat.round,
        words=_words(size, outer),
    )


def _words(size: Size, outer: Inches) -> str:
    unit = size.shape.measured_in
    unit = "in" if unit in (None, "px") else unit
    width, height = (rounded(float(edge * PER_INCH[unit])) for edge in outer)
    return f"hangs {width} × {height} {unit}"
