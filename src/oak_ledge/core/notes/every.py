"""Every note on a placement."""

from __future__ import annotations

from oak_ledge.core.notes.colour import flattened, profile_assumed, wrong_profile
from oak_ledge.core.notes.crop import blank_corners, face_unused, stretched, trimmed
from oak_ledge.core.notes.note import Note, in_order
from oak_ledge.core.notes.resolution import enlarged, short_of_ppi
from oak_ledge.core.notes.size import unit_slip
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.reports.tally import Tally
from oak_ledge.core.sizes.size import Size


def notes(size: Size, photo: PhotoFacts, tally: Tally) -> tuple[Note, ...]:
    """Give every note on a placement, stops first; `size` is the one it is made on."""
    return in_order(
        (
            unit_slip(size),
            enlarged(size, tally),
            short_of_ppi(size, tally),
            blank_corners(size, tally),
            trimmed(size, tally),
            stretched(tally),
            face_unused(size, tally),
            profile_assumed(photo),
            wrong_profile(size, photo),
            flattened(size, photo),
        )
    )
