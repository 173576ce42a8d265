"""`backup`: a copy of a data folder."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Annotated

import typer

from oak_ledge.cli.app import app
from oak_ledge.cli.folder import config_of, opened
from oak_ledge.cli.options import Data
from oak_ledge.cli.trouble import SOME_FAILED, fail, or_fail
from oak_ledge.core.measures.bytes import bytes_words


@app.command()
def backup(
    file: Annotated[Path, typer.Argument(metavar="FILE.zip", help="a name that is not taken")],
    data: Data = None,
) -> None:
    """Copy a data folder into one archive, also while its server runs.

    To use it again, name it as the data folder: oak-ledge serve --data FILE.zip
    """
    from oak_ledge.flows.upkeep.backup import back_up

    config = config_of(data=data)
    if not (config.data / "oak-ledge.db").exists():
        fail(SOME_FAILED, f"{config.data} is no data folder: there is no oak-ledge.db in it")
    done = or_fail(lambda: back_up(opened(config), file, _show_progress))
    held = f"{_count(done.photos, 'photo')}, {_count(done.files, 'finished file')}"
    print(f"{file}: {held}, {bytes_words(done.bytes)}")
    for name in done.missing:
        print(f"oak-ledge: {name} is missing or damaged; see oak-ledge check", file=sys.stderr)
    if done.missing:
        raise typer.Exit(SOME_FAILED)


def _show_progress(done: int, whole: int) -> None:
    if sys.stderr.isatty():
        print(f"\r{done} of {whole} files", end="\n" if done == whole else "", file=sys.stderr)


def _count(count: int, what: str) -> str:
    return f"{count} {what}" if count == 1 else f"{count} {what}s"
