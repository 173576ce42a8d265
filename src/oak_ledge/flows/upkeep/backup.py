"""A copy of a data folder as one archive, made while its server runs, and put back from it."""

from __future__ import annotations

import glob
import hashlib
import json
import lzma
import os
import zipfile
import zlib
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path, PurePosixPath
from shutil import rmtree
from tempfile import TemporaryDirectory
from typing import IO

from oak_ledge.core.measures.numbers import clipped
from oak_ledge.core.pixels.prove.measure import file_hash
from oak_ledge.flows.delivery.deliveries import folder_of
from oak_ledge.flows.errors import BackupError
from oak_ledge.flows.remote.token import NAME as TOKEN
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import photos
from oak_ledge.store.database import copy_database, open_database, reading
from oak_ledge.store.errors import disk_words
from oak_ledge.store.folders import CHUNK, place_as, sync_folder
from oak_ledge.store.work import deliveries

DATABASE = "oak-ledge.db"
LIST = "what-is-in-it.json"
# Rounds in which what changed meanwhile is copied again.
TRIES = 5


@dataclass(frozen=True)
class BackedUp:
    """What a backup holds."""

    photos: int
    files: int
    bytes: int
    missing: tuple[str, ...]
    """what the database knows of and the disk has not, or not as it was"""


@dataclass(frozen=True)
class _Needed:
    path: Path
    sha256: str | None
    """None: whatever it is"""


def back_up(workspace: Workspace, target: Path, progress: Callable[[int, int], None]) -> BackedUp:
    """Copy database, originals and finished files into a new archive.

    The database is copied last, and what it knows of is then in the archive, each file's hash taken
    while it was copied: the copy is of one moment. Pictures for screens and grounds are left out: they are made again.

    Parameters
    ----------
    progress : told how many files of how many are in

    Raises
    ------
    BackupError
        If the archive can't be written, or is there already. Nothing is left of it then.
    """
    if target.exists():
        msg = f"{target} is there already. Choose another name; nothing is written over"
        raise BackupError(msg)
    part = target.with_name(f".{target.name[:40]}-{os.getpid()}.part")
    try:
        handle = os.open(
            part, os.O_RDWR | os.O_CREAT | os.O_EXCL, 0o600
        )  # all of a studio is in it
        with os.fdopen(handle, "w+b") as file:
            with zipfile.ZipFile(file, "w", zipfile.ZIP_STORED, allowZip64=True) as archive:
                done = _filled(workspace, archive, progress)
            file.flush()
            os.fsync(file.fileno())
        whole = part.stat().st_size
        if not place_as(part, target):
            msg = f"{target} is there by now. Choose another name; nothing is written over"
            raise BackupError(msg)
    except OSError as exc:
        msg = f"{target} could not be written. {disk_words(exc)}"
        raise BackupError(msg) from exc
    finally:
        part.unlink(missing_ok=True)
    return BackedUp(done[0], done[1], whole, done[2])


def _filled(
    workspace: Workspace, archive: zipfile.ZipFile, progress: Callable[[int, int], None]
) -> tuple[int, int, tuple[str, ...]]:
    held: dict[str, str | None] = {}
    for _ in range(TRIES):
        with TemporaryDirectory(dir=workspace.data, prefix=".backup-") as beside:
            copy = Path(beside) / DATABASE
            copy_database(workspace.sessions.path, copy)
            needed, counts = _needed(workspace, copy)
            left = {name: needed_file for name, needed_file in needed.items() if name not in held}
            if not left:
                wrong = tuple(
                    name
                    for name, needed_file in needed.items()
                    if needed_file.sha256 and held[name] != needed_file.sha256
                )
                if not wrong or not _changed(needed, wrong):
                    archive.write(copy, DATABASE, zipfile.ZIP_DEFLATED)
                    listed = {name: held[name] for name in needed if held[name]}
                    archive.writestr(LIST, json.dumps(listed, indent=1), zipfile.ZIP_DEFLATED)
                    return *counts, wrong
                msg = "Files were made anew while they were copied. Make the backup again"
                raise BackupError(msg)
        for number, (name, needed_file) in enumerate(left.items(), 1):
            held[name] = _put(archive, name, needed_file)
            progress(number, len(left))
    msg = "The data folder changed too fast to be copied. Make the backup when less is going on"
    raise BackupError(msg)


def _changed(needed: dict[str, _Needed], wrong: tuple[str, ...]) -> bool:
    """Return whether something that was copied otherwise is as it should be by now."""
    for name in wrong:
        with suppress(OSError):
            if file_hash(needed[name].path) == needed[name].sha256:
                return True
    return False


def _needed(workspace: Workspace, copy: Path) -> tuple[dict[str, _Needed], tuple[int, int]]:
    """Return all that a copied database knows of, by the name it has in the data folder."""
    sessions = open_database(copy)
    try:
        with reading(sessions) as session:
            known = photos.every(session)
            files = deliveries.every_made(session)
    finally:
        sessions.close()
    needed: dict[str, _Needed] = {}

    def add(path: Path, sha256: str | None) -> None:
        needed[path.relative_to(workspace.data).as_posix()] = _Needed(path, sha256)

    for photo in known:
        add(photos.original(workspace.originals, photo), photo.hash)
    for file in files:
        path = folder_of(workspace, file.delivery_id) / (file.name or "")
        add(path, file.measured.sha256 if file.measured else None)
    if (workspace.data / TOKEN).exists():
        add(workspace.data / TOKEN, None)
    return needed, (len(known), len(files))


