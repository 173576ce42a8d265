"""How a call that went wrong ends: one plain line and a code."""

from __future__ import annotations

import sys
from collections.abc import Callable
from typing import NoReturn, TypeVar

import typer

from oak_ledge.core.errors import CoreError
from oak_ledge.store.errors import StoreError, disk_words

T = TypeVar("T")


CALL_IS_WRONG = 2


SOME_FAILED = 1


def told_or_fail(do: Callable[[], T], code: int = SOME_FAILED) -> T:
    """Do something, and end with its own words where it cannot be done."""
    try:
        return do()
    except CoreError as exc:
        fail(code, str(exc))
    except (StoreError, OSError) as exc:
        fail(SOME_FAILED, store_words(exc))


def store_words(exc: StoreError | OSError) -> str:
    return str(exc) if isinstance(exc, StoreError) else disk_words(exc)


def fail(code: int, text: str) -> NoReturn:
    print(f"oak-ledge: {text}", file=sys.stderr)
    raise typer.Exit(code)
