"""Run the command; known errors end as one plain line, never as a traceback."""

from __future__ import annotations

import sys
from io import TextIOWrapper
from typing import NoReturn

import typer
from typer._click import exceptions as calls

from oak_ledge.cli import make, serve, sheet, sizes, tally, watch, work  # noqa: F401 - each adds its command
from oak_ledge.cli.app import app
from oak_ledge.cli.sizes import library
from oak_ledge.cli.trouble import SOME_FAILED
from oak_ledge.core.pixels.process import settle_process

app.add_typer(library, name="sizes")


def main(arguments: list[str] | None = None) -> NoReturn:
    """Run the command; known errors end as one plain line, never as a traceback."""
    settle_process()
    command = typer.main.get_command(app)
    for stream in (sys.stdout, sys.stderr):  # a file's name may be no text that can be written
        if isinstance(stream, TextIOWrapper):
            stream.reconfigure(errors="replace")
    try:
        code = command.main(arguments, prog_name="oak-ledge", standalone_mode=False)
    except calls.NoArgsIsHelpError as exc:
        print(exc.format_message())
        code = 0
    except calls.ClickException as exc:
        words = exc.format_message().rstrip(".").replace("Value error, ", "")
        print(f"oak-ledge: {words}. See oak-ledge --help.", file=sys.stderr)
        code = exc.exit_code
    except typer.Abort:
        print("oak-ledge: stopped", file=sys.stderr)
        code = SOME_FAILED
    sys.exit(code if isinstance(code, int) else 0)
