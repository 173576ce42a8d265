"""Processes: the server that listens, the workers beside it."""

from __future__ import annotations
