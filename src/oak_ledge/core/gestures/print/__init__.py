"""What a piece has besides its picture, by hand: a border around it, a mark on it."""

from __future__ import annotations
