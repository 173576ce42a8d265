"""What a machine makes files with: two that differ in it could make different pixels."""

from __future__ import annotations

import hashlib
from functools import lru_cache
from importlib.metadata import version
from pathlib import Path

import oak_ledge.core

_LIBRARIES = ("numpy", "opencv-python-headless", "pillow", "pypatchmatch", "pyvips-binary", "rawpy")


@lru_cache
def recipe() -> str:
    """Return a hash over the code that makes files and the libraries it draws with."""
    digest = hashlib.sha256()
    for root in (Path(oak_ledge.core.__path__[0]), Path(__file__).parent / "delivery"):
        for path in sorted(root.rglob("*.py")):
            digest.update(f"{path.relative_to(root)}\0".encode())
            digest.update(path.read_bytes())
    for name in _LIBRARIES:
        digest.update(f"{name} {version(name)}\0".encode())
    return digest.hexdigest()