def _put(archive: zipfile.ZipFile, name: str, needed: _Needed) -> str | None:
    """Copy a file into an archive; give its hash, None where it is not there."""
    try:
        with needed.path.open("rb") as file, archive.open(name, "w", force_zip64=True) as copy:
            return _copied(file, copy)
    except FileNotFoundError:
        return None


def _copied(source: IO[bytes], target: IO[bytes]) -> str:
    """Copy a file; give the hash of what was copied."""
    digest = hashlib.sha256()
    while chunk := source.read(CHUNK):
        digest.update(chunk)
        target.write(chunk)
    return digest.hexdigest()


def put_back(archive: Path, folder: Path) -> None:
    """Make a new data folder of an archive; each file's hash is taken again.

    Raises
    ------
    BackupError
        If it is no backup, is damaged or lacks something, or the folder is there already. Nothing is
        left then.
    """
    if folder.exists():
        msg = f"{archive} was put back to {folder} before. Use that: --data {folder}"
        raise BackupError(msg)
    _sweep(folder)
    part = folder.with_name(f".{folder.name}-{os.getpid()}.part")
    try:
        part.mkdir(mode=0o700)
        with zipfile.ZipFile(archive) as held:
            hashes = _listed(held)
            for name in [*hashes, DATABASE]:  # what nobody listed stays where it is
                _take_out(held, held.getinfo(name), part, hashes)
        part.rename(folder)
        sync_folder(folder.parent)
    except _DAMAGE as exc:
        msg = f"{archive} is no backup of Oak Ledge, or is damaged: {clipped(str(exc))}"
        raise BackupError(msg) from exc
    except OSError as exc:
        msg = f"{archive} could not be put back. {disk_words(exc)}"
        raise BackupError(msg) from exc
    finally:
        if part.exists():
            rmtree(part, ignore_errors=True)


# What an archive is read with raises all of these on what is wrong with it: a password, a method of
# compression that nobody knows, streams that end or are none.
_DAMAGE = (
    zipfile.BadZipFile, zlib.error, lzma.LZMAError, EOFError, ValueError, KeyError, RuntimeError,
    NotImplementedError, RecursionError, OverflowError,
)  # fmt: skip

# Bytes of the list: a million files.
MOST_LISTED = 64_000_000

# Bytes of a database, the one thing that is packed small.
MOST_DATABASE = 50_000_000_000


def _listed(held: zipfile.ZipFile) -> dict[str, str]:
    """Read the list of what is in an archive, and see that all of it is in it, once."""
    if held.getinfo(LIST).file_size > MOST_LISTED:
        msg = "its list is too long"
        raise ValueError(msg)
    listed = json.loads(held.read(LIST))
    if not isinstance(listed, dict) or not all(isinstance(entry, str) for entry in listed.values()):
        msg = "its list is none"
        raise ValueError(msg)
    names = held.namelist()
    missing = sorted(({*listed, DATABASE}) - set(names))
    if missing:
        msg = f"{missing[0]} is listed and is not in it"
        raise ValueError(msg)
    twice = [name for name, count in Counter(names).items() if count > 1]
    if twice:
        msg = f"{twice[0]} is in it twice"
        raise ValueError(msg)
    return listed


def _take_out(
    held: zipfile.ZipFile, member: zipfile.ZipInfo, folder: Path, hashes: dict[str, str]
) -> None:
    name = member.filename
    where = PurePosixPath(name)
    if where.is_absolute() or ".." in where.parts or "\\" in name:
        msg = f"it names a place outside, {name}"
        raise ValueError(msg)
    # all but the database is stored as it is, so that nothing grows beyond the archive's own bytes
    grows = member.file_size > (MOST_DATABASE if name == DATABASE else member.compress_size)
    if grows:
        msg = f"{name} would take more room than it should"
        raise ValueError(msg)
    path = folder / where
    path.parent.mkdir(parents=True, exist_ok=True)
    with held.open(member) as source, path.open("xb") as copy:
        digest = _copied(source, copy)
        copy.flush()
        os.fsync(copy.fileno())
    if name in hashes and digest != hashes[name]:
        msg = f"{name} is not as it was when it was copied"
        raise ValueError(msg)


def _sweep(folder: Path) -> None:
    """Remove what a restore to this folder left that was killed."""
    for part in folder.parent.glob(f".{glob.escape(folder.name)}-*.part"):
        number = part.stem.rpartition("-")[2]
        if number.isdecimal() and not _is_running(int(number)):
            rmtree(part, ignore_errors=True)


def _is_running(pid: int) -> bool:
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return True


def originals_in(archive: Path, wanted: dict[str, str]) -> Iterator[tuple[str, bytes]]:
    """Return originals of an archive by their names in it, those whose hash is as wanted.

    Raises
    ------
    BackupError
        If it can't be read.
    """
    try:
        with zipfile.ZipFile(archive) as held:
            for name in wanted.keys() & set(held.namelist()):
                data = held.read(name)
                if hashlib.sha256(data).hexdigest() == wanted[name]:
                    yield name, data
    except (*_DAMAGE, OSError) as exc:
        msg = f"{archive} can't be read: {exc}"
        raise BackupError(msg) from exc
