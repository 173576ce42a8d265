"""What a file shall be: its name, its limits, what is asked and what is measured of it."""

from __future__ import annotations
