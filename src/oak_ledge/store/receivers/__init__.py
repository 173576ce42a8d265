"""Who files go to, and what came of each file."""

from __future__ import annotations
