"""Borders: paper around the picture that is part of the print (rules, section 2)."""

from __future__ import annotations

import re
from collections.abc import Callable
from fractions import Fraction
from typing import Annotated, Any, Self

from pydantic import BeforeValidator, model_validator

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import (
    MEASURE,
    ExactMeasure,
    Measure,
    length_words,
    read_measure,
)
from oak_ledge.core.values import Value

# Letters of a border's four lengths.
LONGEST = 200

# Left, top, right and bottom in pixels.
Widths = tuple[int, int, int, int]


class Border(Value):
    """How wide the paper is on each side of the picture, as it is seen on the piece."""

    top: ExactMeasure
    right: ExactMeasure
    bottom: ExactMeasure
    left: ExactMeasure

    @model_validator(mode="after")
    def _is_one(self) -> Self:
        if not any(side.amount for side in self.sides):
            msg = "a border of nothing is none: leave it out"
            raise SizeError(msg)
        return self

    @property
    def sides(self) -> tuple[Measure, Measure, Measure, Measure]:
        """Top, right, bottom, left: the order in which they are written."""
        return self.top, self.right, self.bottom, self.left

    @property
    def text(self) -> str:
        """How it is written behind a size: `border 10mm`, `border 10mm 10mm 30mm 10mm`."""
        return f"border {self.top}" if self._even else f"border {' '.join(map(str, self.sides))}"

    @property
    def words(self) -> str:
        """What a sentence says of it."""
        if self._even:
            return f"a border of {length_words(self.top)} all round"
        top, right, bottom, left = map(length_words, self.sides)
        return f"a border of {top} above, {right} right, {bottom} below, {left} left"

    def pixels(self, ppi: Fraction | None) -> Widths:
        """Return left, top, right and bottom in whole pixels."""
        left, top, right, bottom = (
            side.pixels(ppi) for side in (self.left, self.top, self.right, self.bottom)
        )
        return left, top, right, bottom

    def changed(self, side: Callable[[Measure], Measure]) -> Border:
        """Return it with every side otherwise."""
        top, right, bottom, left = map(side, self.sides)
        return Border(top=top, right=right, bottom=bottom, left=left)

    @property
    def _even(self) -> bool:
        return len(set(self.sides)) == 1


def _from_text(value: Any) -> Any:
    """Take one length for all sides, or four for top, right, bottom and left."""
    if not isinstance(value, str):
        return value
    # A longer text is none, and would take for ever to be looked through.
    text = value if len(value) <= LONGEST else ""
    parts = [match[0] for match in re.finditer(MEASURE, text)]
    if len(parts) not in (1, 4) or re.sub(MEASURE, "", text).strip():
        msg = "a border is one length, or four: top, right, bottom and left"
        raise SizeError(msg)
    top, right, bottom, left = map(read_measure, parts * 4 if len(parts) == 1 else parts)
    return {"top": top, "right": right, "bottom": bottom, "left": left}


# A `Border`, or its one or four lengths as text.
BorderAsked = Annotated[Border, BeforeValidator(_from_text)]
