"""Pages for people and JSON for programs: thin routes over the flows."""

from __future__ import annotations
