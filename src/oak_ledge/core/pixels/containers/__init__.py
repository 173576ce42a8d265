"""How files are built, looked at before any decoder is: their parts, what they say besides pixels, whether all is there."""

from __future__ import annotations
