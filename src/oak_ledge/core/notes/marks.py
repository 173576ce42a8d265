"""Notes on the mark that is laid over a piece."""

from __future__ import annotations

from oak_ledge.core.errors import SizeError
from oak_ledge.core.marks.mark import Mark, PieceMark
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.notes.note import Note
from oak_ledge.core.photos.keep_zones import Keeps
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.zones.mark_box import barred_on, boxes
from oak_ledge.core.planes.boxes import meet


def mark_of_piece(lying: Lying, mark: PieceMark, keeps: Keeps) -> Note | None:
    """Look where a piece's mark lies on a keep zone; stop one that does not fit on it."""
    try:
        return mark_covers(lying, mark, (mark.picture.width, mark.picture.height), keeps)
    except SizeError as exc:
        text = f"{str(exc)[:1].upper()}{str(exc)[1:]}."
        return Note(level="stop", code="mark-covers", text=text)


def mark_covers(lying: Lying, mark: Mark, shape: Pixels, keeps: Keeps) -> Note | None:
    """Look where a mark lies on a keep zone; the calmest place does only where none is left.

    `shape` is its picture's width and height.

    Raises
    ------
    SizeError
        If the mark does not fit on the piece.
    """
    at, barred = boxes(lying.size, lying.asked, mark, shape), barred_on(lying, keeps)
    place = mark.place
    tried = list(at.values()) if place == "calm" else [at[place]]
    if not all(any(meet(box, zone) for zone in barred) for box in tried):
        return None
    where = "wherever it is laid" if place == "calm" else f"at {place.replace('-', ' ')}"
    text = f"The mark lies on a keep zone {where}. Put it elsewhere, or make it smaller."
    return Note(level="look", code="mark-covers", text=text)
