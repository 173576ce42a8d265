"""What will be measured of a file that is not made yet, for who asks whether it would be taken."""

from __future__ import annotations

from oak_ledge.core.files.proof import Measured, asked_of
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.sizes.text.sentence import profile_words


def foreseen(lying: Lying, photo: PhotoFacts, about_bytes: int = 0) -> Measured:
    """Return pixels, resolution, format and profile as they will be; bytes only where they are estimated."""
    file = lying.size.file
    asked = asked_of(lying.size, lying.asked, photo.ppi)
    return Measured(
        width=asked.width,
        height=asked.height,
        ppi=asked.ppi,
        bytes=about_bytes,
        format=file.format,
        profile=photo.profile if file.profile == "keep" else profile_words(file),
        bits=file.bits or photo.bits,
    )
