"""The note on what is painted over and copied on a photo."""

from __future__ import annotations

from oak_ledge.core.files.relabelled import is_relabelled
from oak_ledge.core.notes.note import Note
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.photos.retouches import NO_RETOUCHES, Retouches
from oak_ledge.core.placements.lying import Lying


def retouched(lying: Lying, photo: PhotoFacts, retouches: Retouches) -> Note | None:
    """Note that a photo is retouched, so that its bytes can't be copied."""
    count = len(retouches.shown)
    if not count:
        return None
    what = "1 retouch" if count == 1 else f"{count} retouches"
    text = (
        f"{what} on the photo itself: all its pieces show them. The original file is not altered."
    )
    text = text.replace("show them", "show it") if count == 1 else text
    if is_relabelled(photo, lying, NO_RETOUCHES):
        text += " The file is encoded anew, as its bytes can't be copied."
    return Note(level="fine", code="retouched", text=text)


def cut_out(retouches: Retouches) -> Note | None:
    """Ask for one look at the edge of what is cut out; approving a piece says that it was had."""
    if retouches.cut is None:
        return None
    text = "The thing is cut out of its photo. Look at its edge once, and approve it."
    return Note(level="look", code="cut-out", text=text)
