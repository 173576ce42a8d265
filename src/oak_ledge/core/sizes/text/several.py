"""Several sizes, as they rest and as they are written in one line: `8x10in@300, 5x7in@300`."""

from __future__ import annotations

import re
from collections.abc import Callable
from contextlib import suppress
from typing import TypeVar

from oak_ledge.core.errors import SizeTextError
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.values import Value


class Several(Value):
    """Sizes in the order they were asked for."""

    sizes: tuple[Size, ...]


T = TypeVar("T")


_BETWEEN = re.compile(r"[;\n]|,(?=\s)")


_ANY_COMMA = re.compile(r"[;\n,]")


def several(text: str, read: Callable[[str], T]) -> tuple[tuple[int, str, T], ...]:
    """Read a text that holds a size, or several.

    Parameters
    ----------
    text : parts with a semicolon, or a comma and a blank between them; a comma alone may be a decimal
        sign and parts them only where every part can then be read
    read : reads one part

    Returns
    -------
    Where each part begins in the text, the part, and what was read.

    Raises
    ------
    SizeTextError
        With the place in the whole text where reading stopped.
    """
    parts, finer = _parts(text, _BETWEEN), _parts(text, _ANY_COMMA)
    try:
        return ((0, text, read(text)),)
    except SizeTextError:
        if len(finer) == 1:
            raise
    if len(finer) > len(parts):
        with suppress(SizeTextError):
            return tuple((start, part, read(part)) for start, part in finer)
    parts = _joined(text, parts, read)
    return tuple((start, part, _placed(text, start, part, read)) for start, part in parts)


def _joined(
    text: str, parts: list[tuple[int, str]], read: Callable[[str], T]
) -> list[tuple[int, str]]:
    """Join a part that is no size, but says more of the one before: `5x7in@300, png`."""
    joined: list[tuple[int, str]] = []
    for start, part in parts:
        if joined and not _is_read(part, read):
            before = joined[-1][0]
            whole = text[before : start + len(part)]
            if _is_read(whole, read):
                joined[-1] = (before, whole)
                continue
        joined.append((start, part))
    return joined


def _is_read(part: str, read: Callable[[str], T]) -> bool:
    try:
        read(part)
    except SizeTextError:
        return False
    return True


def _placed(text: str, start: int, part: str, read: Callable[[str], T]) -> T:
    try:
        return read(part)
    except SizeTextError as exc:
        raise SizeTextError(text, start + exc.at, exc.why, exc.how) from exc


def _parts(text: str, between: re.Pattern[str]) -> list[tuple[int, str]]:
    """Return each part and where it begins; empty ones only where there is no other."""
    parts, start = [], 0
    for match in [*between.finditer(text), None]:
        end = len(text) if match is None else match.start()
        part = text[start:end]
        if part.strip():
            parts.append((start + len(part) - len(part.lstrip()), part.strip()))
        start = end if match is None else match.end()
    return parts or [(0, text)]
