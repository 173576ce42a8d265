"""The `oak-ledge` command: thin functions over the flows that the pages use too."""

from __future__ import annotations

import sys
from datetime import UTC, datetime
from fractions import Fraction
from pathlib import Path
from typing import Annotated, Any, Literal, NoReturn

import typer
from pydantic import ValidationError
from typer._click import exceptions as calls  # typer's own errors of a call; it exports only some

from oak_ledge.config import Config
from oak_ledge.core.errors import CoreError
from oak_ledge.core.size_text import read_size
from oak_ledge.core.sizes import FileFormat, FileSettings, Size
from oak_ledge.core.units import rounded
from oak_ledge.flows.commands import MadeFile, Outcome, Told, Way, make_all, tell

CALL_IS_WRONG = 2
SOME_FAILED = 1

app = typer.Typer(
    help="Prepares photographs for exact print sizes, frames, marketplaces and screens.",
    no_args_is_help=True,
    add_completion=False,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
)

TurnChoice = Literal["suit", "fixed", "wide", "tall"]
Photos = Annotated[list[Path], typer.Argument(metavar="PHOTO…", help="photo files")]
Photo = Annotated[Path, typer.Argument(metavar="PHOTO", help="a photo file")]
Sizes = Annotated[
    list[str],
    typer.Option("--size", metavar="EXPR", help="8x10in@300, 1200x1600px, 100%; repeatable"),
]
Turn = Annotated[TurnChoice | None, typer.Option(help="suit the photo, as written, or as said")]
Centre = Annotated[
    str | None, typer.Option(metavar="X,Y", help="where the crop's centre shall be, as shares 0…1")
]
Json = Annotated[bool, typer.Option("--json", help="print JSON for programs")]
Format = Annotated[FileFormat, typer.Option("--format", help="kind of file")]
Quality = Annotated[int, typer.Option(min=1, max=100, help="JPEG quality")]
Data = Annotated[Path | None, typer.Option(help="folder for originals, database and files")]
Host = Annotated[str | None, typer.Option(help="address to listen on [127.0.0.1]")]
Port = Annotated[int | None, typer.Option(min=1, max=65535, help="port to listen on [8000]")]


@app.command()
def demo(data: Data = None, host: Host = None, port: Port = None) -> None:
    """Seed a data folder with the demo when it is empty, then serve it."""
    _serve(_config(data=data, host=host, port=port), with_demo=True)


@app.command()
def serve(data: Data = None, host: Host = None, port: Port = None) -> None:
    """Serve a data folder."""
    _serve(_config(data=data, host=host, port=port), with_demo=False)


@app.command()
def make(
    photos: Photos,
    size: Sizes,
    turn: Turn = None,
    centre: Centre = None,
    file_format: Format = "jpeg",
    quality: Quality = 92,
    allow: Annotated[
        list[str], typer.Option(metavar="CODE", help="take the responsibility for a stop note")
    ] = [],  # noqa: B006 - typer copies it
    name: Annotated[str, typer.Option(metavar="PATTERN", help="file names")] = "{photo}_{size}",
    out: Annotated[Path, typer.Option(metavar="DIR", help="folder for the files")] = Path(),
    as_json: Json = False,
) -> None:
    """Make the file of every photo on every size, and measure each from disk.

    For example: oak-ledge make quay.jpg --size 8x10in@300 --out prints
    """
    settings = FileSettings(format=file_format, quality=quality, pattern=name)
    sizes = [_size(text, turn, settings) for text in size]
    outcome = make_all(
        photos, sizes, _way(turn, centre), out, allowed=frozenset(allow), most_pixels=_most_pixels()
    )
    if as_json:
        print(outcome.model_dump_json(indent=2))
    else:
        _report(outcome)
    if outcome.failed:
        raise typer.Exit(SOME_FAILED)


@app.command()
def tally(
    photo: Photo,
    size: Annotated[str, typer.Option("--size", metavar="EXPR", help="such as 8x10in@300")],
    turn: Turn = None,
    centre: Centre = None,
    file_format: Format = "jpeg",
    as_json: Json = False,
) -> None:
    """Tell the arithmetic from photo to file; nothing is made.

    For example: oak-ledge tally quay.jpg --size 21x29.7cm@300
    """
    asked = _size(size, turn, FileSettings(format=file_format))
    way = _way(turn, centre)
    try:
        told = tell(photo, asked, way, most_pixels=_most_pixels())
    except CoreError as exc:
        _fail(SOME_FAILED, f"{photo}: {exc}")
    print(told.model_dump_json(indent=2) if as_json else "\n".join(_lines(told)))


