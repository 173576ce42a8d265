"""Waiting in tests: until something happens, never for a time; the limit is for what never does."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from typing import TypeVar

Seen = TypeVar("Seen")

# Seconds: far more than a machine ten times slower takes for anything. While one works on what may
# well never happen, PATIENCE=10 says so sooner.
LIMIT = float(os.environ.get("PATIENCE", "300"))


def until(
    happens: Callable[[], Seen], now: Callable[[], object] = str, every: float = 0.05
) -> Seen:
    """Look until it happens, and return what was seen; `now` tells how it stands if it never does."""
    end = time.monotonic() + LIMIT
    while not (seen := happens()):
        assert time.monotonic() < end, f"it never came to that: {now()}"
        time.sleep(every)
    return seen
