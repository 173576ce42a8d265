"""The edges of a piece: its outline, its frame, what of it is hidden, where it is cut in panels."""

from __future__ import annotations
