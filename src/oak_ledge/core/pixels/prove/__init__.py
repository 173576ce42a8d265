"""Measure a file from disk, by a reader that did not write it."""

from __future__ import annotations
