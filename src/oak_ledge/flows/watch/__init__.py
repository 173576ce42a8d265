"""Watched folders: photos that arrive are made, their outcome written beside them."""

from __future__ import annotations
