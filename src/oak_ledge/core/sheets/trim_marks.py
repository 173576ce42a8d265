"""Trim marks: short lines off the corners of a piece, along which it is cut (rules, section 6)."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import NamedTuple

import numpy as np

from oak_ledge.core.sheets.canvas import Rect

# Inches: 2 mm off the corner, 5 mm long.
OFF, LONG = Fraction(20, 254), Fraction(50, 254)

HAIR = 1e-9


class TrimMark(NamedTuple):
    """A line from one point to another, in inches from the sheet's top left corner."""

    x0: float
    y0: float
    x1: float
    y1: float


def trim_marks(
    trimmed: Sequence[Rect], pieces: Sequence[Rect], paper: tuple[Fraction, Fraction]
) -> list[TrimMark]:
    """Return the marks of a page.

    Parameters
    ----------
    trimmed : each piece as it is trimmed
    pieces : the same with their bleed; no mark touches one
    paper : width and height; a mark that would leave it is left out
    """
    if not trimmed:
        return []
    boxes = np.array(
        [[float(p.x), float(p.y), float(p.x + p.width), float(p.y + p.height)] for p in pieces]
    )
    wide, high = (float(edge) for edge in paper)
    marks = [
        mark for other, whole in zip(trimmed, pieces, strict=True) for mark in _around(other, whole)
    ]
    return [mark for mark in dict.fromkeys(marks) if _is_free(mark, boxes, wide, high)]


def _around(trimmed: Rect, whole: Rect) -> list[TrimMark]:
    """Return the eight marks of a piece: they begin beyond its bleed."""
    bleed = trimmed.x - whole.x
    near, far = float(bleed + OFF), float(bleed + OFF + LONG)
    left, top = float(trimmed.x), float(trimmed.y)
    right, bottom = left + float(trimmed.width), top + float(trimmed.height)
    marks = []
    for y in (top, bottom):
        marks += [
            TrimMark(left - far, y, left - near, y),
            TrimMark(right + near, y, right + far, y),
        ]
    for x in (left, right):
        marks += [
            TrimMark(x, top - far, x, top - near),
            TrimMark(x, bottom + near, x, bottom + far),
        ]
    return marks


def _is_free(mark: TrimMark, boxes: np.ndarray, wide: float, high: float) -> bool:
    if (
        min(mark) < -HAIR
        or max(mark.x0, mark.x1) > wide + HAIR
        or max(mark.y0, mark.y1) > high + HAIR
    ):
        return False
    across = (mark.x0 <= boxes[:, 2] + HAIR) & (mark.x1 >= boxes[:, 0] - HAIR)
    along = (mark.y0 <= boxes[:, 3] + HAIR) & (mark.y1 >= boxes[:, 1] - HAIR)
    return not bool((across & along).any())
