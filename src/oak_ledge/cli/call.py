"""A call of the command, from its words to its code."""

from __future__ import annotations

import gc
import os
import sys
from copy import copy
from importlib import import_module
from io import TextIOWrapper
from typing import NoReturn

import typer
from typer._click import exceptions as calls

from oak_ledge.cli.app import COMMANDS, app
from oak_ledge.cli.trouble import SOME_FAILED
from oak_ledge.core.errors import OakLedgeError


def call(arguments: list[str] | None) -> NoReturn:
    """Run the command; known errors end as one plain line, never as a traceback."""
    given = sys.argv[1:] if arguments is None else arguments
    command = typer.main.get_command(
        _with(next((argument for argument in given if argument in COMMANDS), None))
    )
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
    except OakLedgeError as exc:  # what no command had a word of its own for
        print(f"oak-ledge: {exc}", file=sys.stderr)
        code = SOME_FAILED
    except typer.Abort:
        print("oak-ledge: stopped", file=sys.stderr)
        code = SOME_FAILED
    sys.exit(code if isinstance(code, int) else 0)


def _with(called: str | None) -> typer.Typer:
    """Return the command with all of its commands by name, but only the one that is called loaded."""
    if called is not None:
        if COMMANDS[called].draws:
            from oak_ledge.core.pixels.process_setup import settle_process

            settle_process()
        # else every package there is is asked whether it plugs into pydantic, which takes its time
        os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
        import_module(f"oak_ledge.cli.commands.{COMMANDS[called].file}")
        gc.freeze()
    gc.enable()  # off since `main`
    there = {
        command.name or getattr(command.callback, "__name__", "")
        for command in app.registered_commands
    }
    there |= {group.name or "" for group in app.registered_groups}
    whole, others = copy(app), typer.Typer()
    for name, command in COMMANDS.items():
        if name not in there:
            others.command(name, help=command.help, hidden=command.hidden)(_not_loaded)
    whole.registered_commands = [*app.registered_commands, *others.registered_commands]
    return whole


def _not_loaded() -> None:
    """Stand for a command in the list of them."""
