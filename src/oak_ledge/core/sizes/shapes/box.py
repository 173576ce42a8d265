"""What has a width and a height in one unit."""

from __future__ import annotations

from fractions import Fraction
from typing import Self

from typing_extensions import override

from oak_ledge.core.measures.lengths import Unit
from oak_ledge.core.measures.numbers import Exact
from oak_ledge.core.sizes.shapes.shape import AnyShape


class BoxShape(AnyShape):
    """A width and a height, in one unit."""

    width: Exact
    height: Exact
    unit: Unit

    @property
    @override
    def amounts(self) -> tuple[Fraction, ...]:
        return Fraction(self.width), Fraction(self.height)

    @property
    @override
    def measured_in(self) -> Unit:
        return self.unit

    @override
    def twin(self) -> Self:
        return self.model_copy(update={"width": self.height, "height": self.width})

    @override
    def longer(self, times: Fraction) -> Self:
        if self.unit == "px":
            return self
        edges = {"width": self.width * times, "height": self.height * times}
        return self.model_copy(update=edges)

    @override
    def in_inches(self, ppi: Fraction) -> Self | None:
        if self.unit != "px":
            return self
        edges = {"width": self.width / ppi, "height": self.height / ppi, "unit": "in"}
        return self.model_copy(update=edges)
