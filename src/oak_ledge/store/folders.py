"""Files put in their place whole: written beside, synced, then named."""

from __future__ import annotations

import filecmp
import os
import time
from collections.abc import Iterable, Iterator
from contextlib import contextmanager, suppress
from itertools import count
from pathlib import Path

CHUNK = 1 << 20
# Seconds.
LONG = 3600


def sync_folder(folder: Path) -> None:
    """Make a new name in a folder last through a power cut."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def write_new(folder: Path, stem: str, ending: str, parts: Iterable[bytes]) -> Path:
    """Write bytes under a name that is not taken yet: `stem`, `stem-2`, `stem-3` and so on.

    Written to a temporary name, synced, then linked, so that no half file ever bears a real
    name and nothing is ever written over, also with several programs at work in one folder.
    """
    with written(folder, stem, parts) as part:
        return place_new(part, folder, stem, ending)


def place_new(part: Path, folder: Path, stem: str, ending: str) -> Path:
    """Put a written file under a name that is not taken yet."""
    return next(path for path in numbered(folder, stem, ending) if place_as(part, path))


def place_as(part: Path, path: Path) -> bool:
    """Return a written file a name; False if that is taken, and nothing is done then."""
    try:
        path.hardlink_to(part)
    except FileExistsError:
        return False
    except OSError:  # a file system without links: claim the name, then replace it
        try:
            path.touch(exist_ok=False)
        except FileExistsError:
            return False
        part.replace(path)
    sync_folder(path.parent)
    return True


def place_over(part: Path, path: Path) -> None:
    """Put a written file in its place, over one of the same name that is ours."""
    part.replace(path)
    sync_folder(path.parent)


def copy_new(source: Path, folder: Path, name: str | None = None) -> tuple[Path, bool]:
    """Copy a file into a folder beside what is there: where it lies, and whether it is new there.

    It keeps its name, where no other is given. The same bytes under it, or under that name with a
    number, are not copied again.
    """
    called = Path(name or source.name)
    for there in numbered(folder, called.stem, called.suffix):
        if not there.exists():
            break
        if there.is_file() and filecmp.cmp(source, there, shallow=False):
            return there, False
    with source.open("rb") as file:
        return write_new(
            folder, called.stem, called.suffix, iter(lambda: file.read(CHUNK), b"")
        ), True


def numbered(folder: Path, stem: str, ending: str) -> Iterator[Path]:
    """Return the names a file may have in a folder, as long as they are taken."""
    yield folder / f"{stem}{ending}"
    yield from (folder / f"{stem}-{number}{ending}" for number in count(2))


@contextmanager
def written(folder: Path, stem: str, parts: Iterable[bytes]) -> Iterator[Path]:
    """Write bytes into a folder under a temporary name and sync them; gone again at the end."""
    folder.mkdir(parents=True, exist_ok=True)
    part = folder / _part_name(stem[:40])
    try:
        with part.open("xb") as file:
            file.writelines(parts)
            file.flush()
            os.fsync(file.fileno())
        yield part
    finally:
        part.unlink(missing_ok=True)


def _part_name(stem: str) -> str:
    """Return the name of a file while it is written: it says which process will remove it again."""
    return f".{stem}-{os.getpid()}-{os.urandom(6).hex()}.part"


def sweep_parts(folder: Path, pid: int | None = None) -> None:
    """Remove what a kill left half written, of all processes or of one that is no more.

    Only temporary names are touched.
    """
    for part in folder.rglob("*.part"):
        if pid is None or part.stem.split("-")[-2:-1] == [str(pid)]:
            part.unlink(missing_ok=True)


def bytes_in(folder: Path) -> int:
    """Return the bytes of all files in a folder and below."""
    whole = 0
    for path in folder.rglob("*"):
        with suppress(OSError):  # it may go meanwhile
            whole += path.stat().st_size if path.is_file() else 0
    return whole


def prune(folder: Path, most_bytes: int, but: Path | None = None) -> int:
    """Remove cache files, those least lately used first, until no more than so many bytes are there.

    Gives how many bytes went; `but` one that is needed now. What is removed while somebody reads it
    stays readable to them.
    """
    files = []
    for path in folder.rglob("*"):
        with suppress(OSError):  # it may go meanwhile
            status = path.stat()
            if path.is_file() and path != but:
                files.append((max(status.st_mtime, status.st_atime), status.st_size, path))
    over = sum(size for _, size, _ in files) - most_bytes
    gone = 0
    for _, size, path in sorted(files, key=lambda other: other[0]):
        if gone >= over:
            break
        path.unlink(missing_ok=True)
        gone += size
    return gone


def is_fresh(path: Path) -> bool:
    """Return whether a cache file is there; one that was not used for long is marked as used."""
    try:
        if path.stat().st_mtime < time.time() - LONG:
            os.utime(path)
    except OSError:
        return False
    return True


def replace_file(path: Path, data: bytes) -> None:
    """Put a cache file in its place whole; it can be drawn again, so it is not synced."""
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_name(_part_name(path.stem[:16]))
    try:
        part.write_bytes(data)
        part.replace(path)
    finally:
        part.unlink(missing_ok=True)


def stays_inside(root: Path, folder: Path) -> bool:
    """Return whether a folder, links followed, lies in a root: one that was put there may lead out of it."""
    return folder.resolve().is_relative_to(root.resolve())
