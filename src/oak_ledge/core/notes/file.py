"""Notes on the file's bytes."""

from __future__ import annotations

from oak_ledge.core.measures.bytes import limit_words
from oak_ledge.core.notes.note import Note, Severity, Way
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
