"""Open what somebody brings: formats, orientation, depth, profile, limits. Hostile files are expected here."""

from __future__ import annotations
