"""The photo's own ratio, unscaled: `photo`."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from typing import ClassVar, Literal

from typing_extensions import override

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.sizes.shapes.shape import AnyShape, Crop, at_least_one


class OwnShape(AnyShape):
    """The photo's own ratio, unscaled."""

    kind: Literal["photo"] = "photo"
    unscaled: ClassVar[bool] = True
    has_other_way: ClassVar[bool] = False

    @override
    def pixels_on(
        self,
        extent: Pixels,
        edges: Pixels | tuple[int, ...],
        crop: Crop,
        turn: Callable[[Pixels], Pixels],
    ) -> Pixels:
        across = at_least_one(crop[0])
        along = at_least_one(Fraction(across * extent[1], extent[0]))
        if crop[0] <= extent[0] + 0.5:  # rounding is no reason to reach beyond the photo
            return min(across, extent[0]), min(along, extent[1])
        return across, along

    @property
    @override
    def text(self) -> str:
        return "photo"

    @property
    @override
    def label(self) -> str:
        return "the photo's own shape"

    @override
    def sentence(self, edges: tuple[int, ...]) -> str:
        return "A crop in the photo's own shape with its pixels as they are"
