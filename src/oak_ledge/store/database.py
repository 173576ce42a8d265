"""Open the database: SQLite in WAL mode, foreign keys on, brought up to date by its migrations."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config as AlembicConfig
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.orm import Session, sessionmaker

Sessions = sessionmaker[Session]
__all__ = ["Session", "Sessions", "connect", "migrate", "open_database", "transaction"]


def open_database(path: Path) -> Sessions:
    """Open, and create or migrate where needed."""
    path.parent.mkdir(parents=True, exist_ok=True)
    engine = connect(path)
    migrate(engine)
    return sessionmaker(engine, expire_on_commit=False)


def connect(path: Path) -> Engine:
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": 30})
    event.listen(engine, "connect", _prepare)
    return engine


def _prepare(connection: Any, _record: Any) -> None:
    # https://docs.sqlalchemy.org/en/21/dialects/sqlite.html#foreign-key-support
    cursor = connection.cursor()
    cursor.execute("PRAGMA foreign_keys = ON")
    cursor.execute("PRAGMA journal_mode = WAL")
    cursor.execute("PRAGMA synchronous = FULL")  # a kept gesture survives a power cut
    cursor.close()


def migrate(engine: Engine, revision: str = "head") -> None:
    config = AlembicConfig()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    with engine.begin() as connection:
        # SQLite's driver begins no transaction before DDL; with this one a migration that is
        # killed leaves nothing, and two programs starting at once take turns.
        connection.exec_driver_sql("BEGIN IMMEDIATE")
        config.attributes["connection"] = connection
        command.upgrade(config, revision)


@contextmanager
def transaction(sessions: Sessions) -> Iterator[Session]:
    """One request's or command's transaction: all of it is kept, or nothing."""
    with sessions.begin() as session:
        yield session
