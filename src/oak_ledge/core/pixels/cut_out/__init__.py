"""A thing freed from its background: found on a small picture, followed to full size, its edge made a matte."""

from __future__ import annotations
