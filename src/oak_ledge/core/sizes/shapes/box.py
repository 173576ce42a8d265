"""What has a width and a height in one unit."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from math import inf
from typing import Self

from typing_extensions import override

from oak_ledge.core.measures.lengths import Pixels, Unit
from oak_ledge.core.measures.numbers import Exact
from oak_ledge.core.sizes.shapes.shape import AnyShape, Crop, at_least_one


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

    def fitted(
        self,
        edges: Pixels | tuple[int, ...],
        crop: Crop,
        turn: Callable[[Pixels], Pixels],
        most: float = inf,
    ) -> Pixels:
        """Return the output pixels of a crop fitted inside, scaled by no more than `most`."""
        box = turn((edges[0], edges[1]))
        scale = min(box[0] / crop[0], box[1] / crop[1], most)
        return at_least_one(crop[0] * scale), at_least_one(crop[1] * scale)

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
