"""`work`: a worker beside the server."""

from __future__ import annotations

import os
import sys
from typing import Annotated
from uuid import uuid4

import typer

from oak_ledge.cli.app import app
from oak_ledge.cli.folder import config_of, now, opened, queue_of
from oak_ledge.cli.options import Data, UntilInputEnds
from oak_ledge.store.errors import StoreError

BEHIND = 5  # a worker lets the server, and whoever sits here, go first


@app.command()
def work(
    data: Data = None,
    called: Annotated[
        str | None, typer.Option(hidden=True, help="the name it claims files under")
    ] = None,
    until_input_ends: UntilInputEnds = False,
) -> None:
    """Make files for a server of this data folder; it starts as many as it has cores itself."""
    from oak_ledge.flows.delivery.filling import AtWork
    from oak_ledge.flows.delivery.workshop import make_what_waits
    from oak_ledge.web.process.workers import (
        begin_anew_if_cancelled,
        end_with_parent,
        say_alive,
    )

    config = config_of(data=data)
    workspace, name = opened(config), called or uuid4().hex
    if until_input_ends:
        end_with_parent()

    if hasattr(os, "nice"):
        os.nice(BEHIND)
    at_work = AtWork()

    def make() -> None:
        try:
            make_what_waits(workspace, name, now, at_work)
        except StoreError as exc:  # what it was at goes back once its lease ends
            print(f"oak-ledge: {exc}", file=sys.stderr)

    queue = queue_of(config, workspace, make)
    say_alive(workspace, name, now)
    begin_anew_if_cancelled(workspace, name, at_work)
    queue.ask(1)  # what waited while this one was not there
    queue.work()
