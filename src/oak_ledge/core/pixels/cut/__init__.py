"""Placement → exactly W × H pixels: cut upright, or mapped where it is turned or squared up."""

from __future__ import annotations