def _size(text: str, turn: TurnChoice | None, settings: FileSettings) -> Size:
    try:
        size = read_size(text)
    except CoreError as exc:
        _fail(CALL_IS_WRONG, str(exc))
    if turn in ("suit", "fixed"):
        size = size.model_copy(update={"turn": turn})
    return size.model_copy(update={"file": settings})


def _way(turn: TurnChoice | None, centre: str | None) -> Way:
    turned = turn if turn in ("wide", "tall") else None
    if centre is None:
        return Way(turned)
    try:
        x, y = (float(Fraction(part.strip())) for part in centre.split(","))
    except (ValueError, ZeroDivisionError):
        _fail(CALL_IS_WRONG, f"--centre {centre} is not two shares. Write it like --centre 0.5,0.4")
    if not (0 <= x <= 1 and 0 <= y <= 1):
        _fail(CALL_IS_WRONG, f"--centre {centre} lies outside the photo. Both must be from 0 to 1")
    return Way(turned, (x, y))


def _report(outcome: Outcome) -> None:
    for file in outcome.files:
        measured = file.measured
        ppi = "no ppi" if measured.ppi is None else f"{rounded(measured.ppi, 2)} ppi"
        print(
            f"{file.file}: {measured.width} × {measured.height} px, {ppi}, {measured.bytes} bytes"
        )
        print("\n".join(f"  {line}" for line in _lines(file)))
    for failed in outcome.failed:
        print(f"oak-ledge: {failed.photo}: {failed.reason}", file=sys.stderr)


def _lines(told: Told | MadeFile) -> list[str]:
    return [told.sentence, *(f"{note.level}: {note.text}" for note in told.notes)]


def _serve(config: Config, *, with_demo: bool) -> None:
    """Serve, once the address is ours. The web is imported here: making files needs none of it."""
    from oak_ledge.demo.fill import fill
    from oak_ledge.flows.sizes import add_starters
    from oak_ledge.flows.workspace import open_workspace
    from oak_ledge.web.serving import listen, serve

    try:
        listening = listen(config.host, config.port)
    except OSError as exc:
        place = f"{config.host}:{config.port}"
        why = exc.strerror or exc
        _fail(CALL_IS_WRONG, f"cannot listen on {place}: {why}. Choose another with --port")
    try:
        workspace = open_workspace(
            config.data,
            most_pixels=config.most_megapixels * 1_000_000,
            most_bytes=config.most_upload_mb * 1_000_000,
        )
    except OSError as exc:
        listening.close()
        _fail(CALL_IS_WRONG, f"{config.data} cannot be used as data folder: {exc.strerror or exc}")
    add_starters(workspace)
    if with_demo and fill(workspace, _now()):
        print("The demo was laid out.")
    serve(workspace, listening)


def _config(**given: Any) -> Config:
    try:
        return Config(**{name: value for name, value in given.items() if value is not None})
    except ValidationError as exc:
        first = exc.errors()[0]
        name = f"OAK_LEDGE_{first['loc'][0]}".upper()
        _fail(CALL_IS_WRONG, f"{name}={first['input']}: {first['msg']}")


def _most_pixels() -> int:
    return _config().most_megapixels * 1_000_000


def _now() -> datetime:
    return datetime.now(UTC)  # noqa: TID251 - the one clock of the command line


def _fail(code: int, text: str) -> NoReturn:
    print(f"oak-ledge: {text}", file=sys.stderr)
    raise typer.Exit(code)


def main(arguments: list[str] | None = None) -> NoReturn:
    """Run the command; known errors end as one plain line, never as a traceback."""
    command = typer.main.get_command(app)
    try:
        code = command.main(arguments, prog_name="oak-ledge", standalone_mode=False)
    except calls.NoArgsIsHelpError as exc:
        print(exc.format_message())
        code = 0
    except calls.ClickException as exc:
        told = exc.format_message().rstrip(".")
        print(f"oak-ledge: {told}. See oak-ledge --help.", file=sys.stderr)
        code = exc.exit_code
    except typer.Abort:
        print("oak-ledge: stopped", file=sys.stderr)
        code = SOME_FAILED
    sys.exit(code if isinstance(code, int) else 0)
