"""What a receiver asks of every file: resolutions it takes, its colour profile."""

from __future__ import annotations
