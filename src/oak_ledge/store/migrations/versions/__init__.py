"""How the tables came to be, one file a change, run in order when the program starts."""

from __future__ import annotations
