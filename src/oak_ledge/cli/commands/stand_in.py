"""`stand-in`: a receiver to rehearse with."""

from __future__ import annotations

import os
import secrets
from pathlib import Path
from typing import Annotated

import typer

from oak_ledge.cli.app import app
from oak_ledge.cli.trouble import CALL_IS_WRONG, fail, or_wrong_call
from oak_ledge.receivers.stand_ins.inbox import Fault
from oak_ledge.receivers.stand_ins.stand_in import Kind, Told

# What a stand-in's password may be given in, so that it is on no command line.
SECRET = "OAK_LEDGE_STAND_IN_SECRET"


@app.command("stand-in")
def stand_in(
    kind: Annotated[
        Kind, typer.Argument(metavar="lab|marketplace|sign", help="what it stands for")
    ],
    into: Annotated[Path, typer.Option(metavar="DIR", help="folder for what arrives")],
    port: Annotated[int, typer.Option(min=0, max=65535, help="0: any that is free")] = 0,
    host: Annotated[str, typer.Option(help="address to listen on")] = "127.0.0.1",
    fault: Annotated[
        Fault | None, typer.Option(help="slow, refuse, or break-off in every second file")
    ] = None,
    takes: Annotated[
        Path | None, typer.Option(metavar="FILE.json", help="a receiver whose rules it goes by")
    ] = None,
    until_input_ends: Annotated[bool, typer.Option(hidden=True)] = False,
) -> None:
    """Stand in for a receiver: a lab (SFTP), a marketplace (HTTP) or a sign (WebDAV), until it is ended.

    It prints its address, user and password when it is ready; a lab its host key too. For example:
    oak-ledge stand-in lab --port 2222 --into ~/lab
    """
    from oak_ledge.core.receivers.receiver import read_receivers
    from oak_ledge.core.receivers.starters import STARTERS
    from oak_ledge.receivers.stand_ins.inbox import Inbox
    from oak_ledge.receivers.stand_ins.stand_in import run

    if until_input_ends:
        from oak_ledge.web.process.workers import end_with_parent

        end_with_parent()
    rules = STARTERS[kind].takes
    try:
        if takes is not None:
            text = takes.read_text(encoding="utf-8", errors="replace")
            rules = or_wrong_call(lambda: read_receivers(text))[0].takes
        into.mkdir(parents=True, exist_ok=True)
        inbox = Inbox(into.resolve(), rules, fault)
    except OSError as exc:
        fail(CALL_IS_WRONG, f"{exc.filename or into} cannot be used: {exc.strerror or exc}")
    password = os.environ.get(SECRET) or secrets.token_urlsafe(12)
    try:
        run(kind, inbox, host, port, password, _tell)
    except OSError as exc:
        fail(CALL_IS_WRONG, f"{host}:{port} can't be listened on: {exc.strerror or exc}")


def _tell(told: Told) -> None:
    for line in told.lines:
        print(line, flush=True)
