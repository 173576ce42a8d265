"""The only place that touches an image library: open, cut, encode, measure.

Arrays are (H, W, C), uint8 or uint16, C = 1 grey, 2 grey+alpha, 3 RGB, 4 RGB+alpha.
"""

from __future__ import annotations

import ctypes
from contextlib import suppress

# glibc gives every new thread memory of its own and keeps it: 200 files in a row would grow from 115
# to 250 MB. Two shared pools hold at 115 (mallopt(3), M_ARENA_MAX). Elsewhere there is none to set.
_ARENA_MAX = -8
with suppress(OSError, AttributeError):
    ctypes.CDLL(None).mallopt(_ARENA_MAX, 2)
