"""The border to foreign files: whatever a decoder stumbles over becomes a plain reason."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

import pyvips

from oak_ledge.core.errors import CoreError, PhotoError

TAKEN = "Oak Ledge takes JPEG, PNG, TIFF, WebP, AVIF, HEIC and camera raw files."


@contextmanager
def reading_file() -> Iterator[None]:
    """Turn every foreign error that a file's content causes into that file's refusal.

    What a decoder stumbles over is not known beforehand; what the disk answers stays what it is.

    Raises
    ------
    PhotoError
        With a plain reason.
    """
    try:
        yield
    except CoreError:
        raise
    except MemoryError as exc:
        msg = "it needs more memory than there is; make it smaller first"
        raise PhotoError(msg) from exc
    except Exception as exc:
        if isinstance(exc, OSError) and exc.errno is not None:
            raise
        msg = f"the file is damaged, or not what it says it is. {TAKEN}"
        raise PhotoError(msg) from exc


@contextmanager
def reading_pixels() -> Iterator[None]:
    """Turn the image library's errors while pixels are read into plain ones."""
    try:
        yield
    except pyvips.Error as exc:
        msg = "the file is damaged or cut short; copy it again from its source"
        raise PhotoError(msg) from exc
