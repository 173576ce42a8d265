"""Sheets of a job: laid out, changed by hand, kept, made."""

from __future__ import annotations
