"""The data folder a command works on, and its settings."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

from pydantic import ValidationError

from oak_ledge.cli.trouble import CALL_IS_WRONG, fail, or_fail, or_wrong_call
from oak_ledge.config import Config, read_config
from oak_ledge.core.measures.numbers import clipped
from oak_ledge.store.errors import StoreError

if TYPE_CHECKING:
    from oak_ledge.flows.delivery.queue import Queue
    from oak_ledge.flows.workspace import Workspace


# A worker lets the server, and whoever sits here, go first.
BEHIND = 5
# Held by the one server of a data folder.
LOCK = "server.lock"


@contextmanager
def alone(lock: Path, *, held: str, unusable: str, patience: float = 0) -> Iterator[None]:
    """Hold a lock file while something is done; who finds it held, or can't lock, ends with a line.

    Parameters
    ----------
    held : what to say if another holds it
    unusable : what to say before the disk's reason
    patience : seconds to wait for another that is just being ended
    """
    with ExitStack() as holding:
        try:
            lock.parent.mkdir(parents=True, exist_ok=True)
            mine = holding.enter_context(taken(lock, patience))
        except OSError as exc:
            fail(CALL_IS_WRONG, f"{unusable}: {exc.strerror or exc}")
        if not mine:
            fail(CALL_IS_WRONG, held)
        yield


@contextmanager
def taken(lock: Path, patience: float = 0) -> Iterator[bool]:
    """Hold a lock file, if nobody else does within so many seconds: whether it is held.

    Raises
    ------
    OSError
        If it can't be locked.
    """
    from filelock import FileLock, Timeout

    holding = FileLock(lock)
    try:
        holding.acquire(timeout=patience)
    except Timeout:
        yield False
        return
    try:
        yield True
    finally:
        holding.release()


def opened(config: Config) -> Workspace:
    """Open the data folder; one that can't be used ends the command with a line."""
    from oak_ledge.flows.workspace import open_workspace

    try:
        return open_workspace(
            config.data,
            config.limits,
            config.folder,
            finds=config.find_subjects,
            fetch_from=config.fetch_from,
        )
    except OSError as exc:
        fail(CALL_IS_WRONG, f"{config.data} cannot be used as data folder: {exc.strerror or exc}")
    except StoreError as exc:
        fail(CALL_IS_WRONG, str(exc))


def queue_of(workspace: Workspace, make_next: Callable[[], object] = bool) -> Queue:
    """Open the queue beside the data; `make_next` is what a worker of it does for each task."""
    from oak_ledge.flows.delivery.queue import open_queue

    return or_wrong_call(lambda: open_queue(workspace.data, make_next))


def opened_at(data: Path | None) -> Workspace:
    """Open the data folder for one command."""
    return opened(config_of(data=data))


def workspace_at(data: Path | None) -> Workspace:
    """Open the data folder for one command; a new library begins with the usual sizes."""
    from oak_ledge.flows.library.sizes import add_starters

    workspace = opened_at(data)
    or_fail(lambda: add_starters(workspace))
    return workspace


def config_of(**given: Any) -> Config:
    """Return the settings; a backup that is named as the data folder is put back beside itself first."""
    try:
        config = read_config(given)
    except ValidationError as exc:
        first = exc.errors()[0]
        name = f"OAK_LEDGE_{first['loc'][0]}".upper()
        fail(
            CALL_IS_WRONG,
            f"{name}={clipped(str(first['input']))}: {first['msg'].removeprefix('Value error, ')}",
        )
    if config.data.suffix.lower() == ".zip" and config.data.is_file():
        return config.model_copy(update={"data": _put_back(config.data)})
    return config


def _put_back(archive: Path) -> Path:
    from oak_ledge.flows.upkeep.backup import put_back

    folder = archive.with_suffix("")
    or_wrong_call(lambda: put_back(archive, folder))
    print(f"{archive} was put back to {folder}. From now on use --data {folder}")
    return folder


def let_others_first(*, until_input_ends: bool) -> None:
    """Run this process behind the server and the person at the machine, and end it with its parent."""
    from oak_ledge.web.process.workers import end_with_parent

    if until_input_ends:
        end_with_parent()
    if hasattr(os, "nice"):
        os.nice(BEHIND)


def now() -> datetime:
    """Return the time, in UTC."""
    return datetime.now(UTC)  # noqa: TID251 - the one clock of the command line
