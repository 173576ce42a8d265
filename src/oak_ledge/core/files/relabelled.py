"""Whether only the label of a whole JPEG changes."""

from __future__ import annotations

from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.photos.retouches import Retouches
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.sizes.file.file_settings import USUAL_QUALITY


def is_relabelled(photo: PhotoFacts, lying: Lying, retouches: Retouches) -> bool:
    """Return whether only the label of a whole JPEG changes, so that its pixel data can stay.

    That is so unless something else is asked of the file: a lower quality than usual, another
    profile, sharpening, less metadata; or the photo is retouched.
    """
    size, placement = lying.size, lying.placement
    as_it_came = not retouches.shown and not (
        placement.quarter or placement.mirror or placement.corners
    )
    whole = as_it_came and lying.crop == Crop(0, 0, *photo.upright)
    return (
        (whole and lying.asked == photo.upright)
        and (photo.format == "JPEG" and size.file.format == "jpeg")
        and (size.file.quality >= USUAL_QUALITY and size.file.profile == "keep")
        and (size.outline is None)
        and (size.panels is None and size.border is None)
        and (size.sharpen_for == "off" and size.file.metadata == "keep" and size.file.location)
        and not (size.file.progressive or size.file.fine_colour)
    )
