"""The note on a file's greatest bytes, with what would keep a piece's file within them."""

from __future__ import annotations

from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.pixels import Resample
from oak_ledge.core.notes.file import over_limit
from oak_ledge.core.notes.note import Note, Way
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.pixels.weight.byte_limit import Fit, fitting_quality, ways_to_fit
from oak_ledge.core.pixels.weight.estimate import Weights, part_in
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement, changed, own_size, size_at
from oak_ledge.core.sizes.file_geometry import drawn_pixels
from oak_ledge.core.sizes.size import Size, size_from


def fits(lying: Lying, photo: PhotoFacts, weights: Weights, scale: float) -> tuple[Fit, ...]:
    """Return what would keep a piece's file within its greatest bytes."""
    part = part_in(lying.crop, lying.surface, photo.orientation)
    shape, is_screen = lying.size.shape, lying.size.group == "screen"
    scaled = not (shape.whole_pixels or (is_screen and shape.both_edges))  # a screen has its dots
    return ways_to_fit(
        weights, drawn_pixels(lying.size, lying.asked), scale, lying.size.file, part, scaled=scaled
    )


def ways_of(ways: tuple[Fit, ...]) -> tuple[Way, ...]:
    """Return them as ways of a note, to choose from."""
    return tuple(Way(key=fit.kind, words=fit.words) for fit in ways)


def limit_told(
    lying: Lying, photo: PhotoFacts, weights: Weights, scale: float
) -> tuple[Note | None, tuple[Fit, ...]]:
    """Return a note where a piece's greatest bytes cost quality, or are likely not to be kept.

    It offers what would keep them.
    """
    part = part_in(lying.crop, lying.surface, photo.orientation)
    quality = fitting_quality(
        weights, drawn_pixels(lying.size, lying.asked), scale, lying.size.file, part
    )
    ways = () if quality is not None else fits(lying, photo, weights, scale)
    return over_limit(lying.size, quality, ways_of(ways)), ways


def fitted(size: Size, photo: PhotoFacts, placement: Placement, fit: Fit) -> Placement:
    """Lay a placement so that its file keeps within its greatest bytes, as its photo's own."""
    if fit.pixels is not None:
        gesture = Resample(kind="resample", width_px=fit.pixels[0])
        return apply(size, photo.upright, placement, gesture)
    here = size_at(size, placement)
    fields = {"floor": fit.quality} if fit.quality is not None else {"format": fit.format}
    own = size_from(dict(here) | {"file": here.file.model_copy(update=fields)})
    return changed(placement, size=own_size(size, own))
