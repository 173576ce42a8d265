"""`send`: files handed over to a receiver."""

from __future__ import annotations

import json
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from oak_ledge.cli.app import app
from oak_ledge.cli.folder import now, opened_at
from oak_ledge.cli.options import Data, Json
from oak_ledge.cli.trouble import CALL_IS_WRONG, SOME_FAILED, fail, or_fail, or_wrong_call

if TYPE_CHECKING:
    from oak_ledge.flows.sending.sendings import SendingView

# What is told of each file, for other programs.
_TOLD = {"file", "state", "reasons", "fixes", "tries", "receipt"}


@app.command()
def send(
    files: Annotated[list[Path], typer.Argument(metavar="FILE…")],
    to: Annotated[str, typer.Option(metavar="NAME", help="the receiver, or a word of its name")],
    again: Annotated[bool, typer.Option("--again", help="also what was accepted before")] = False,
    data: Data = None,
    as_json: Json = False,
) -> None:
    """Hand files over to a receiver, each once, and print a receipt for each.

    Its rules are asked first; what they refuse is not sent. What was accepted before is not sent again.
    Ends with 1 where a file was not accepted. For example: oak-ledge send quay_8x10.jpg --to lab
    """
    from oak_ledge.flows.receivers import receivers
    from oak_ledge.flows.sending.sendings import send_files

    same = [file.name for file in files]
    twice = next((name for name in same if same.count(name) > 1), None)
    if twice is not None:
        fail(CALL_IS_WRONG, f"two of these files are called {twice}; send them one after the other")
    workspace = opened_at(data)
    kept = or_wrong_call(lambda: receivers.called(workspace, to))

    if kept.rehearsing and not as_json:
        print(f"{kept.receiver.name} is rehearsed: files go to its stand-in.", flush=True)
    told: set[int] = set()

    def came(sending: SendingView) -> None:
        told.add(sending.id)
        if not as_json:
            print(f"{sending.file}: {_words(sending)}", flush=True)

    every = or_fail(lambda: send_files(workspace, kept, files, now, again=again, came=came))
    for sending in every:
        if sending.id not in told:  # the others were told as they came
            came(sending)
    if as_json:
        shown = [sending.model_dump(mode="json", include=_TOLD) for sending in every]
        print(json.dumps({"files": shown}, indent=2, ensure_ascii=False))
    if any(sending.state != "accepted" for sending in every):
        raise typer.Exit(SOME_FAILED)


def _words(sending: SendingView) -> str:
    if sending.state == "accepted":
        return sending.receipt or "accepted"
    fixes = f" ({'; '.join(sending.fixes)})" if sending.fixes else ""
    return f"{sending.state}: {'; '.join(sending.reasons)}{fixes}"
