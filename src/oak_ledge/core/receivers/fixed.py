"""All that would fix a piece for a receiver, done in one step: other settings, size, resolution, ground."""

from __future__ import annotations

from fractions import Fraction

from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.beyond_photo import Ground
from oak_ledge.core.gestures.pixels import Resample
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.like_another import laid_like
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import Placement, changed, own_size, size_at
from oak_ledge.core.receivers.answer import Answer
from oak_ledge.core.receivers.wish import Wish
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.core.sizes.size import Size, size_from
from oak_ledge.core.sizes.text.read import read_size

# The crop that shows a photo whole, loosened until ground is seen on every side.
AROUND = 1.08


def fixed(size: Size, upright: Pixels, placement: Placement, answer: Answer) -> Placement:
    """Return how a piece lies with all done that would fix it, cutting its thing out aside.

    Raises
    ------
    PlacementError, SizeError, SizeTextError
        If it can't be so.
    """
    for offered in answer.fixes:
        placement = granted(size, upright, placement, offered.wish)
    return placement


def granted(size: Size, upright: Pixels, placement: Placement, wish: Wish) -> Placement:
    """Grant a wish, as this photo's own exception to its size; it lies as it did, as far as it can.

    Parameters
    ----------
    size : the job's size
    upright : the photo's (width, height), its orientation tag applied

    Raises
    ------
    PlacementError, SizeError, SizeTextError
        If that can't be, such as ground on a size that fixes no shape.
    """
    if wish.lay_on is not None:
        placement = _lain_on(size, upright, placement, read_size(wish.lay_on))
    if wish.ppi is not None:
        resample = Resample(kind="resample", ppi=Fraction(wish.ppi))
        placement = apply(size, upright, placement, resample)
    fields = {name: getattr(wish, name) for name in ("format", "profile", "at_most")}
    fields = {name: value for name, value in fields.items() if value is not None}
    if fields:
        at = size_at(size, placement)
        gone = {"icc": None} if wish.profile else {}
        own = size_from(dict(at) | {"file": FileSettings(**dict(at.file) | fields | gone)})
        placement = changed(placement, size=own_size(size, own))
    if wish.on_white:
        white = Ground(kind="ground", beyond=True, fill="#ffffff", sit=(0.5, 0.5))
        placement = apply(size, upright, placement, white)
        placement = apply(size, upright, placement, Scale(kind="scale", factor=AROUND))
    return placement


def _lain_on(size: Size, upright: Pixels, placement: Placement, wanted: Size) -> Placement:
    shape = {name: getattr(wanted, name) for name in ("shape", "ppi", "dot", "turn")}
    own = size_from(dict(size_at(size, placement)) | shape)
    new_placement = laid_like(own, upright, lying_on(size, upright, placement), same_photo=True)
    return changed(new_placement, size=own_size(size, own))
