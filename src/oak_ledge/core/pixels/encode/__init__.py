"""Pixels → the bytes of a file: format, resolution, profile and metadata written right."""

from __future__ import annotations
