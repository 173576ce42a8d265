"""The only place that touches an image library: open, cut, encode, measure.

Arrays are (H, W, C), uint8 or uint16, C = 1 grey, 2 grey+alpha, 3 RGB, 4 RGB+alpha.
"""

from __future__ import annotations
