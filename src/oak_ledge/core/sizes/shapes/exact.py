"""Width and height, both fixed: `8x10in@300`, `1200x1600px`."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from functools import lru_cache
from typing import ClassVar, Literal

from typing_extensions import override

from oak_ledge.core.measures.lengths import Pixels, Unit, in_inches
from oak_ledge.core.measures.numbers import decimal, plain
from oak_ledge.core.sizes.shapes.box import BoxShape
from oak_ledge.core.sizes.shapes.shape import Crop


@lru_cache(maxsize=2048)  # a job asks for the same of each of its photos
def _lengths(width: Fraction, height: Fraction, unit: Unit) -> tuple[Fraction, Fraction]:
    return in_inches(width, unit), in_inches(height, unit)


class ExactShape(BoxShape):
    """Width and height, both fixed, in one unit."""

    kind: Literal["exact"] = "exact"
    fixes_shape: ClassVar[bool] = True
    both_edges: ClassVar[bool] = True

    @override
    def pixels(
        self, edges: Pixels | tuple[int, ...], crop: Crop, turn: Callable[[Pixels], Pixels]
    ) -> Pixels:
        return self.fitted(edges, crop, turn)

    @override
    def lengths(self, ppi: Fraction | None) -> tuple[Fraction, Fraction] | None:
        if self.unit == "px":
            return None if ppi is None else (self.width / ppi, self.height / ppi)
        return _lengths(self.width, self.height, self.unit)

    @property
    @override
    def text(self) -> str:
        return f"{plain(self.width)}x{plain(self.height)}{self.unit}"

    @property
    @override
    def label(self) -> str:
        return f"{decimal(self.width)} × {decimal(self.height)} {self.unit}"
