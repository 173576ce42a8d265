"""`sizes`: the library of saved sizes."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated, Literal

import typer

from oak_ledge.cli.app import app
from oak_ledge.cli.folder import now, workspace_at
from oak_ledge.cli.options import Data, Json
from oak_ledge.cli.size_options import read_or_fail
from oak_ledge.cli.text_file import read_text, write_new
from oak_ledge.cli.trouble import SOME_FAILED, or_fail
from oak_ledge.core.sizes.choices import Group
from oak_ledge.core.sizes.text.exchange import MOST_BYTES

library = typer.Typer(help="The library of saved sizes.", no_args_is_help=True)
app.add_typer(library, name="sizes")


@library.command("list")
def list_sizes(data: Data = None, as_json: Json = False) -> None:
    """List the saved sizes by group."""
    from oak_ledge.flows.library import sizes

    every = or_fail(lambda: sizes.every(workspace_at(data)))
    if as_json:
        print(json.dumps([saved.model_dump(mode="json") for saved in every], indent=2))
        return
    for saved in every:
        print(f"{saved.group}: {saved.name}: {saved.text}")


@library.command("add")
def add_size(
    text: Annotated[str, typer.Argument(metavar="EXPR", help="such as 8x10in@300")],
    name: Annotated[str, typer.Option(metavar="NAME", help="what it is called")] = "",
    group: Annotated[Group, typer.Option(help="where it stands in the library")] = "own",
    data: Data = None,
) -> None:
    """Save a size.

    For example: oak-ledge sizes add 8x10in@300 --name "Wall print" --group print
    """
    from oak_ledge.flows.library import sizes, views

    read_or_fail(text)
    body = views.SizeBody(text=text, name=name, group=group)
    kept = or_fail(lambda: sizes.add(workspace_at(data), body))
    print(f"{kept.group}: {kept.name}: {kept.text}")


@library.command("remove")
def remove_size(
    name: Annotated[str, typer.Argument(metavar="NAME", help="its name")], data: Data = None
) -> None:
    """Delete a saved size; jobs that took it keep their copies."""
    from oak_ledge.flows.library import sizes

    gone = or_fail(lambda: sizes.delete_named(workspace_at(data), name, now()))
    used = f"; {len(gone.used_in)} jobs keep their copies" if gone.used_in else ""
    print(f"deleted {gone.name}: {gone.text}{used}")


@library.command("export")
def export_sizes(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="ending .json or .csv")],
    data: Data = None,
) -> None:
    """Write the library to a new file, as JSON or CSV by its ending."""
    from oak_ledge.flows.library import sizes

    kind: Literal["json", "csv"] = "csv" if file.suffix.lower() == ".csv" else "json"
    write_new(file, or_fail(lambda: sizes.export(workspace_at(data), kind)))


@library.command("import")
def import_sizes(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="JSON or CSV")],
    only_tell: Annotated[bool, typer.Option(help="report, and keep nothing")] = False,
    data: Data = None,
) -> None:
    """Take a library in: all of it or nothing. Sizes that are here already are passed over."""
    from oak_ledge.flows.library import sizes

    text = read_text(file, MOST_BYTES, SOME_FAILED, "; no library is")
    answer = or_fail(lambda: sizes.take_in(workspace_at(data), text, only_tell=only_tell))
    for name in answer.added:
        print(f"new: {name}")
    for name in answer.same:
        print(f"same: {name}")
    for old, new in answer.renamed:
        print(f"renamed: {old} → {new}")
