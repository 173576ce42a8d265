"""What a process that draws pixels sets once, where it starts."""

from __future__ import annotations

import ctypes
import os
from contextlib import suppress
from importlib import import_module

# glibc gives every new thread memory of its own and keeps it: 200 files in a row would grow from 115
# to 250 MB. Two shared pools hold at 115 (mallopt(3), M_ARENA_MAX). Elsewhere there is none to set.
_ARENA_MAX = -8


def settle_process() -> None:
    """Keep memory flat and BLAS on one thread. Call it before numpy is loaded, which reads the setting.

    The threads of BLAS spin while they wait. Strips are shared out over the cores already, so that
    both together would fight for them.
    """
    os.environ["OPENBLAS_NUM_THREADS"] = "1"
    with suppress(OSError, AttributeError):
        ctypes.CDLL(None).mallopt(_ARENA_MAX, 2)


def load_drawing() -> None:
    """Load what draws pieces on a screen, for a process that answers people: none of them waits for it."""
    import_module("cv2.data")  # a part of it, so that a stand-in for the whole gives way


def load_decoders() -> None:
    """Load all that decodes a photo, and what shuts a process in: within walls nothing can be loaded."""
    import pyvips
    import rawpy  # noqa: F401
    from PIL import AvifImagePlugin, Image, ImageCms, WebPImagePlugin  # noqa: F401

    for name in ("landlock", "pyseccomp"):
        with suppress(ImportError, RuntimeError):  # a wall that can't be put up is named later
            import_module(name)
    Image.init()
    with suppress(ImportError):  # left out where its licence is: a HEIC photo says so then
        import_module("pillow_heif").libheif_info()
    pyvips.Operation.call("profile_load", "srgb")
