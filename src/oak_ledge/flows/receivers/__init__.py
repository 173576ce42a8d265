"""Receivers kept, changed and exchanged; what each would say of files, and their fixes."""

from __future__ import annotations
