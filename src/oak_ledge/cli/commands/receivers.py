"""`receivers`: who files go to, by what rules, by what way; `send`: files handed over to one."""

from __future__ import annotations

import json
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from oak_ledge.cli.app import app
from oak_ledge.cli.folder import now, opened_at
from oak_ledge.cli.options import Data, Json
from oak_ledge.cli.text_file import read_text, write_new
from oak_ledge.cli.trouble import CALL_IS_WRONG, SOME_FAILED, fail, or_fail, or_wrong_call
from oak_ledge.core.receivers.receiver import MOST_BYTES

if TYPE_CHECKING:
    from oak_ledge.flows.sending.sendings import SendingView

kept = typer.Typer(help="Who receives files: by what rules, by what way.", no_args_is_help=True)
app.add_typer(kept, name="receivers")

Name = Annotated[str, typer.Argument(metavar="NAME", help="its name, or a word of it")]


@kept.command("list")
def list_receivers(data: Data = None, as_json: Json = False) -> None:
    """List the receivers: what each takes, and how files get there."""
    from oak_ledge.flows.receivers import receivers

    workspace = opened_at(data)
    if as_json:
        print(or_fail(lambda: receivers.export(workspace)))
        return
    for receiver in or_fail(lambda: receivers.every(workspace)):
        rehearsed = " Rehearsed: files go to its stand-in." if receiver.rehearsing else ""
        print(f"{receiver.name}: {receiver.sentence} {receiver.way_words}.{rehearsed}")


@kept.command("add")
def add_receivers(
    file: Annotated[Path, typer.Argument(metavar="FILE.json", help="one receiver, or a list")],
    replace: Annotated[bool, typer.Option(help="in place of those of the same name")] = False,
    data: Data = None,
) -> None:
    """Keep the receivers of a file, all of them or none.

    A secret is named in it, as env:NAME or keyring:NAME, and never written.
    """
    from oak_ledge.flows.receivers import receivers

    text = read_text(file, MOST_BYTES, CALL_IS_WRONG)
    workspace = opened_at(data)
    for receiver in or_fail(
        lambda: receivers.take_in(workspace, text, replace=replace), CALL_IS_WRONG
    ):
        print(f"{receiver.name}: {receiver.sentence} {receiver.way_words}.")


@kept.command("remove")
def remove_receiver(name: Name, data: Data = None) -> None:
    """Delete a receiver; what it received stays on record."""
    from oak_ledge.flows.receivers import receivers

    workspace = opened_at(data)
    gone = or_wrong_call(lambda: receivers.called(workspace, name))
    print(f"deleted {or_fail(lambda: receivers.delete(workspace, gone.id, now())).name}")


@kept.command("export")
def export_receivers(
    file: Annotated[Path, typer.Argument(metavar="FILE.json")], data: Data = None
) -> None:
    """Write all receivers to a new file; no secret is in it."""
    from oak_ledge.flows.receivers import receivers

    workspace = opened_at(data)
    write_new(file, or_fail(lambda: receivers.export(workspace)))


@kept.command("check")
def check_files(
    name: Name,
    files: Annotated[list[Path], typer.Argument(metavar="FILE…")],
    data: Data = None,
    as_json: Json = False,
) -> None:
    """Check whether a receiver would accept files; nothing is sent. Ends with 1 where one would not be.

    For example: oak-ledge receivers check lab quay_8x10.jpg
    """
    from oak_ledge.core.pixels.process_setup import settle_process
    from oak_ledge.core.receivers.way import SftpWay
    from oak_ledge.flows.receivers import check, receivers

    settle_process()
    workspace = opened_at(data)
    receiver = or_wrong_call(lambda: receivers.called(workspace, name))
    way = receiver.receiver.way
    if isinstance(way, SftpWay) and way.host_key is None and not receiver.rehearsing:
        from oak_ledge.receivers.sftp import refuse_unknown

        or_fail(lambda: refuse_unknown(way), CALL_IS_WRONG)
    every = [answer for _, answer, _ in check.check_files(receiver.receiver, files)]
    if as_json:
        shown = [file.model_dump(mode="json", exclude=_OF_DELIVERIES) for file in every]
        print(json.dumps({"files": shown}, indent=2, ensure_ascii=False))
    for file in [] if as_json else every:
        words = "; ".join(file.reasons) or "would be accepted"
        fixes = f" ({'; '.join(file.fixes)})" if file.fixes else ""
        print(f"{file.file}: {words}{fixes}")
    if any(file.state != "accepted" for file in every):
        raise typer.Exit(SOME_FAILED)


# What is said only of a delivery's files.
_OF_DELIVERIES = {"file_id", "placement_id"}


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
    if sending.state == "waiting":
        return "not sent: the receiver is paused. Go on with it, then send again"
    fixes = f" ({'; '.join(sending.fixes)})" if sending.fixes else ""
    return f"{sending.state}: {'; '.join(sending.reasons)}{fixes}"
