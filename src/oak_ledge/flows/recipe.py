"""What a machine makes files with, and what it judges pieces by: hashes over code that matters.

Two machines with another recipe could make different pixels; words, names of locals and docstrings
make none.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Iterator
from functools import lru_cache
from importlib.metadata import version
from pathlib import Path
from types import CodeType

import oak_ledge

_LIBRARIES = ("numpy", "opencv-python-headless", "pillow", "pypatchmatch", "pyvips-binary", "rawpy")

_PACKAGE = Path(oak_ledge.__path__[0])

# What decides the pixels and bytes of a file. Gestures, notes and reports only lead to them.
_DRAWS = (
    *(f"core/{room}" for room in
      ("measures", "planes", "sizes", "photos", "placements", "files", "sheets", "pixels")),
    *(f"flows/delivery/{module}.py" for module in ("drawing", "filling", "making", "sheet_file")),
)  # fmt: skip

# What decides the notes of a piece: arithmetic, never pixels.
_JUDGES = tuple(
    f"core/{room}"
    for room in ("measures", "planes", "sizes", "photos", "placements", "files", "reports", "notes")
)


@lru_cache
def recipe() -> str:
    """Return a hash over the code that makes files and the libraries it draws with."""
    libraries = " ".join(f"{name} {version(name)}" for name in _LIBRARIES)
    return hashlib.sha256(f"{code_hash(_modules(_DRAWS))} {libraries}".encode()).hexdigest()


@lru_cache
def judgement() -> str:
    """Return a hash over the code that notes follow from."""
    return code_hash(_modules(_JUDGES))


def _modules(names: Iterable[str]) -> Iterator[Path]:
    for name in names:
        path = _PACKAGE / name
        yield from sorted(path.rglob("*.py")) if path.is_dir() else (path,)


def code_hash(modules: Iterable[Path]) -> str:
    """Return a hash over what modules do: neither docstrings and comments nor names of locals."""
    digest = hashlib.sha256()
    for module in modules:
        code = compile(module.read_bytes(), module.name, "exec", optimize=2, dont_inherit=True)
        digest.update(f"{module.stem}\0".encode())
        _add(digest, code)
    return digest.hexdigest()


def _add(digest: hashlib._Hash, code: CodeType) -> None:
    digest.update(code.co_code)
    digest.update(repr((code.co_name, code.co_names, code.co_argcount)).encode())
    for value in code.co_consts:
        if isinstance(value, CodeType):
            _add(digest, value)
        else:
            # a set has no order of its own
            shown = sorted(map(repr, value)) if isinstance(value, frozenset) else value
            digest.update(f"{type(value).__name__} {shown!r}\0".encode())
