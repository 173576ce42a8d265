"""One placement: looked at, moved, undone, put right."""

from __future__ import annotations
