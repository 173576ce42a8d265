"""Fit within a box: `within 2048x2048px`."""

from __future__ import annotations

from collections.abc import Callable
from math import inf
from typing import ClassVar, Literal

from typing_extensions import override

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import decimal, plain
from oak_ledge.core.sizes.shapes.box import BoxShape
from oak_ledge.core.sizes.shapes.shape import Crop


class WithinShape(BoxShape):
    """Fit within a box; the ratio is free. Smaller crops stay as they are, unless `enlarge`."""

    kind: Literal["within"] = "within"
    enlarge: bool = False
    open_ratio: ClassVar[bool] = True

    @override
    def pixels(
        self, edges: Pixels | tuple[int, ...], crop: Crop, turn: Callable[[Pixels], Pixels]
    ) -> Pixels:
        return self.fitted(edges, crop, turn, most=inf if self.enlarge else 1.0)

    @property
    @override
    def text(self) -> str:
        box = f"within {plain(self.width)}x{plain(self.height)}{self.unit}"
        return f"{box} enlarge" if self.enlarge else box

    @property
    @override
    def label(self) -> str:
        return f"within {decimal(self.width)} × {decimal(self.height)} {self.unit}"

    @override
    def sentence(self, edges: tuple[int, ...]) -> str:
        return f"Fitted {self.label}"

    @property
    @override
    def remark(self) -> str:
        return f"; smaller crops are {'enlarged' if self.enlarge else 'left as they are'}"
