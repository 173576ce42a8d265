"""How a call that went wrong ends: one plain line and a code."""

from __future__ import annotations

import sys
from collections.abc import Callable
from typing import NoReturn, TypeVar

import typer

from oak_ledge.core.errors import OakLedgeError
from oak_ledge.store.errors import StoreError, disk_words

T = TypeVar("T")


CALL_IS_WRONG = 2


SOME_FAILED = 1


def or_fail(do: Callable[[], T], code: int = SOME_FAILED, *, of_data: int = SOME_FAILED) -> T:
    """Return what something gives; where it can't be done, end with its own words.

    The data folder and the disk end with `of_data`: mostly the call itself was right.
    """
    try:
        return do()
    except (StoreError, OSError) as exc:
        fail(of_data, disk_words(exc) if isinstance(exc, OSError) else str(exc))
    except OakLedgeError as exc:
        fail(code, str(exc))


def or_wrong_call(do: Callable[[], T]) -> T:
    """Return what something gives; whatever it is that fails, the call was wrong."""
    return or_fail(do, CALL_IS_WRONG, of_data=CALL_IS_WRONG)


def fail(code: int, text: str) -> NoReturn:
    """End the command with one line and a code."""
    print(f"oak-ledge: {text}", file=sys.stderr)
    raise typer.Exit(code)
