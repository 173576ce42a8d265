"""`watch`: files of every photo that arrives in a folder."""

from __future__ import annotations

import signal
import sys
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from threading import Event
from typing import TYPE_CHECKING, Annotated

import typer

from oak_ledge.cli.app import app
from oak_ledge.cli.folder import alone, config_of, now
from oak_ledge.cli.options import Allow, By
from oak_ledge.cli.report import report
from oak_ledge.cli.shared_options import SharedOptions, with_shared_options
from oak_ledge.cli.trouble import CALL_IS_WRONG, fail
from oak_ledge.flows.commands.make import Outcome

if TYPE_CHECKING:
    from oak_ledge.flows.watch.folder import Watched


@app.command()
@with_shared_options
def watch(
    folder: Annotated[Path, typer.Argument(metavar="FOLDER", help="where photos arrive")],
    options: SharedOptions,
    allow: Allow = [],  # noqa: B006 - typer copies it
    name: Annotated[str | None, typer.Option(metavar="PATTERN", help="file names")] = None,
    out: Annotated[
        Path | None, typer.Option(metavar="DIR", help="folder for the files [FOLDER/made]")
    ] = None,
    by: By = None,
) -> None:
    """Make the files of every photo that is in a folder or arrives there, each once, until it is ended.

    Beside each photo NAME.made.json says what was made of it, or why not. For example:
    oak-ledge watch ~/quay --size 8x10in@300
    """
    from oak_ledge.flows.watch.folder import Watched

    if not folder.is_dir():
        fail(CALL_IS_WRONG, f"{folder} is no folder. Make it first, or name another")
    files = out or folder / "made"
    if files.resolve() == folder.resolve():
        fail(
            CALL_IS_WRONG,
            f"--out {files} is the watched folder itself; its files would be made of again",
        )
    follow(
        Watched(
            folder,
            files,
            options.sizes,
            options.way,
            config_of().limits,
            frozenset(allow),
            by or "none",
        )
    )


def reported(outcome: Outcome) -> None:
    """Print what came of photos that arrived."""
    report(outcome)
    sys.stdout.flush()


def follow(
    watched: Watched, came: Callable[[Outcome], None] = reported, patience: float = 0
) -> None:
    """Watch a folder until this process is told to end; another watch may end for so many seconds."""
    from oak_ledge.flows.walls.readers import usual_readers
    from oak_ledge.flows.watch.folder import prepare_out, watch_folder

    try:
        prepare_out(watched.out)
    except OSError as exc:
        fail(CALL_IS_WRONG, f"files can't be put into {watched.out}: {exc.strerror or exc}")
    folder, stop = watched.folder, Event()
    for kind in (signal.SIGTERM, signal.SIGINT):
        signal.signal(kind, lambda *_: stop.set())

    # two would make everything twice
    held = f"{folder} is watched already. End that watch, or name another folder"
    unusable = f"{folder} cannot be watched"
    with alone(folder / ".watched.lock", held=held, unusable=unusable, patience=patience):
        print(f"Watching {folder}; files go to {watched.out}.", flush=True)
        readers = usual_readers()
        try:
            read = None if readers is None else readers.read
            watch_folder(replace(watched, read=read), now, stop, came)
        finally:
            if readers is not None:
                readers.close()
