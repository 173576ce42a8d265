"""`make`: the file of every photo on every size."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Annotated

import typer

from oak_ledge.cli.app import app
from oak_ledge.cli.folder import config_of
from oak_ledge.cli.options import Allow, By, Json, Photos
from oak_ledge.cli.report import report
from oak_ledge.cli.shared_options import SharedOptions, with_shared_options
from oak_ledge.cli.trouble import CALL_IS_WRONG, SOME_FAILED, or_fail
from oak_ledge.core.sizes.file.file_settings import DEFAULT_PATTERN
from oak_ledge.flows.commands.make import MakeOptions, check_masks, make_all


@app.command()
@with_shared_options
def make(
    photos: Photos,
    options: SharedOptions,
    allow: Allow = [],  # noqa: B006 - typer copies it
    name: Annotated[
        str | None, typer.Option(metavar="PATTERN", help=f"file names [{DEFAULT_PATTERN}]")
    ] = None,
    out: Annotated[Path, typer.Option(metavar="DIR", help="folder for the files")] = Path(),
    by: By = None,
    skip_made: Annotated[
        bool,
        typer.Option("--skip-made", help="leave files that are there and measure as asked"),
    ] = False,
    as_json: Json = False,
) -> None:
    """Make the file of every photo on every size, and measure each from disk.

    For example: oak-ledge make quay.jpg --size 8x10in@300 --out prints
    """
    or_fail(lambda: check_masks(photos, options.way, config_of().limits), CALL_IS_WRONG)
    shows = sys.stderr.isatty() and not as_json

    def came(done: int) -> None:
        if shows:
            whole = len(photos) * len(options.sizes)
            print(f"\r{done} of {whole}", end="", file=sys.stderr, flush=True)

    how = MakeOptions(
        folder=out,
        limits=config_of().limits,
        way=options.way,
        allowed=frozenset(allow),
        by=by or "none",
        skip_made=skip_made,
    )
    outcome = make_all(photos, options.sizes, how, came)
    if shows:
        print("\r", end="", file=sys.stderr)
    if as_json:
        print(outcome.model_dump_json(indent=2))
    else:
        report(outcome)
    if outcome.failed:
        raise typer.Exit(SOME_FAILED)
