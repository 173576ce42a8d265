"""What is kept for every job: saved sizes, and marks."""

from __future__ import annotations
