"""The library of saved sizes."""

from __future__ import annotations
