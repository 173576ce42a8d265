"""Notes on the mark that is laid over a piece."""

from __future__ import annotations

from oak_ledge.core.marks.box import barred_on, boxes
from oak_ledge.core.marks.mark import LaidMark
from oak_ledge.core.notes.note import Note
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.planes.boxes import meet


def mark_covers(lying: Lying, mark: LaidMark) -> Note | None:
    """Look where a mark lies on a keep zone; the calmest place does only where none is left.

    Raises
    ------
    SizeError
        If the mark does not fit on the piece.
    """
    at, barred = (
        boxes(lying.size, lying.asked, mark.how, mark.file.shape),
        barred_on(lying, mark.keeps),
    )
    place = mark.how.place
    tried = list(at.values()) if place == "calm" else [at[place]]
    if not all(any(meet(box, zone) for zone in barred) for box in tried):
        return None
    where = "wherever it is laid" if place == "calm" else f"at {place.replace('-', ' ')}"
    text = f"The mark lies on a keep zone {where}. Put it elsewhere, or make it smaller."
    return Note(level="look", code="mark-covers", text=text)
