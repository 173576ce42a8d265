"""The command itself; each of its commands stands in a file of `commands`."""

from __future__ import annotations

from typing import Annotated, NamedTuple

import typer

from oak_ledge import VERSION

app = typer.Typer(
    help="Prepares photographs for exact print sizes, frames, marketplaces and screens.",
    no_args_is_help=True,
    add_completion=False,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
)


def _tell_version(wanted: bool) -> None:
    if wanted:
        print(f"oak-ledge {VERSION}")
        raise typer.Exit


@app.callback()
def begin(
    version: Annotated[
        bool,
        typer.Option(
            "--version", help="say which version this is", callback=_tell_version, is_eager=True
        ),
    ] = False,
) -> None:
    """Prepare photographs for exact print sizes, frames, marketplaces and screens."""


class Command(NamedTuple):
    """Where a command stands, and what it is for: told without loading it."""

    file: str
    help: str
    hidden: bool = False
    """begun by the server, not by people"""
    draws: bool = True
    """whether it makes pictures, or only tells"""


# All commands, in the order they are told.
COMMANDS = {
    "make": Command(
        "make", "Make the file of every photo on every size, and measure each from disk."
    ),
    "tally": Command(
        "tally",
        "Print the arithmetic from photo to file on one size; nothing is made.",
        draws=False,
    ),
    "sheet": Command(
        "sheet",
        "Lay photos on sizes, all of them on sheets of a paper; or one photo to each cell of a face.",
    ),
    "sizes": Command("sizes", "The library of saved sizes.", draws=False),
    "watch": Command(
        "watch",
        "Make the files of every photo that is in a folder or arrives there, each once, until it is ended.",
    ),
    "receivers": Command(
        "receivers", "Who receives files: by what rules, by what way.", draws=False
    ),
    "send": Command(
        "receivers", "Hand files over to a receiver, each once, and print a receipt for each."
    ),
    "stand-in": Command(
        "stand_in",
        "Stand in for a receiver: a lab (SFTP), a marketplace (HTTP) or a sign (WebDAV), until it is ended.",
    ),
    "demo": Command("serve", "Seed a data folder with the demo when it is empty, then serve it."),
    "serve": Command("serve", "Serve a data folder."),
    "work": Command(
        "work", "Make files for a server: beside it, from its data folder, or on another machine."
    ),
    "backup": Command("backup", "Copy a data folder into one archive, also while its server runs."),
    "check": Command("check", "Look through a data folder, and mend what can be."),
    "stand": Command(
        "stand", "Follow a standing order of a data folder until it is ended.", hidden=True
    ),
}
