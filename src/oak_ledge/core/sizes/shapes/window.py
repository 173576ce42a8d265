"""Exactly that many photo pixels, whole: `window 2560x1440px`."""

from __future__ import annotations

from fractions import Fraction
from typing import ClassVar, Literal, Self

from pydantic import Field
from typing_extensions import override

from oak_ledge.core.measures.lengths import Unit
from oak_ledge.core.sizes.shapes.shape import AnyShape


class WindowShape(AnyShape):
    """Exactly that many photo pixels, whole and unscaled: not one value changes."""

    kind: Literal["window"] = "window"
    width: int = Field(ge=1)
    height: int = Field(ge=1)
    fixes_shape: ClassVar[bool] = True
    whole_pixels: ClassVar[bool] = True

    @property
    @override
    def measured_in(self) -> Unit:
        return "px"

    @property
    @override
    def amounts(self) -> tuple[Fraction, ...]:
        return Fraction(self.width), Fraction(self.height)

    @property
    @override
    def text(self) -> str:
        return f"window {self.width}x{self.height}px"

    @property
    @override
    def label(self) -> str:
        return f"window {self.width} × {self.height} px"

    @override
    def sentence(self, edges: tuple[int, ...]) -> str:
        return f"A window of {edges[0]} × {edges[1]} photo pixels, not one value changed"

    @override
    def twin(self) -> Self:
        return self.model_copy(update={"width": self.height, "height": self.width})
