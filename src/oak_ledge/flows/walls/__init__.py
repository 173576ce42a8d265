"""Foreign files read within walls: a process of its own for each, that holds nothing and may do next to nothing."""

from __future__ import annotations
