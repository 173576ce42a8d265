"""The outline of a piece that is no rectangle (rules, section 6): circle, ellipse, rounded, or a path."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from itertools import pairwise
from typing import Annotated, Self, TypeAlias

import numpy as np
from pydantic import AfterValidator, Field, WithJsonSchema, model_validator

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import ExactLength, Pixels, length_words
from oak_ledge.core.measures.numbers import Exact, clipped, decimal, plain
from oak_ledge.core.sizes.edges import drawn_outlines
from oak_ledge.core.sizes.edges.drawn_outlines import LEAST_POINTS, MOST_POINTS, USUAL_POINTS
from oak_ledge.core.sizes.edges.polygon import STRAY, Polygon
from oak_ledge.core.values import Value, says_nothing

# Letters of a path.
LONGEST_PATH = 4000

# Straight pieces that stand for one bend of a path.
BENDS = 96

_LETTERS = re.compile(r"[MmLlHhVvCcSsQqTtAaZz0-9eE.,+\-\s]*")


def _along_path(outline: Outline, output: Pixels, _ppi: Fraction | None, _bleed: float) -> Polygon:
    return _flattened(outline.path) * output


def _shipped(draw: Callable[[Pixels], Polygon]) -> _Draw:
    def drawn(_outline: Outline, output: Pixels, _ppi: Fraction | None, _bleed: float) -> Polygon:
        return draw(output)

    return drawn


def _star(outline: Outline, output: Pixels, _ppi: Fraction | None, _bleed: float) -> Polygon:
    return drawn_outlines.star(output, outline.points or USUAL_POINTS)


def _circle(_outline: Outline, output: Pixels, _ppi: Fraction | None, _bleed: float) -> Polygon:
    (wide, high), radius = output, min(output) / 2
    return _arc(wide / 2, high / 2, radius, radius, 0, 4)


def _ellipse(_outline: Outline, output: Pixels, _ppi: Fraction | None, _bleed: float) -> Polygon:
    wide, high = output
    return _arc(wide / 2, high / 2, wide / 2, high / 2, 0, 4)


def _rounded(outline: Outline, output: Pixels, ppi: Fraction | None, bleed: float) -> Polygon:
    wide, high = output
    trimmed = (round(wide - 2 * bleed), round(high - 2 * bleed))
    radius = _radius(outline, trimmed, ppi) + bleed
    corners = [
        (wide - radius, radius),
        (wide - radius, high - radius),
        (radius, high - radius),
        (radius, radius),
    ]
    arcs = [
        _arc(x, y, radius, radius, quarter - 1, quarter, end=True)
        for quarter, (x, y) in enumerate(corners)
    ]
    return np.concatenate(arcs)


def _radius(outline: Outline, output: Pixels, ppi: Fraction | None) -> float:
    if outline.percent is not None:
        return float(outline.percent) / 100 * min(output)
    assert outline.radius is not None
    assert ppi is not None
    return min(float(outline.radius.inches * ppi), min(output) / 2)


def _arc(
    x: float, y: float, across: float, along: float, first: float, last: float, *, end: bool = False
) -> Polygon:
    """Return points of an ellipse from one quarter turn to another, clockwise from the right."""
    largest = max(across, along, 1e-9)
    step = 2 * np.arccos(max(0.0, 1 - STRAY / largest)) if largest > STRAY else np.pi / 2
    count = max(8, 4 * int(np.ceil((last - first) * (np.pi / 2) / step / 4)))  # alike all round
    turn = np.linspace(first, last, count, endpoint=end) * (np.pi / 2)
    return np.stack([x + across * np.cos(turn), y + along * np.sin(turn)], axis=1)


@lru_cache(maxsize=64)
def _flattened(path: str) -> Polygon:
    """Read SVG path data (SVG 2, 9.3) as one polygon.

    Raises
    ------
    SizeError
        If it is no path, open, more than one, or leaves the unit square.
    """
    from fontTools.pens.recordingPen import RecordingPen
    from fontTools.svgLib.path import parse_path

    if not _LETTERS.fullmatch(path):
        msg = "the outline's path holds something that is no path data; give only what stands in d="
        raise SizeError(msg)
    pen = RecordingPen()
    try:
        parse_path(path, pen)
    except Exception as exc:  # whatever it stumbles over, it is no path
        msg = "the outline's path can't be read; write it like M0.5 0L1 1L0 1Z"
        raise SizeError(msg) from exc
    if [name for name, _ in pen.value].count("moveTo") != 1 or pen.value[-1][0] != "closePath":
        msg = "the outline must be one closed path: it begins with M and ends with Z"
        raise SizeError(msg)
    points: list[tuple[float, float]] = []
    for name, given in pen.value:
        if name in ("moveTo", "lineTo"):
            points.append(given[0])
        elif name in ("curveTo", "qCurveTo"):
            points += _bent(np.array([points[-1], *given], np.float64))
    flat = np.array(points, np.float64)
    if len(flat) < 3 or not np.isfinite(flat).all():
        msg = "the outline's path encloses nothing"
        raise SizeError(msg)
    if flat.min() < -1e-9 or flat.max() > 1 + 1e-9:
        msg = "the outline's path leaves the square from 0 to 1 that stands for the piece"
        raise SizeError(msg)
    x, y = flat.T
    if abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) < 2e-4:
        msg = "the outline's path encloses nothing"
        raise SizeError(msg)
    return flat.clip(0, 1)


def _bent(control: Polygon) -> list[tuple[float, float]]:
    """Return points of a Bézier curve by its control points (de Casteljau), without the first."""
    share = np.linspace(0, 1, BENDS + 1)[1:, None]
    rows = [np.repeat(point[None], BENDS, 0) for point in control]
    while len(rows) > 1:
        rows = [a * (1 - share) + b * share for a, b in pairwise(rows)]
    return [(float(x), float(y)) for x, y in rows[0]]


# Given the outline, the output, its ppi, and the bleed around the piece in pixels.
_Draw: TypeAlias = "Callable[[Outline, Pixels, Fraction | None, float], Polygon]"


@dataclass(frozen=True)
class OutlineKind:
    """A kind of outline: what draws its points in output pixels, and how it is said."""

    points: _Draw
    words: str
    label: str = ""


# A new kind is a row here; text, checks and drawings follow.
OUTLINES: dict[str, OutlineKind] = {
    "circle": OutlineKind(_circle, "cut to a circle"),
    "ellipse": OutlineKind(_ellipse, "cut to an ellipse"),
    "rounded": OutlineKind(_rounded, "with rounded corners"),
    "heart": OutlineKind(_shipped(drawn_outlines.heart), "cut to a heart"),
    "star": OutlineKind(_star, "cut to a star"),
    "cloud": OutlineKind(_shipped(drawn_outlines.cloud), "cut to a cloud"),
    "arch": OutlineKind(_shipped(drawn_outlines.arch), "cut with an arched top"),
    "hexagon": OutlineKind(_shipped(drawn_outlines.hexagon), "cut to a hexagon"),
    "path": OutlineKind(_along_path, "cut along a path", "along a line"),
}


def _known(kind: str) -> str:
    if kind not in OUTLINES:
        msg = f"an outline is one of {', '.join(OUTLINES)}, not “{clipped(kind)}”"
        raise SizeError(msg)
    return kind


class Outline(Value):
    """What of a piece is seen; all else is clear, or the ground's colour in JPEG.

    A `star` has so many `points`, five without a word. `rounded` has a `radius`, or a `percent` of the short edge. A `path` is SVG path data in the unit
    square: one closed path, which is drawn out to the piece.
    """

    kind: Annotated[
        str,
        AfterValidator(_known),
        WithJsonSchema({"type": "string", "enum": list(OUTLINES)}),
    ]
    radius: ExactLength | None = None
    percent: Exact | None = None
    points: int | None = Field(default=None, ge=0, le=999, exclude_if=says_nothing)
    path: str = Field(default="", max_length=LONGEST_PATH)

    @model_validator(mode="after")
    def _can_be_drawn(self) -> Self:
        ways_said = (self.radius is not None) + (self.percent is not None)
        if (self.kind == "rounded") != (ways_said == 1) or ways_said > 1:
            msg = "rounded corners need one radius, like rounded 6mm or rounded 8%"
            raise SizeError(msg)
        if self.percent is not None and not 0 < self.percent <= 50:
            msg = f"corners of {decimal(self.percent)} % of the short edge: give one from 0 to 50 %"
            raise SizeError(msg)
        if self.points is not None and self.kind != "star":
            msg = f"points belong to a star, and not to {self.kind}"
            raise SizeError(msg)
        if not LEAST_POINTS <= (self.points or USUAL_POINTS) <= MOST_POINTS:
            msg = f"a star has {LEAST_POINTS} to {MOST_POINTS} points, not {self.points}"
            raise SizeError(msg)
        if (self.kind == "path") != bool(self.path):
            msg = "an outline by a path needs its path data, and another none"
            raise SizeError(msg)
        if self.path:
            _flattened(self.path)  # says what is wrong with it
        return self

    @property
    def text(self) -> str:
        """How it is written behind a size."""
        return f'{self.short} "{self.path}"' if self.kind == "path" else self.short

    @property
    def short(self) -> str:
        """The same without the data of a path."""
        if self.kind != "rounded":
            return f"outline {self.kind}{'' if self.points is None else f' {self.points}'}"
        if self.radius is not None:
            return f"outline rounded {plain(self.radius.amount)}{self.radius.unit}"
        return f"outline rounded {plain(self.percent or Fraction(0))}%"

    @property
    def label(self) -> str:
        """The word for it behind what a size measures."""
        return OUTLINES[self.kind].label or self.kind

    @property
    def words(self) -> str:
        """How it is said."""
        if self.radius is not None:
            return f"corners rounded by {length_words(self.radius)}"
        if self.percent is not None:
            return f"corners rounded by {decimal(self.percent)} % of the short edge"
        words = OUTLINES[self.kind].words
        return words if self.points is None else f"{words} of {self.points} points"


def outline_on(
    outline: Outline, output: Pixels, ppi: Fraction | None, bleed: float = 0.0
) -> Polygon:
    """Return an outline as a polygon in output pixels, within 0.004 px of it.

    Where its radius is a length there is a resolution, or it would be no size. With `bleed`, in
    pixels, `output` is larger by it on every side, and the outline goes around the piece's own by as
    much; a path is drawn out to it.
    """
    return OUTLINES[outline.kind].points(outline, output, ppi, bleed)


@lru_cache(maxsize=1024)  # every piece on a ledge and every gesture asks for the same few
def drawn_path(outline: Outline, output: Pixels, ppi: Fraction | None, bleed: float = 0.0) -> str:
    """Return an outline as SVG path data in the unit square, for drawings."""
    points = outline_on(outline, output, ppi, bleed) / output
    points = points[:: max(1, len(points) // 240)]
    return f"M{'L'.join(f'{x:.5f} {y:.5f}' for x, y in points)}Z"
