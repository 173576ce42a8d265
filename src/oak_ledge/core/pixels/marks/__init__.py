"""Marks opened, put in the calmest place where that is asked, and laid over pieces."""

from __future__ import annotations
