"""Notes by those who get the pieces: the rules of the receiver a size names, a word of the client."""

from __future__ import annotations

from oak_ledge.core.notes.note import Note
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.receivers.answer import Answer, Parcel, asked_of_receiver
from oak_ledge.core.receivers.foreseen import foreseen
from oak_ledge.core.receivers.receiver import Receiver


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
    """Tell what the client said of a piece; it is done with once the piece is approved."""
    if not word:
        return None
    return Note(level="look", code="client-word", text=f"The client says: “{word}”")


def foresaid(lying: Lying, photo: PhotoFacts, receiver: Receiver) -> Answer:
    """Return what a receiver would say of a piece; its bytes and its place among others are not judged."""
    return asked_of_receiver(receiver.takes, Parcel(foreseen(lying, photo)))
