"""Lengths, ratios, bytes: exact until the one rounding."""

from __future__ import annotations
