"""Sheets: several pieces on one paper or face; where they lie, what marks them, how a face is divided."""

from __future__ import annotations
