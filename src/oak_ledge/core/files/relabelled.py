"""Whether only the label of a whole JPEG changes."""

from __future__ import annotations

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.sizes.file_settings import USUAL_QUALITY
from oak_ledge.core.sizes.size import Size


def is_relabelled(
    photo: PhotoFacts, size: Size, placement: Placement, crop: Crop, asked: Pixels
) -> bool:
    """Say whether only the label of a whole JPEG changes, so that its pixel data can stay.

    That is so unless something else is asked of the file: a lower quality than usual, another
    profile, sharpening, less metadata.
    """
    as_it_came = not (placement.quarter or placement.mirror or placement.corners)
    whole = as_it_came and crop == Crop(0, 0, *photo.held)
    return (
        (whole and asked == photo.held)
        and (photo.format == "JPEG" and size.file.format == "jpeg")
        and (size.file.quality >= USUAL_QUALITY and size.file.profile == "keep")
        and (size.sharpen_for == "off" and size.file.metadata == "keep" and size.file.location)
        and not (size.file.progressive or size.file.fine_colour)
    )
