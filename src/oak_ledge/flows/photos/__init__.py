"""Photos taken in, looked into, shown."""

from __future__ import annotations
