"""After the cut: sharpening and colour profile."""

from __future__ import annotations
