"""Every note on a placement."""

from __future__ import annotations

from oak_ledge.core.notes.colour import flattened, profile_assumed, wrong_profile
from oak_ledge.core.notes.crop import blank_corners, cut_by_extend, face_unused, stretched, trimmed
from oak_ledge.core.notes.ground import continued, ground_unmade
from oak_ledge.core.notes.note import Note, in_order
from oak_ledge.core.notes.resolution import enlarged, resampled_unscaled, short_of_ppi
from oak_ledge.core.notes.size import falls_through, unit_slip
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.reports.tally import Tally


def notes(lying: Lying, photo: PhotoFacts, tally: Tally) -> tuple[Note, ...]:
    """Return every note on a placement that needs no keep zones and no library, stops first."""
    size = lying.size
    return in_order(
        (
            unit_slip(size),
            enlarged(size, tally),
            short_of_ppi(size, tally),
            resampled_unscaled(lying, tally),
            blank_corners(size, tally),
            continued(lying, tally),
            ground_unmade(lying),
            trimmed(size, tally),
            cut_by_extend(size, tally),
            falls_through(size),
            stretched(tally),
            face_unused(size, tally),
            profile_assumed(photo),
            wrong_profile(size, photo),
            flattened(size, photo),
        )
    )
