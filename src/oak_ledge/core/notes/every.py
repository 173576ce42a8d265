"""Every note there is: its code, its word, and the rule that gives it, in one table."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from oak_ledge.core.notes.colour import deeper, flattened, profile_assumed, wrong_profile
from oak_ledge.core.notes.crop import blank_corners, cut_by_extend, face_unused, stretched, trimmed
from oak_ledge.core.notes.ground import continued, ground_unmade
from oak_ledge.core.notes.note import Note, in_order
from oak_ledge.core.notes.resolution import enlarged, resampled_unscaled, short_of_ppi
from oak_ledge.core.notes.size import falls_through, unit_slip
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.reports.tally import Tally
from oak_ledge.core.sizes.size import Size


@dataclass(frozen=True)
class Judged:
    """What a rule looks at: a placement with its size, its photo, and its figures."""

    lying: Lying
    photo: PhotoFacts
    tally: Tally

    @property
    def size(self) -> Size:
        """The size that is really made."""
        return self.lying.size


@dataclass(frozen=True)
class NoteKind:
    """A kind of note: the word that stands for it where there is no room, and its rule.

    Without a `rule` it is given by those who know more than the placement: its keep zones, the
    library, the photo's weight.
    """

    words: str
    rule: Callable[[Judged], Note | None] | None = None


# A new note is a row here, and its rule a function in this room.
NOTES: dict[str, NoteKind] = {
    "unit-slip": NoteKind("slipped unit", lambda at: unit_slip(at.size)),
    "enlarged": NoteKind("enlarged", lambda at: enlarged(at.size, at.tally)),
    "short-of-ppi": NoteKind("too few ppi", lambda at: short_of_ppi(at.size, at.tally)),
    "resampled-unscaled": NoteKind(
        "resampled though not scaled", lambda at: resampled_unscaled(at.lying, at.tally)
    ),
    "blank-corners": NoteKind("blank corners", lambda at: blank_corners(at.size, at.tally)),
    "continued": NoteKind("continued ground", lambda at: continued(at.lying, at.tally)),
    "ground-unmade": NoteKind("ground not made", lambda at: ground_unmade(at.lying)),
    "trimmed": NoteKind("much trimmed", lambda at: trimmed(at.size, at.tally)),
    "cut-by-extend": NoteKind("cut though extended", lambda at: cut_by_extend(at.size, at.tally)),
    "falls-through": NoteKind("falls through its frame", lambda at: falls_through(at.size)),
    "stretched": NoteKind("stretched", lambda at: stretched(at.tally)),
    "face-unused": NoteKind("face left empty", lambda at: face_unused(at.size, at.tally)),
    "profile-assumed": NoteKind("profile assumed", lambda at: profile_assumed(at.photo)),
    "wrong-profile": NoteKind("wrong profile", lambda at: wrong_profile(at.size, at.photo)),
    "more-bits": NoteKind("more bits than the photo", lambda at: deeper(at.size, at.photo)),
    "flattened": NoteKind("transparency filled", lambda at: flattened(at.size, at.photo)),
    "retouched": NoteKind("retouched"),
    "keep-cut": NoteKind("keep zone cut"),
    "keep-edge": NoteKind("keep zone near the edge"),
    "keep-hidden": NoteKind("keep zone hidden"),
    "cut-line": NoteKind("marked line cut"),
    "subject-cut": NoteKind("found subject cut"),
    "eyes-on-third": NoteKind("eyes on a third"),
    "fills": NoteKind("subject too small or too large"),
    "head": NoteKind("head not as asked"),
    "face-found": NoteKind("points to check"),
    "head-tilt": NoteKind("eyes not level"),
    "head-aside": NoteKind("head off the middle"),
    "ground-uneven": NoteKind("uneven ground"),
    "eyes-soft": NoteKind("eyes not sharp"),
    "face-clipped": NoteKind("face without detail"),
    "head-measured": NoteKind("head measured"),
    "mark-covers": NoteKind("mark on a keep zone"),
    "joint": NoteKind("keep zone across a joint"),
    "sliver": NoteKind("narrow strip"),
    "over-limit": NoteKind("too many bytes"),
    "low-quality": NoteKind("low quality"),
    "client-word": NoteKind("word of the client"),
    "not-taken": NoteKind("refused by its receiver"),
    "size-changed": NoteKind("saved size changed"),
}


def notes(lying: Lying, photo: PhotoFacts, tally: Tally) -> tuple[Note, ...]:
    """Return every note on a placement that needs no keep zones and no library, stops first."""
    at = Judged(lying, photo, tally)
    return in_order(kind.rule(at) for kind in NOTES.values() if kind.rule is not None)


def note_words(code: str) -> str:
    """Return the word that stands for a note; of one that nobody knows any more its code."""
    return NOTES[code].words if code in NOTES else code
