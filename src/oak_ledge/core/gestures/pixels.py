"""What is done to pixels: relabelled, resampled, sharpened."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from oak_ledge.core.measures.lengths import ExactLength
from oak_ledge.core.measures.numbers import Exact
from oak_ledge.core.placements.fit import adopt, keep_inside
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement, changed, own_size
from oak_ledge.core.sizes.choices import MethodChoice, SharpenFor
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
    """Keep the physical size and set the resolution; the output's pixels follow."""

    kind: Literal["resample"]
    ppi: Exact


class AsSeen(Value):
    """Make as many output pixels as are seen now: `scale` of them to one of the output."""

    kind: Literal["as_seen"]
    scale: float = Field(ge=1e-6, le=100)


def measured_anew(size: Size, lying: Lying, gesture: Relabel | Resample | AsSeen) -> Placement:
    """Lay a placement on its size at another resolution; the crop stays where it is."""
    at, asked, placement, crop = lying.size, lying.asked, lying.placement, lying.crop
    if isinstance(gesture, Relabel):
        own = relabelled(at, asked, gesture.ppi, gesture.width, gesture.height)
        return changed(placement, size=own_size(size, own))
    own = (
        resampled(at, asked, gesture.ppi)
        if isinstance(gesture, Resample)
        else as_seen(at, asked, gesture.scale)
    )
    turned = placement.turned if own.turn == at.turn else None
    made = changed(placement, size=own_size(size, own), turned=turned)
    if written_pixels(own) is not None:
        return keep_inside(Lying(own, lying.surface, changed(made, free=None))).placement
    return keep_inside(adopt(Lying(own, lying.surface, made), crop.width, crop.height)).placement


class Finish(Value):
    """Choose how pixels are resampled and sharpened; what is left out stays.

    `sharpen` −1 gives the strength back to resolution and distance.
    """

    kind: Literal["finish"]
    method: MethodChoice | None = None
    sharpen_for: SharpenFor | None = None
    sharpen: int | None = Field(default=None, ge=-1, le=100)


def finished(size: Size, gesture: Finish) -> Size:
    """Give the size at work with what was chosen put over it."""
    said = gesture.model_dump(exclude={"kind"}, exclude_none=True)
    if said.get("sharpen") == -1:
        said["sharpen"] = None
    return size_from(dict(size) | said)
