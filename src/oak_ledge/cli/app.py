"""The command itself; each of its commands stands in a file of its name."""

from __future__ import annotations

import typer

app = typer.Typer(
    help="Prepares photographs for exact print sizes, frames, marketplaces and screens.",
    no_args_is_help=True,
    add_completion=False,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
)
