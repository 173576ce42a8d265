"""What comes back over the walls: a photo's facts and its first picture, or why it is refused."""

from __future__ import annotations

import os
import struct
from typing import BinaryIO

from pydantic import BaseModel

from oak_ledge.core.photos.facts import PhotoFacts

# Bytes of what is said.
MOST_WORDS = 200_000

# Bytes of the picture.
MOST_PICTURE = 32_000_000

_HEAD = struct.Struct(">II")


class ReadRequest(BaseModel):
    """What is wanted of a file: refused above so many pixels, drawn with an edge of so many."""

    most_pixels: int
    most_whole: int
    edge: int


# Told to a reader that has said what a file is: it may decode its pixels now.
GO = b"g"


class ReaderAnswer(BaseModel):
    """What a file is, or why it is refused; `unshut` says which walls are missing.

    It comes twice: once the header is read, and with the picture once pixels are.
    """

    facts: PhotoFacts | None = None
    refused: str | None = None
    unshut: tuple[str, ...] = ()


def write_answer(handle: int, answer: ReaderAnswer, picture: bytes = b"") -> None:
    """Write an answer into a pipe."""
    words = answer.model_dump_json().encode()
    left = memoryview(_HEAD.pack(len(words), len(picture)) + words + picture)
    while left:
        left = left[os.write(handle, left) :]


def read_answer(pipe: BinaryIO) -> tuple[ReaderAnswer, bytes] | None:
    """Read an answer; None where it broke off.

    Raises
    ------
    ValueError
        If it says more than it may, or something else.
    """
    head = pipe.read(_HEAD.size)
    if len(head) < _HEAD.size:
        return None
    words, picture = _HEAD.unpack(head)
    if words > MOST_WORDS or picture > MOST_PICTURE:
        msg = "the answer is too long"
        raise ValueError(msg)
    data, drawn = pipe.read(words), pipe.read(picture)
    if len(data) < words or len(drawn) < picture:
        return None
    return ReaderAnswer.model_validate_json(data), drawn
