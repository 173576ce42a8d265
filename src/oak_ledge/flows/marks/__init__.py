"""Marks: the library of them, and how one lies on a piece."""

from __future__ import annotations
