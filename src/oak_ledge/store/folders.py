"""Files put in their place whole: written beside, synced, then named."""

from __future__ import annotations

import os
from pathlib import Path


def sync_folder(folder: Path) -> None:
    """Make a new name in a folder last through a power cut."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def write_new(folder: Path, stem: str, ending: str, data: bytes) -> Path:
    """Write bytes under a name that is not taken yet: `stem`, `stem-2`, `stem-3` …

    Written to a temporary name, synced, then linked, so that no half file ever bears a real
    name and nothing is ever written over, also with several programs at work in one folder.
    """
    folder.mkdir(parents=True, exist_ok=True)
    part = folder / f".{stem[:40]}-{os.urandom(6).hex()}.part"
    try:
        with part.open("xb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        number = 1
        while True:
            target = folder / (f"{stem}{ending}" if number == 1 else f"{stem}-{number}{ending}")
            try:
                target.hardlink_to(part)
            except FileExistsError:
                number += 1
                continue
            except OSError:  # a file system without links: claim the name, then replace it
                try:
                    target.touch(exist_ok=False)
                except FileExistsError:
                    number += 1
                    continue
                part.replace(target)
            break
    finally:
        part.unlink(missing_ok=True)
    sync_folder(folder)
    return target


def write_over(path: Path, data: bytes) -> None:
    """Put a file in its place whole and synced, over one of the same name that is ours."""
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_name(f".{path.stem[:40]}-{os.urandom(6).hex()}.part")
    try:
        with part.open("xb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        part.replace(path)
    finally:
        part.unlink(missing_ok=True)
    sync_folder(path.parent)


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
