"""Jobs: what belongs to them, their ledge, many pieces at once."""

from __future__ import annotations
