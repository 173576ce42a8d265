"""Heads in a picture: eyes and chin by a mesh, the crown by a mask of people and a cut by colours; and what is measured there."""

from __future__ import annotations
