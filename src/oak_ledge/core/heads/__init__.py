"""Heads: where the eyes, chin and crown of a face lie on a photo, and what a size asks of a head."""

from __future__ import annotations
