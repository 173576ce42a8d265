"""Notes on the file's bytes."""

from __future__ import annotations

from oak_ledge.core.measures.bytes import limit_words
from oak_ledge.core.notes.note import Level, Note
from oak_ledge.core.sizes.size import Size

LOW_QUALITY = 75  # under it a JPEG's blocks begin to show in even tones


def over_limit(size: Size, quality: int | None) -> Note | None:
    """Look where a file's greatest bytes cost quality, or can't be kept; both by estimate.

    `quality` is what is estimated to fit, None where nothing would.
    """
    file = size.file
    if file.at_most is None or quality == file.quality:
        return None
    limit = limit_words(file.at_most)
    if quality is None:
        lossless = file.format in ("png", "tiff")
        way = "Choose JPEG, or fewer pixels" if lossless else "Ask for fewer pixels"
        words = "" if lossless else " even at quality 60"
        text = f"The file is likely to have more than {limit}{words}. {way}."
        return Note(level="look", code="over-limit", text=text)
    level: Level = "look" if quality < LOW_QUALITY else "fine"
    text = f"To stay within {limit} the quality goes down from {file.quality} to about {quality}."
    return Note(level=level, code="low-quality", text=text)
