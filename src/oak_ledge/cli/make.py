"""`make`: the file of every photo on every size."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Annotated

import typer

from oak_ledge.cli.app import app
from oak_ledge.cli.asked import (
    asked_sizes,
    corners_of,
    file_settings,
    said_of_drawing,
    said_over,
    way_of,
    with_said,
)
from oak_ledge.cli.folder import config_of
from oak_ledge.cli.options import (
    Angle,
    AtMost,
    Attempt,
    Centre,
    Data,
    FitCorners,
    Format,
    FourCorners,
    Ground,
    Json,
    Keep,
    Kernel,
    Like,
    Mirror,
    Names,
    NoLocation,
    PaintOver,
    Photos,
    Quality,
    Quarter,
    SharpenOn,
    Sizes,
    Strength,
    ToProfile,
    Turn,
    WhenShapesDiffer,
)
from oak_ledge.cli.report import report
from oak_ledge.cli.trouble import SOME_FAILED
from oak_ledge.core.files.names import Sorting
from oak_ledge.core.sizes.file_settings import DEFAULT_PATTERN
from oak_ledge.flows.commands import make_all


@app.command()
def make(
    photos: Photos,
    size: Sizes = [],  # noqa: B006 - typer copies it
    size_name: Names = [],  # noqa: B006
    like: Like = [],  # noqa: B006
    differ: WhenShapesDiffer = None,
    ground: Ground = None,
    attempt: Attempt = 1,
    paint_over: PaintOver = None,
    turn: Turn = None,
    centre: Centre = None,
    angle: Angle = 0.0,
    quarter: Quarter = 0,
    mirror: Mirror = False,
    corners: FourCorners = None,
    fit_corners: FitCorners = False,
    method: Kernel = None,
    sharpen_for: SharpenOn = None,
    sharpen: Strength = None,
    file_format: Format = None,
    quality: Quality = None,
    at_most: AtMost = None,
    profile: ToProfile = None,
    metadata: Keep = None,
    no_location: NoLocation = False,
    allow: Annotated[
        list[str], typer.Option(metavar="CODE", help="take the responsibility for a stop note")
    ] = [],  # noqa: B006
    name: Annotated[
        str | None, typer.Option(metavar="PATTERN", help=f"file names [{DEFAULT_PATTERN}]")
    ] = None,
    out: Annotated[Path, typer.Option(metavar="DIR", help="folder for the files")] = Path(),
    by: Annotated[
        Sorting | None, typer.Option(help="sub-folders of DIR the files stand in [none]")
    ] = None,
    skip_made: Annotated[
        bool,
        typer.Option("--skip-made", help="leave files that are there and measure as asked"),
    ] = False,
    data: Data = None,
    as_json: Json = False,
) -> None:
    """Make the file of every photo on every size, and measure each from disk.

    For example: oak-ledge make quay.jpg --size 8x10in@300 --out prints
    """
    settings = file_settings(
        at_most,
        profile,
        no_location=no_location,
        format=file_format,
        quality=quality,
        metadata=metadata,
    ) | ({"pattern": name} if name else {})
    over = said_over(settings, turn, differ=differ, ground=ground) | said_of_drawing(
        method, sharpen_for, sharpen
    )
    sizes = [with_said(one, over) for one in asked_sizes(size, size_name, like, data)]
    shows = sys.stderr.isatty() and not as_json

    def came(done: int) -> None:
        if shows:
            print(f"\r{done} of {len(photos) * len(sizes)}", end="", file=sys.stderr, flush=True)

    outcome = make_all(
        photos,
        sizes,
        way_of(
            turn,
            centre,
            angle=angle,
            quarter=quarter,
            mirror=mirror,
            corners=corners_of(corners),
            fit=fit_corners,
            attempt=attempt,
            paint_over=paint_over,
        ),
        out,
        config_of().limits,
        allowed=frozenset(allow),
        by=by or "none",
        skip_made=skip_made,
        came=came,
    )
    if shows:
        print("\r", end="", file=sys.stderr)
    if as_json:
        print(outcome.model_dump_json(indent=2))
    else:
        report(outcome)
    if outcome.failed:
        raise typer.Exit(SOME_FAILED)
