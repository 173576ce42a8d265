"""A ratio, its pixels as they are: `3:1`, `16:9`."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from typing import ClassVar, Literal, Self

from typing_extensions import override

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import Exact, decimal, plain
from oak_ledge.core.sizes.shapes.shape import AnyShape, Crop, at_least_one

# Up to here a ratio of whole terms is met exactly.
MOST_TERM = 100


class RatioShape(AnyShape):
    """A ratio, width to height; the crop's own pixels, unscaled."""

    kind: Literal["ratio"] = "ratio"
    across: Exact
    along: Exact
    fixes_shape: ClassVar[bool] = True
    unscaled: ClassVar[bool] = True

    @property
    @override
    def ratio(self) -> tuple[Fraction, Fraction]:
        return self.across, self.along

    @property
    def terms(self) -> Pixels:
        """The ratio in lowest whole terms."""
        lowest = self.across / self.along
        return lowest.numerator, lowest.denominator

    @override
    def check(self) -> None:
        sound = min(self.across, self.along) > 0
        if not (sound and Fraction(1, 100) <= self.across / self.along <= 100):
            ratio = f"{plain(self.across)}:{plain(self.along)}"
            msg = f"ratio={ratio} must lie between 1:100 and 100:1"
            raise SizeError(msg)

    @override
    def pixels(
        self, edges: Pixels | tuple[int, ...], crop: Crop, turn: Callable[[Pixels], Pixels]
    ) -> Pixels:
        terms = turn(self.terms)
        times = min(crop[0] / terms[0], crop[1] / terms[1]) + 1e-9
        if max(terms) <= MOST_TERM and times >= 1:
            return int(times) * terms[0], int(times) * terms[1]
        return at_least_one(times * terms[0]), at_least_one(times * terms[1])

    @property
    @override
    def text(self) -> str:
        return f"{plain(self.across)}:{plain(self.along)}"

    @property
    @override
    def label(self) -> str:
        return f"{decimal(self.across)}:{decimal(self.along)}"

    @override
    def sentence(self, edges: tuple[int, ...]) -> str:
        return f"A crop of {self.label} with its pixels as they are"

    @override
    def twin(self) -> Self:
        return self.model_copy(update={"across": self.along, "along": self.across})


class RatioOfPanels(RatioShape):
    """A ratio each of several panels has, edge to edge: what the crop of all of them is."""

    columns: int
    rows: int

    @property
    @override
    def ratio(self) -> tuple[Fraction, Fraction]:
        return self.columns * self.across, self.rows * self.along

    @property
    @override
    def terms(self) -> Pixels:
        """The whole picture's, so that each panel has whole pixels in its own lowest terms."""
        across, along = super().terms
        return self.columns * across, self.rows * along

    @override
    def pixels(
        self, edges: Pixels | tuple[int, ...], crop: Crop, turn: Callable[[Pixels], Pixels]
    ) -> Pixels:
        terms = turn(self.terms)
        columns, rows = (
            (self.columns, self.rows) if terms == self.terms else (self.rows, self.columns)
        )
        panel = (terms[0] // columns, terms[1] // rows)
        times = min(crop[0] / terms[0], crop[1] / terms[1]) + 1e-9
        if max(panel) <= MOST_TERM and times >= 1:
            return int(times) * terms[0], int(times) * terms[1]
        return columns * at_least_one(times * panel[0]), rows * at_least_one(times * panel[1])
