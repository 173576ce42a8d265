"""Where things stand in a drawing: true relative scale, in its own units."""

from __future__ import annotations
