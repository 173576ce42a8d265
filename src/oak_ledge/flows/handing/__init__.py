"""Finished files handed out, and to the stand-in receivers."""

from __future__ import annotations
