"""Pages for people, a file for each screen. Everything they show comes from the flows."""

from __future__ import annotations
