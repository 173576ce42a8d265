"""The only rooms that touch an image library: open, cut, ground, finish, encode, prove, look, paper.

Arrays are (H, W, C), uint8 or uint16, C = 1 grey, 2 grey+alpha, 3 RGB, 4 RGB+alpha.
"""

from __future__ import annotations

import pyvips
from PIL import Image

# Only these readers may open a file, whatever its name says; libvips would else take SVG and
# GIF under any name (https://www.libvips.org/API/current/func.operation_block_set.html).
pyvips.operation_block_set("VipsForeignLoad", True)
for _reader in ("Jpeg", "Png", "Tiff", "Webp", "Heif"):
    pyvips.operation_block_set(f"VipsForeignLoad{_reader}", False)
# SVG is read from memory alone, by marks, which look through it first; never as a photo's file.
pyvips.operation_block_set("VipsForeignLoadSvgBuffer", False)
pyvips.cache_set_max(0)  # a cached header would outlive a file of the same name
# Limits are checked on the header by `look_at`, in plain words.
Image.MAX_IMAGE_PIXELS = None
