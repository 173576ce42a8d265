"""What is done to pixels: relabelled, resampled, sharpened."""

from __future__ import annotations

from fractions import Fraction
from typing import Literal

from pydantic import Field

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import ExactLength, Pixels
from oak_ledge.core.measures.numbers import Exact, decimal
from oak_ledge.core.placements.fit import adopt, keep_inside
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement, changed, own_size
from oak_ledge.core.sizes.choices import MethodChoice, SharpenFor
from oak_ledge.core.sizes.file_geometry import file_pixels
from oak_ledge.core.sizes.resolution import as_seen, relabelled, resampled
from oak_ledge.core.sizes.size import Size, size_from, written_pixels
from oak_ledge.core.values import Value


class Relabel(Value):
    """Keep the output's pixels and say how large they are printed; the resolution follows.

    One of the three is given: `ppi`, or the `width` or `height` of the whole output.
    """

    kind: Literal["relabel"]
    ppi: Exact | None = None
    width: ExactLength | None = None
    height: ExactLength | None = None


class Resample(Value):
    """Make more pixels or fewer; the physical size is kept where there is one.

    One of the four is given: `ppi`, which needs a physical size, the output's width or height in
    pixels, or per cent of the pixels it has now.
    """

    kind: Literal["resample"]
    ppi: Exact | None = None
    width_px: int | None = Field(default=None, ge=1, le=10**6)
    height_px: int | None = Field(default=None, ge=1, le=10**6)
    percent: Exact | None = Field(default=None)

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


class AsSeen(Value):
    """Make as many output pixels as are seen now: `scale` of them to one of the output."""

    kind: Literal["as_seen"]
    scale: float = Field(ge=1e-6, le=100)


def measured_anew(size: Size, lying: Lying, gesture: Relabel | Resample | AsSeen) -> Placement:
    """Lay a placement on its size at another resolution; the crop stays where it is."""
    at, placement, crop = lying.size, lying.placement, lying.crop
    output = file_pixels(at, lying.asked)
    if isinstance(gesture, Relabel):
        own = relabelled(at, output, gesture.ppi, gesture.width, gesture.height)
        return changed(placement, size=own_size(size, own))
    own = (
        gesture.made_of(at, output)
        if isinstance(gesture, Resample)
        else as_seen(at, output, gesture.scale)
    )
    turned = placement.turned if own.turn == at.turn else None
    new_placement = changed(placement, size=own_size(size, own), turned=turned)
    if written_pixels(own) is not None:
        return keep_inside(Lying(own, lying.surface, changed(new_placement, free=None))).placement
    return keep_inside(
        adopt(Lying(own, lying.surface, new_placement), crop.width, crop.height)
    ).placement


class Finish(Value):
    """Choose how pixels are resampled and sharpened; what is left out stays.

    `sharpen` −1 gives the strength back to resolution and distance.
    """

    kind: Literal["finish"]
    method: MethodChoice | None = None
    sharpen_for: SharpenFor | None = None
    sharpen: int | None = Field(default=None, ge=-1, le=100)


def finished(size: Size, gesture: Finish) -> Size:
    """Return the size at work with what was chosen put over it."""
    fields = gesture.model_dump(exclude={"kind"}, exclude_none=True)
    if fields.get("sharpen") == -1:
        fields["sharpen"] = None
    return size_from(dict(size) | fields)
