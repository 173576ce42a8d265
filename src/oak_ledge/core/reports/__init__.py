"""What follows from a placement, in figures and words: nothing here changes one."""

from __future__ import annotations
