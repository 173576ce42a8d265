"""Bytes, as people write and read them: in thousands."""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Annotated, Any

from pydantic import BeforeValidator, Field

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.numbers import clipped, plain, rounded


def bytes_words(count: float) -> str:
    """Write bytes as people do, in thousands (SI, as disks count).

    >>> bytes_words(4_000_000), bytes_words(149_600), bytes_words(512)
    ('4 MB', '149.6 kB', '512 bytes')
    """
    for step, unit in ((1e9, "GB"), (1e6, "MB"), (1e3, "kB")):
        if count >= step:
            return f"{rounded(count / step, 1 if unit == 'kB' else 2)} {unit}"
    return f"{round(count)} bytes"


def read_bytes(text: str) -> int:
    """Read a limit of a file's bytes: `500kB`, `1.5 MB`, `4000000`; thousands, not 1024.

    Raises
    ------
    SizeError
        With how to write it.

    Examples
    --------
    >>> read_bytes("500kB"), read_bytes("1,5 MB")
    (500000, 1500000)
    """
    match = re.fullmatch(r"\s*(\d{1,12})(?:[.,](\d{1,9}))?\s*(k|m|g)?(?:b|bytes)?\s*", text.lower())
    step = {None: 1, "k": 1000, "m": 1_000_000, "g": 10**9}[match[3]] if match else 0
    count = int(Fraction(f"{match[1]}.{match[2] or 0}") * step) if match else 0
    if count < 1:
        msg = f"“{clipped(text)}” is no limit for a file. Write it like 500kB or 4MB"
        raise SizeError(msg)
    return count


def _limit(value: Any) -> Any:
    return read_bytes(value) if isinstance(value, str) else value


# A count of bytes that may be written as text: 4MB.
ByteLimit = Annotated[int, BeforeValidator(_limit), Field(ge=1, le=10**15)]


EXCEEDS = "which exceeds the limit of"


def too_many(count: int, most: int) -> str:
    """Return the words for a file that has more bytes than it may.

    >>> too_many(660_000, 500_000)
    'it has 660 kB, which exceeds the limit of 500 kB'
    """
    return f"it has {bytes_words(count)}, {EXCEEDS} {limit_words(most)}"


def limit_words(count: int) -> str:
    """Write a limit of bytes exactly, in the largest unit that takes at most three decimals.

    >>> limit_words(1_500_000), limit_words(149_600), limit_words(1_234_567)
    ('1.5 MB', '149.6 kB', '1234.567 kB')
    """
    for step, unit in ((10**9, "GB"), (10**6, "MB"), (10**3, "kB")):
        if count >= step and count * 1000 % step == 0:
            return f"{plain(Fraction(count, step))} {unit}"
    return f"{count} bytes"
