"""`check`: a data folder looked through and mended."""

from __future__ import annotations

import sys
import time
from contextlib import ExitStack
from pathlib import Path
from typing import Annotated

import typer

from oak_ledge.cli.app import app
from oak_ledge.cli.folder import LOCK, config_of, opened, taken
from oak_ledge.cli.options import Data, Json
from oak_ledge.cli.trouble import SOME_FAILED, fail, or_fail


@app.command()
def check(
    data: Data = None,
    backup: Annotated[
        Path | None,
        typer.Option(metavar="FILE.zip", help="where originals that are gone are taken from"),
    ] = None,
    only_look: Annotated[bool, typer.Option("--only-look", help="change nothing")] = False,
    as_json: Json = False,
) -> None:
    """Look through a data folder, and mend what can be.

    The database, the hash of every original and every finished file, and what is kept for screens.
    While a server runs, nothing is changed.
    """
    from oak_ledge.flows.upkeep.check import check as looked_through

    config = config_of(data=data)
    if not (config.data / "oak-ledge.db").exists():
        fail(SOME_FAILED, f"{config.data} is no data folder: there is no oak-ledge.db in it")
    with ExitStack() as held:
        try:
            served = not held.enter_context(taken(config.data / LOCK))
        except OSError:  # a folder that can't be written to is looked at all the same
            served = True
        if served and not only_look:
            print(
                "It is served just now: nothing is changed. Stop the server to mend.",
                file=sys.stderr,
            )
        mend = not served and not only_look
        checked = or_fail(
            lambda: looked_through(opened(config), time.time(), mend=mend, backup=backup)
        )
    if as_json:
        print(checked.model_dump_json(indent=2))
    else:
        print(f"{checked.photos} originals and {checked.files} finished files were looked at.")
        for finding in checked.findings:
            print(f"{finding.what}. {finding.done or ''}".rstrip())
        if not checked.findings:
            print("All is as it should be.")
    if not checked.well:
        raise typer.Exit(SOME_FAILED)
