"""Marks: logos and signatures laid on pieces. What one is, and where it lies; drawn in `pixels/marks`."""

from __future__ import annotations
