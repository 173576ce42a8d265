"""What every shape of a size knows; each says what is otherwise with it."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from typing import ClassVar, Self

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import Pixels, Unit
from oak_ledge.core.measures.numbers import halves_up
from oak_ledge.core.values import Value

# Width and height in photo pixels, as they count in dots.
Crop = tuple[float, float]


def at_least_one(value: Fraction | float) -> int:
    """Round to whole pixels, of which there is at least one."""
    return max(1, halves_up(value))


class AnyShape(Value):
    """A shape of a size."""

    fixes_shape: ClassVar[bool] = False
    """the crop's ratio is given, so that a photo of another one can be extended to it"""
    both_edges: ClassVar[bool] = False
    """both edges of the output are given, so that a photo can be scaled to stay inside, or stretched"""
    open_ratio: ClassVar[bool] = False
    """the crop may have any ratio, and the output follows it"""
    whole_pixels: ClassVar[bool] = False
    """photo pixels are cut out whole: never scaled, never sharpened"""
    unscaled: ClassVar[bool] = False
    """the crop's own pixels come out"""

    has_other_way: ClassVar[bool] = True
    """it can lie wide or tall"""
    one_edge: ClassVar[bool] = False
    """one edge of the output is given, and the other follows"""

    @property
    def ratio(self) -> tuple[Fraction, Fraction] | None:
        """Across and along, where the ratio is all that is given."""
        return None

    @property
    def share(self) -> Fraction | None:
        """What part of the crop's own edges comes out, where that is given."""
        return None

    def lengths(self, ppi: Fraction | None) -> tuple[Fraction, Fraction] | None:
        """Return width and height in inches, where both are given or follow from a resolution."""
        return None

    @property
    def measured_in(self) -> Unit | None:
        """The unit it is written in, or None for one without."""
        return None

    @property
    def as_it_is(self) -> bool:
        """Whether the crop's own pixels come out in any shape the crop has."""
        return self.unscaled

    @property
    def keeps_pixels(self) -> bool:
        """Whether the photo's own pixels come out, so that its resolution label holds for them."""
        return self.as_it_is or self.whole_pixels

    @property
    def amounts(self) -> tuple[Fraction, ...]:
        """The edges it fixes, in its own unit."""
        return ()

    def check(self) -> None:
        """Refuse what can't be made, with a `SizeError`."""

    def pixels(
        self, edges: Pixels | tuple[int, ...], crop: Crop, turn: Callable[[Pixels], Pixels]
    ) -> Pixels:
        """Return the output pixels it makes of a crop, where the crop decides.

        `edges` are its own in pixels; `turn` turns a box or a ratio as the photo is turned.
        """
        msg = f"the output of {self.label} does not follow from a crop"
        raise SizeError(msg)

    def pixels_on(
        self,
        extent: Pixels,
        edges: Pixels | tuple[int, ...],
        crop: Crop,
        turn: Callable[[Pixels], Pixels],
    ) -> Pixels:
        """Return the output pixels of a crop of a photo so large, which may count too."""
        return self.pixels(edges, crop, turn)

    @property
    def text(self) -> str:
        """How it is written, and read again."""
        raise NotImplementedError

    @property
    def label(self) -> str:
        """What it measures, for labels."""
        raise NotImplementedError

    def sentence(self, edges: tuple[int, ...]) -> str:
        """Return the words that begin a size's sentence; `edges` are its own in pixels."""
        return self.label[:1].upper() + self.label[1:]

    @property
    def remark(self) -> str:
        """What is said behind its measures."""
        return ""

    def twin(self) -> Self:
        """Return it with width and height traded.

        Raises
        ------
        SizeError
            If it has no other way round.
        """
        msg = f"{self.label} has no other way round."
        raise SizeError(msg)

    def longer(self, times: Fraction) -> Self:
        """Return it with its lengths so many times as long; pixels and shares stay."""
        return self

    def in_inches(self, ppi: Fraction) -> Self | None:
        """Return it in inches where it counts in pixels; None where it has no edges of its own."""
        return None

    def at_share(self, share: Fraction) -> Self | None:
        """Return what makes a share of its pixels, where it is a share itself; else None."""
        return None
