"""A size as text, as a sentence, as a file."""

from __future__ import annotations
