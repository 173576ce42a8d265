"""Open the database: SQLite in WAL mode, foreign keys on, brought up to date by its migrations.

Who writes begins as a writer (`BEGIN IMMEDIATE`): what it then reads is what it changes, and of two
at once one waits for the other. Who reads can't write, and waits for nobody.
"""

from __future__ import annotations

import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from filelock import FileLock, Timeout
from sqlalchemy import Engine, create_engine, event, inspect, text
from sqlalchemy.exc import DatabaseError, IntegrityError
from sqlalchemy.orm import Session, sessionmaker

from oak_ledge.store.errors import StoreError, disk_words
from oak_ledge.store.folders import place_new, written

__all__ = ["Session", "Sessions", "connect", "migrate", "open_database", "reading", "transaction"]

# What a database file answers that can't be used.
FILE_ERRORS = (sqlite3.Error,)
# The migrations, each in a file that is named by its step.
_STEPS = Path(__file__).parent / "migrations" / "versions"
# Seconds a writer waits for another to be done.
PATIENCE = 30


@dataclass(frozen=True)
class Sessions:
    """The two ways into one database file."""

    path: Path
    file: tuple[int, int]
    """device and number of the file, which tell whether it is still the same"""
    writing: sessionmaker[Session]
    looking: sessionmaker[Session]

    def close(self) -> None:
        """Close all connections to the file."""
        for maker in (self.writing, self.looking):
            maker.kw["bind"].dispose()


def open_database(path: Path) -> Sessions:
    """Open, and create or migrate where needed.

    Raises
    ------
    StoreError
        If the file is no database, is damaged, or can't be written; it stays as it is.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    writing, looking = connect(path), connect(path, writes=False)
    # A new file turns to WAL without waiting for its turn: https://sqlite.org/c3ref/busy_handler.html
    with _plainly(path), _alone(path):
        if _is_behind(path, writing):
            migrate(writing)
    makers = (sessionmaker(engine, expire_on_commit=False) for engine in (writing, looking))
    return Sessions(path, _file_of(path), *makers)


def check_whole(sessions: Sessions) -> None:
    """Look through all pages of a database, as it is about to be written to.

    Raises
    ------
    StoreError
        If one is broken, which may show only when it is read: with what SQLite says of it.
    """
    try:
        with closing(
            sqlite3.connect(f"{sessions.path.absolute().as_uri()}?mode=ro", uri=True)
        ) as held:
            ((first, *_), *_) = held.execute("PRAGMA quick_check(1)").fetchall()
    except sqlite3.Error as exc:
        first = str(exc)
    if first != "ok":
        msg = (
            f"The database {sessions.path} is damaged inside: {first.splitlines()[-1]}. It is left as it is. Put a backup "
            "back, or see with “oak-ledge check” what can still be read."
        )
        raise StoreError(msg)


@contextmanager
def _alone(path: Path) -> Iterator[None]:
    """Open the file in one program at a time."""
    try:
        with FileLock(f"{path}.opening", timeout=PATIENCE):
            yield
    except Timeout as exc:
        raise StoreError(_HELD.format(path)) from exc


_HELD = "{} is held by another program for too long. Close that, then try again."


def connect(path: Path, *, writes: bool = True) -> Engine:
    """Return an engine of a file; one that does not write can't."""
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": PATIENCE})

    def prepare(connection: Any, _record: Any) -> None:
        # The driver would begin a transaction only before a change, after what it was decided by had
        # been read: https://docs.sqlalchemy.org/en/21/dialects/sqlite.html#pysqlite-serializable
        connection.isolation_level = None
        cursor = connection.cursor()
        cursor.execute("PRAGMA foreign_keys = ON")
        cursor.execute("PRAGMA journal_mode = WAL")
        cursor.execute("PRAGMA synchronous = FULL")  # a kept gesture survives a power cut
        if not writes:
            cursor.execute("PRAGMA query_only = ON")
        cursor.close()

    event.listen(engine, "connect", prepare)
    begin = "BEGIN IMMEDIATE" if writes else "BEGIN"
    event.listen(engine, "begin", lambda connection: connection.exec_driver_sql(begin))
    return engine


def _is_behind(path: Path, engine: Engine) -> bool:
    """Return whether a database is to be brought up to date; a copy of it is set aside then. Refuse a newer one.

    The copy stands beside it, `oak-ledge-0006.db` of a database at step 0006, under a name that is free.
    """
    with engine.connect() as connection:
        known = inspect(connection).has_table("alembic_version")
        now = connection.scalar(text("SELECT version_num FROM alembic_version")) if known else None
    if now is None:
        return True  # it is new
    steps = sorted((path.name[:4] for path in _STEPS.glob("[0-9]*.py")), reverse=True)
    if now not in steps:
        msg = (
            f"{path} was written by a newer version of Oak Ledge (step {now}; this one knows "
            f"{steps[0]}). It was left as it is: start that version, or choose another data folder."
        )
        raise StoreError(msg)
    if now == steps[0]:
        return False
    _copy_aside(path, f"{path.stem}-{now}")
    return True


