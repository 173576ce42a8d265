"""A piece and its figures, as every screen and the command line show them."""

from __future__ import annotations
