"""One edge fixed, the other follows the crop: `long 12in@220`."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from typing import ClassVar, Literal, Self

from typing_extensions import override

from oak_ledge.core.measures.lengths import Pixels, Unit
from oak_ledge.core.measures.numbers import Exact, decimal, plain
from oak_ledge.core.sizes.choices import Edge
from oak_ledge.core.sizes.shapes.shape import AnyShape, Crop, at_least_one

_OTHER: dict[Edge, Edge] = {"width": "height", "height": "width", "long": "long", "short": "short"}


class EdgeShape(AnyShape):
    """One edge fixed; the other follows the crop, whose ratio is free."""

    kind: Literal["edge"] = "edge"
    edge: Edge
    length: Exact
    unit: Unit
    open_ratio: ClassVar[bool] = True
    one_edge: ClassVar[bool] = True

    @property
    @override
    def measured_in(self) -> Unit:
        return self.unit

    @property
    @override
    def amounts(self) -> tuple[Fraction, ...]:
        return (self.length,)

    @override
    def pixels(
        self, edges: Pixels | tuple[int, ...], crop: Crop, turn: Callable[[Pixels], Pixels]
    ) -> Pixels:
        fixed, (width, height) = edges[0], crop
        if self.edge == "width" or self.edge == ("long" if width >= height else "short"):
            return fixed, at_least_one(fixed * height / width)
        return at_least_one(fixed * width / height), fixed

    @property
    @override
    def text(self) -> str:
        return f"{self.edge} {plain(self.length)}{self.unit}"

    @property
    @override
    def label(self) -> str:
        which = self.edge if self.edge in ("width", "height") else f"{self.edge} edge"
        return f"{which} {decimal(self.length)} {self.unit}"

    @property
    @override
    def remark(self) -> str:
        return "; the other follows the crop"

    @override
    def twin(self) -> Self:
        return self.model_copy(update={"edge": _OTHER[self.edge]})

    @override
    def longer(self, times: Fraction) -> Self:
        if self.unit == "px":
            return self
        return self.model_copy(update={"length": self.length * times})

    @override
    def in_inches(self, ppi: Fraction) -> Self | None:
        if self.unit != "px":
            return self
        return self.model_copy(update={"length": self.length / ppi, "unit": "in"})
