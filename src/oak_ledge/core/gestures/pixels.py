"""What is done to pixels: relabelled, resampled, sharpened."""

from __future__ import annotations

from fractions import Fraction
from typing import Literal

from pydantic import Field
from typing_extensions import override

from oak_ledge.core.errors import SizeError
from oak_ledge.core.gestures.gesture import BaseGesture, Start
from oak_ledge.core.measures.lengths import ExactLength, Measure, Pixels
from oak_ledge.core.measures.numbers import Exact, decimal
from oak_ledge.core.placements.fit import adopt, keep_inside
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement, changed, own_size
from oak_ledge.core.sizes.choices import MethodChoice, SharpenFor
from oak_ledge.core.sizes.file_geometry import file_pixels
from oak_ledge.core.sizes.geometry import written_pixels
from oak_ledge.core.sizes.resolution import as_seen, relabelled, resampled
from oak_ledge.core.sizes.shapes.exact import ExactShape
from oak_ledge.core.sizes.size import Size, size_from


class Relabel(BaseGesture):
    """Keep the output's pixels and say how large they are printed; the resolution follows.

    One of the three is given: `ppi`, or the `width` or `height` of the whole output.
    """

    kind: Literal["relabel"]
    ppi: Exact | None = None
    width: ExactLength | None = None
    height: ExactLength | None = None

    @property
    @override
    def name(self) -> str:
        return "relabelled"

    @override
    def apply(self, start: Start) -> Placement:
        at, lying = start.lying.size, start.lying
        output = file_pixels(at, lying.asked)
        own = relabelled(at, output, self.ppi, self.width, self.height)
        return changed(start.placement, size=own_size(start.size, own))


class Resample(BaseGesture):
    """Make more pixels or fewer; the physical size is kept where there is one.

    One of the four is given: `ppi`, which needs a physical size, the output's width or height in
    pixels, or per cent of the pixels it has now. Width and height together are untied: the picture is
    stretched to them, on purpose.
    """

    kind: Literal["resample"]
    ppi: Exact | None = None
    width_px: int | None = Field(default=None, ge=1, le=10**6)
    height_px: int | None = Field(default=None, ge=1, le=10**6)
    percent: Exact | None = Field(default=None)

    @property
    @override
    def name(self) -> str:
        return "resampled"

    @override
    def apply(self, start: Start) -> Placement:
        lying = start.lying
        size, output = lying.size, file_pixels(lying.size, lying.asked)
        if self.width_px is not None and self.height_px is not None:
            return stretched_to(start.size, lying, (self.width_px, self.height_px))
        label = start.photo.ppi
        if self.ppi is not None and size.ppi is None and label and size.shape.keeps_pixels:
            # the resolution a photo came with is its physical size
            size = relabelled(size, output, Fraction(label).limit_denominator(10_000), None, None)
        return resampled_to(start.size, lying, self.made_of(size, output))

    def made_of(self, size: Size, output: Pixels) -> Size:
        """Return the size that makes so many pixels.

        Raises
        ------
        SizeError
            If not one of the four is given, or the size can't be made so.
        """
        given = (self.ppi, self.width_px, self.height_px, self.percent)
        if sum(length is not None for length in given) != 1:
            msg = "say one of ppi, width_px, height_px and percent"
            raise SizeError(msg)
        if self.ppi is not None:
            return resampled(size, output, self.ppi)
        if self.width_px is not None:
            return as_seen(size, output, Fraction(self.width_px, output[0]))
        if self.height_px is not None:
            return as_seen(size, output, Fraction(self.height_px, output[1]))
        share = (self.percent or Fraction(0)) / 100
        if not Fraction(1, 1000) <= share <= 100:
            msg = f"{decimal(share * 100)} % is out of range; give one from 0.1 to 10000 %"
            raise SizeError(msg)
        return as_seen(size, output, share)


class AsSeen(BaseGesture):
    """Make as many output pixels as are seen now: `scale` of them to one of the output."""

    kind: Literal["as_seen"]
    scale: float = Field(ge=1e-6, le=100)

    @property
    @override
    def name(self) -> str:
        return "made as large as seen"

    @override
    def apply(self, start: Start) -> Placement:
        lying = start.lying
        own = as_seen(lying.size, file_pixels(lying.size, lying.asked), self.scale)
        return resampled_to(start.size, lying, own)


def stretched_to(size: Size, lying: Lying, edges: Pixels) -> Placement:
    """Lay a placement on exact pixels of another proportion: its crop stays, and is drawn out to them."""
    shape = ExactShape(width=Fraction(edges[0]), height=Fraction(edges[1]), unit="px")
    fields = {"shape": shape, "differ": "stretch", "turn": "fixed"}
    border = lying.size.border
    if border is not None:
        ppi = lying.size.ppi
        border = border.changed(lambda side: Measure(Fraction(side.pixels(ppi)), "px"))
    bare = {"bleed": None, "wrap": None, "sides": None, "frame": None, "border": border}
    own = size_from(dict(lying.size) | fields | bare)
    placement = changed(lying.placement, size=own_size(size, own), turned=None, free=None)
    on_own = Lying(own, lying.surface, placement)
    return keep_inside(adopt(on_own, lying.crop.width, lying.crop.height)).placement


def resampled_to(size: Size, lying: Lying, own: Size) -> Placement:
    """Lay a placement on its own size of other pixels; the crop stays where it is."""
    placement, crop = lying.placement, lying.crop
    turned = placement.turned if own.turn == lying.size.turn else None
    new_placement = changed(placement, size=own_size(size, own), turned=turned)
    if written_pixels(own) is not None:
        return keep_inside(Lying(own, lying.surface, changed(new_placement, free=None))).placement
    return keep_inside(
        adopt(Lying(own, lying.surface, new_placement), crop.width, crop.height)
    ).placement


class Finish(BaseGesture):
    """Choose how pixels are resampled and sharpened; what is left out stays.

    `sharpen` −1 gives the strength back to resolution and distance.
    """

    kind: Literal["finish"]
    method: MethodChoice | None = None
    sharpen_for: SharpenFor | None = None
    sharpen: int | None = Field(default=None, ge=-1, le=100)

    @property
    @override
    def name(self) -> str:
        return "finish chosen"

    @override
    def apply(self, start: Start) -> Placement:
        return changed(start.placement, size=own_size(start.size, finished(start.lying.size, self)))


def finished(size: Size, gesture: Finish) -> Size:
    """Return the size at work with what was chosen put over it."""
    fields = gesture.model_dump(exclude={"kind"}, exclude_none=True)
    if fields.get("sharpen") == -1:
        fields["sharpen"] = None
    return size_from(dict(size) | fields)
