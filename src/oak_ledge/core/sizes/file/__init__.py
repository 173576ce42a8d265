"""How the file of a size is written, and what a receiver asks of it: resolutions, colour profile."""

from __future__ import annotations
