"""Files put in their place whole: written beside, synced, then named."""

from __future__ import annotations

import filecmp
import os
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from itertools import count
from pathlib import Path

CHUNK = 1 << 20


def sync_folder(folder: Path) -> None:
    """Make a new name in a folder last through a power cut."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def write_new(folder: Path, stem: str, ending: str, parts: Iterable[bytes]) -> Path:
    """Write bytes under a name that is not taken yet: `stem`, `stem-2`, `stem-3` …

    Written to a temporary name, synced, then linked, so that no half file ever bears a real
    name and nothing is ever written over, also with several programs at work in one folder.
    """
    folder.mkdir(parents=True, exist_ok=True)
    with _written(folder / stem, parts) as part:
        for target in _numbered(folder, stem, ending):
            try:
                target.hardlink_to(part)
            except FileExistsError:
                continue
            except OSError:  # a file system without links: claim the name, then replace it
                try:
                    target.touch(exist_ok=False)
                except FileExistsError:
                    continue
                part.replace(target)
            break
    sync_folder(folder)
    return target


def write_over(path: Path, data: bytes) -> None:
    """Put a file in its place whole and synced, over one of the same name that is ours."""
    path.parent.mkdir(parents=True, exist_ok=True)
    with _written(path, [data]) as part:
        part.replace(path)
    sync_folder(path.parent)


def copy_new(source: Path, folder: Path) -> tuple[Path, bool]:
    """Copy a file into a folder beside what is there: where it lies, and whether it is new there.

    The same bytes under its name, or that name with a number, are not copied again.
    """
    for there in _numbered(folder, source.stem, source.suffix):
        if not there.exists():
            break
        if there.is_file() and filecmp.cmp(source, there, shallow=False):
            return there, False
    with source.open("rb") as file:
        return write_new(
            folder, source.stem, source.suffix, iter(lambda: file.read(CHUNK), b"")
        ), True


def _numbered(folder: Path, stem: str, ending: str) -> Iterator[Path]:
    yield folder / f"{stem}{ending}"
    yield from (folder / f"{stem}-{number}{ending}" for number in count(2))


@contextmanager
def _written(path: Path, parts: Iterable[bytes]) -> Iterator[Path]:
    """Write bytes beside a path under a temporary name and sync them; gone again at the end."""
    part = path.with_name(f".{path.stem[:40]}-{os.urandom(6).hex()}.part")
    try:
        with part.open("xb") as file:
            file.writelines(parts)
            file.flush()
            os.fsync(file.fileno())
        yield part
    finally:
        part.unlink(missing_ok=True)


def sweep_parts(folder: Path) -> None:
    """Remove what a kill left half written; only temporary names are touched."""
    for part in folder.rglob("*.part"):
        part.unlink(missing_ok=True)


def replace_file(path: Path, data: bytes) -> None:
    """Put a cache file in its place whole; it can be drawn again, so it is not synced."""
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_name(f".{path.stem[:16]}-{os.urandom(6).hex()}.part")
    part.write_bytes(data)
    part.replace(path)