def _copy_aside(path: Path, stem: str) -> None:
    try:
        with written(path.parent, stem, []) as part:
            _copy(path, part)
            place_new(part, path.parent, stem, path.suffix)
    except (OSError, sqlite3.Error) as exc:
        why = disk_words(exc) if isinstance(exc, OSError) else f"The database answered: {exc}."
        msg = f"{path} is of an older version, and no copy could be set aside before its upgrade. {why}"
        raise StoreError(msg) from exc


def copy_database(path: Path, target: Path) -> None:
    """Copy a database as it is at one moment, also while others write to it.

    Raises
    ------
    StoreError
        If it can't be read, or the copy can't be written.
    """
    try:
        _copy(path, target)
    except sqlite3.Error as exc:
        full = "full" in str(exc)
        msg = f"{path} could not be copied: {exc}. Look at the disk, then try again."
        raise StoreError(msg, full=full) from exc


def _copy(path: Path, target: Path) -> None:
    with closing(sqlite3.connect(path)) as whole, closing(sqlite3.connect(target)) as copy:
        whole.backup(copy)


def faults_of(path: Path, *, mend: bool) -> list[str]:
    """Return what is wrong inside a database file, in words; an index that is wrong may be built anew.

    https://sqlite.org/pragma.html#pragma_integrity_check
    """
    try:
        with closing(sqlite3.connect(path, timeout=PATIENCE, isolation_level=None)) as file:
            faults = _faults(file)
            if mend and faults and all("index" in fault for fault in faults):
                file.execute("REINDEX")
                faults = _faults(file)
            return faults
    except sqlite3.Error as exc:
        return [str(exc)]


def _faults(file: sqlite3.Connection) -> list[str]:
    whole = [str(row[0]) for row in file.execute("PRAGMA integrity_check(20)") if row[0] != "ok"]
    owners = {
        f"{table} {row} belongs to a {owner} that is not there"
        for table, row, owner, _ in file.execute("PRAGMA foreign_key_check")
    }
    return [*whole, *sorted(owners)[:20]]


def migrate(engine: Engine, revision: str = "head") -> None:
    """Bring a database to a step of its migrations, the newest one by default.

    What does it is loaded here: most databases that are opened are up to date.
    """
    from alembic import command
    from alembic.config import Config as AlembicConfig

    config = AlembicConfig()
    config.set_main_option("script_location", str(_STEPS.parent))
    # As it begins as a writer, a migration that is killed leaves nothing, and two programs that
    # start at once take turns.
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, revision)


@contextmanager
def transaction(sessions: Sessions) -> Iterator[Session]:
    """One request's or command's changes: all of them are kept, or nothing."""
    _check(sessions)
    with _plainly(sessions.path), sessions.writing.begin() as session:
        yield session


@contextmanager
def reading(sessions: Sessions) -> Iterator[Session]:
    """One look at the database as it stands; a change would be refused."""
    _check(sessions)
    with _plainly(sessions.path), sessions.looking.begin() as session:
        yield session


def _check(sessions: Sessions) -> None:
    """Make sure that the file is still there: what is written to one that is gone is lost."""
    try:
        same = _file_of(sessions.path) == sessions.file
    except OSError:
        same = False
    if not same:
        msg = (
            f"The data folder {sessions.path.parent} is no longer there, or its database is another. "
            "Put it back, then start Oak Ledge again; nothing was kept of this."
        )
        raise StoreError(msg)


def _file_of(path: Path) -> tuple[int, int]:
    status = os.stat(path)  # noqa: PTH116 - asked for every transaction
    return status.st_dev, status.st_ino


@contextmanager
def _plainly(path: Path) -> Iterator[None]:
    """Turn what the database refuses into one plain sentence."""
    try:
        yield
    except IntegrityError:
        raise
    except DatabaseError as exc:
        why = str(exc.orig)
        if "full" in why:
            msg = "The disk is full. Make room, then try again; nothing half written was kept."
            raise StoreError(msg, full=True) from exc
        if "not a database" in why or "malformed" in why:
            msg = (
                f"{path} is damaged ({why}). It was left as it is: put a copy of it from a backup in "
                "its place, or start with another data folder and bring the photos in again."
            )
        elif "locked" in why:
            msg = _HELD.format(path)
        else:
            msg = f"{path} can't be used: {why}. Look at the data folder, then try again."
        raise StoreError(msg) from exc
