"""Panels: one wide render cut in several files (rules, section 6).

A size's width × height is one panel. `columns` × `rows` of them are drawn as one picture and cut: no
seam, each exactly its size. An overlap repeats a strip on both neighbours, for tiles that are glued.
A gap lies between panels that hang apart; what of the picture lies in it is not printed.
"""

from __future__ import annotations

from typing import NamedTuple, Self

from pydantic import Field, model_validator

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import ExactMeasure, Pixels, length_words
from oak_ledge.core.values import Value, says_nothing

# Files of one piece.
MOST_PANELS = 100


class PanelBox(NamedTuple):
    """A panel's place on the whole picture, in its pixels."""

    left: int
    top: int
    width: int
    height: int


class Panels(Value):
    """In how many panels a picture is cut, across and down, and what neighbours share or leave out."""

    columns: int = Field(ge=1)
    rows: int = Field(default=1, ge=1)
    overlap: ExactMeasure | None = None
    gap: ExactMeasure | None = Field(default=None, exclude_if=says_nothing)

    @model_validator(mode="after")
    def _can_be_cut(self) -> Self:
        if not 2 <= self.count <= MOST_PANELS:
            msg = f"a picture is cut in 2 to {MOST_PANELS} panels, not in {self.count}"
            raise SizeError(msg)
        if self.overlap is not None and self.gap is not None:
            msg = "panels overlap, or hang apart with a gap; not both"
            raise SizeError(msg)
        return self

    @property
    def count(self) -> int:
        """How many panels there are."""
        return self.columns * self.rows

    @property
    def turned(self) -> Panels:
        """The same cut turned by a quarter: columns become rows."""
        return self.model_copy(update={"columns": self.rows, "rows": self.columns})

    @property
    def text(self) -> str:
        """How it is written behind a size."""
        shared = "" if self.overlap is None else f" overlap {self.overlap}"
        return f"panels {self._grid()}{shared}" + ("" if self.gap is None else f" gap {self.gap}")

    @property
    def label(self) -> str:
        """What stands behind the measures of one panel."""
        return f"{self._grid().replace('x', ' × ')} panels"

    @property
    def words(self) -> str:
        """What a sentence says of it."""
        return f"{self.count} panels{self.lie}"

    @property
    def lie(self) -> str:
        """How they lie to each other, and what neighbours share."""
        way = f", {self.columns} across and {self.rows} down"
        if self.rows == 1:
            way = " side by side"
        elif self.columns == 1:
            way = " one below the other"
        if self.gap is not None:
            return f"{way}, {length_words(self.gap)} apart"
        shared = self.overlap
        return way if shared is None else f"{way}, {length_words(shared)} shared at each joint"

    def _grid(self) -> str:
        return str(self.columns) if self.rows == 1 else f"{self.columns}x{self.rows}"

    def whole(self, panel: Pixels, between: int) -> Pixels:
        """Return the pixels of the one picture that is cut, from those of a panel.

        `between` are the pixels from one panel to the next: those of a gap, or less than 0 where
        they overlap.

        >>> Panels(columns=3).whole((1080, 1350), 0), Panels(columns=3).whole((1080, 1350), 60)
        ((3240, 1350), (3360, 1350))
        """
        (wide, high), across, along = panel, self.columns, self.rows
        return across * wide + (across - 1) * between, along * high + (along - 1) * between

    def boxes(self, panel: Pixels, between: int) -> tuple[PanelBox, ...]:
        """Return where each panel lies on the one picture, row by row.

        >>> Panels(columns=2).boxes((100, 80), -10)
        (PanelBox(left=0, top=0, width=100, height=80), PanelBox(left=90, top=0, width=100, height=80))
        """
        wide, high = panel
        return tuple(
            PanelBox(column * (wide + between), row * (high + between), wide, high)
            for row in range(self.rows)
            for column in range(self.columns)
        )


def numbers_of(panels: Panels | None) -> tuple[int | None, ...]:
    """Name the files of a picture: its panels from 1, or None for the one file of a whole picture."""
    return (None,) if panels is None else tuple(range(1, panels.count + 1))
