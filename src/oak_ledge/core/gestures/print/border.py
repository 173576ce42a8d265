"""The border of a piece, by hand: one side dragged, or all of them said."""

from __future__ import annotations

from fractions import Fraction
from typing import Literal

from pydantic import Field
from typing_extensions import override

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.gestures.gesture import BaseGesture, Start
from oak_ledge.core.measures.lengths import PER_INCH, Measure, Unit
from oak_ledge.core.measures.numbers import halves_up
from oak_ledge.core.photos.continued import Side
from oak_ledge.core.placements.other_size import lain_on
from oak_ledge.core.placements.placement import Placement, changed, own_size
from oak_ledge.core.sizes.edges.border import BorderAsked
from oak_ledge.core.sizes.size import changed_size

# What a dragged side stops at, of its own unit.
STEPS: dict[Unit, Fraction] = {
    "mm": Fraction(1), "cm": Fraction(1, 10), "in": Fraction(1, 16), "px": Fraction(1),
}  # fmt: skip


class SetBorder(BaseGesture):
    """Put a border around the picture, or take it away with null; or drag one `side` of it.

    A dragged side is `to` pixels of the print wide, and stops at whole steps of its unit. It is this
    photo's own exception to its size; the crop keeps its centre and its share.
    """

    kind: Literal["border"]
    border: BorderAsked | None = None
    side: Side | None = None
    to: float = Field(default=0, ge=0, le=300_000)

    @property
    @override
    def name(self) -> str:
        return (
            "border changed"
            if self.side is not None or self.border is not None
            else "border removed"
        )

    @override
    def apply(self, start: Start) -> Placement:
        here, placement = start.lying.size, start.placement
        border = self.border
        if self.side is not None:
            if here.border is None:
                msg = "there is no border to drag: write how wide it shall be first"
                raise PlacementError(msg)
            was: Measure = getattr(here.border, self.side)
            border = here.border.model_copy(update={self.side: dragged(was, self.to, here.ppi)})
        wanted = changed_size(here, border=border)
        new_placement = lain_on(here, wanted, start.upright, changed(placement, size=None))
        return changed(new_placement, size=own_size(start.size, wanted))


def dragged(side: Measure, to: float, ppi: Fraction | None) -> Measure:
    """Return a side that a hand drew to so many pixels, at the nearest step of its unit.

    >>> str(dragged(Measure(Fraction(10), "mm"), 244.0, Fraction(300)))
    '21mm'
    """
    per_unit = Fraction(1) if side.unit == "px" or ppi is None else ppi / PER_INCH[side.unit]
    step = STEPS[side.unit]
    return Measure(halves_up(Fraction(to) / per_unit / step) * step, side.unit)
