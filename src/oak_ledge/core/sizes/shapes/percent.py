"""A share of the crop's own pixels: `40%`; `100%` is the free crop."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from typing import ClassVar, Literal, Self

from typing_extensions import override

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import Exact, decimal, plain
from oak_ledge.core.sizes.shapes.shape import AnyShape, Crop, at_least_one

# Per cent.
MOST_PERCENT = 1600


class PercentShape(AnyShape):
    """A share of the crop's own pixels; the ratio is free."""

    kind: Literal["percent"] = "percent"
    percent: Exact
    open_ratio: ClassVar[bool] = True

    @property
    @override
    def share(self) -> Fraction:
        return self.percent / 100

    @property
    @override
    def as_it_is(self) -> bool:
        return self.percent == 100

    @override
    def check(self) -> None:
        if not 0 < self.percent <= MOST_PERCENT:
            msg = f"percent={decimal(self.percent)} must be above 0 and at most {MOST_PERCENT}"
            raise SizeError(msg)

    @override
    def pixels(
        self, edges: Pixels | tuple[int, ...], crop: Crop, turn: Callable[[Pixels], Pixels]
    ) -> Pixels:
        across, along = (at_least_one(edge * float(self.percent) / 100) for edge in crop)
        return across, along

    @property
    @override
    def text(self) -> str:
        return f"{plain(self.percent)}%"

    @property
    @override
    def label(self) -> str:
        return f"{decimal(self.percent)} %"

    @override
    def sentence(self, edges: tuple[int, ...]) -> str:
        if self.as_it_is:
            return "A free crop with its pixels as they are"
        return f"{self.label} of a free crop's pixels"

    @override
    def at_share(self, share: Fraction) -> Self | None:
        return self.model_copy(update={"percent": self.percent * share})
