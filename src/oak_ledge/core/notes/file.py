"""Notes on the file: its bytes, and what those say who get it."""

from __future__ import annotations

from oak_ledge.core.measures.bytes import limit_words
from oak_ledge.core.notes.note import Note, Severity, Way
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.receivers.answer import Answer, Parcel, asked_of_receiver
from oak_ledge.core.receivers.foreseen import foreseen
from oak_ledge.core.receivers.receiver import Receiver
from oak_ledge.core.sizes.file.formats import FORMATS
from oak_ledge.core.sizes.size import Size

# Under it a JPEG's blocks begin to show in even tones.
LOW_QUALITY = 75


def over_limit(size: Size, quality: int | None, ways: tuple[Way, ...] = ()) -> Note | None:
    """Look where a file's greatest bytes cost quality, or can't be kept; both by estimate.

    `quality` is what is estimated to fit, None where nothing would; `ways` are what would help then.
    """
    file = size.file
    if file.at_most is None or quality == file.quality:
        return None
    limit = limit_words(file.at_most)
    if quality is None:
        words = (
            ""
            if FORMATS[file.format].lossless
            else f" even at quality {min(file.floor, file.quality)}"
        )
        text = f"The file is likely to have more than {limit}{words}."
        if not ways:
            text += " Raise the limit, or make a smaller crop."
        return Note(level="look", code="over-limit", text=text, ways=ways)
    level: Severity = "look" if quality < LOW_QUALITY else "fine"
    text = f"To stay within {limit} the quality goes down from {file.quality} to about {quality}."
    return Note(level=level, code="low-quality", text=text)


def not_taken(lying: Lying, photo: PhotoFacts, receiver: Receiver | None) -> Note | None:
    """Look whether the receiver that a size names would take its piece, as far as is known before it is made."""
    if receiver is None:
        return None
    answer = foresaid(lying, photo, receiver)
    if answer.accepted:
        return None
    text = f"{receiver.name} would not take it: {'; '.join(answer.words)}."
    way = "; ".join(fix.words for fix in answer.fixes) or None
    return Note(level="look", code="not-taken", text=text, way=way)


def client_word(word: str | None) -> Note | None:
    """Note what the client said of a piece; it is done with once the piece is approved."""
    if not word:
        return None
    return Note(level="look", code="client-word", text=f"The client says: “{word}”")


def foresaid(lying: Lying, photo: PhotoFacts, receiver: Receiver) -> Answer:
    """Return what a receiver would say of a piece; its bytes and its place among others are not judged."""
    return asked_of_receiver(receiver.takes, Parcel(foreseen(lying, photo)))
