"""The `oak-ledge` command: thin functions over the flows that the pages use too."""

from __future__ import annotations

import json
import os
import signal
import sys
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from dataclasses import replace
from datetime import UTC, datetime
from functools import partial
from io import TextIOWrapper
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, Literal, NoReturn, TypeVar, get_args
from uuid import uuid4

import typer
from filelock import FileLock, Timeout
from pydantic import ValidationError
from typer._click import exceptions as calls  # typer's own errors of a call; it exports only some

from oak_ledge.config import Config
from oak_ledge.core.errors import CoreError, PlacementError
from oak_ledge.core.files.names import Sorting
from oak_ledge.core.measures.bytes import read_bytes
from oak_ledge.core.measures.numbers import clipped, read_number, rounded
from oak_ledge.core.pixels.process import settle_process
from oak_ledge.core.placements.placement import Corners
from oak_ledge.core.planes.matrices import check_quad
from oak_ledge.core.sizes.choices import (
    Differ,
    FileFormat,
    Group,
    MetadataChoice,
    MethodChoice,
    Profile,
    SharpenFor,
)
from oak_ledge.core.sizes.file_settings import DEFAULT_PATTERN
from oak_ledge.core.sizes.profile_file import receiver_profile
from oak_ledge.core.sizes.size import Size, like_photo, size_from
from oak_ledge.core.sizes.text.exchange import MOST_BYTES
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.flows.commands import MadeFile, Outcome, Told, Way, look, make_all, tell
from oak_ledge.store.errors import StoreError, disk_words

if TYPE_CHECKING:
    from oak_ledge.flows.delivery.queue import Queue
    from oak_ledge.flows.workspace import Workspace

T = TypeVar("T")
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
UntilInputEnds = Annotated[
    bool, typer.Option("--until-input-ends", hidden=True, help="end when standard input does")
]
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
Angle = Annotated[
    float, typer.Option(min=-180, max=180, help="degrees the crop is turned clockwise on the photo")
]
Quarter = Annotated[int, typer.Option(min=0, max=3, help="quarter turns of the photo, clockwise")]
Mirror = Annotated[bool, typer.Option("--mirror", help="flip the photo left to right")]
FourCorners = Annotated[
    str | None,
    typer.Option(
        "--corners", metavar="X,Y,X,Y,X,Y,X,Y", help="square up: clockwise from top left, in pixels"
    ),
]
FitCorners = Annotated[
    bool,
    typer.Option("--fit-corners", help="the corners become the size's own ratio, whatever it is"),
]
Json = Annotated[bool, typer.Option("--json", help="print JSON for programs")]
Names = Annotated[
    list[str], typer.Option("--size-name", metavar="NAME", help="a saved size; repeatable")
]
Like = Annotated[
    list[Path], typer.Option("--like", metavar="PHOTO", help="the size of another; repeatable")
]
WhenShapesDiffer = Annotated[
    Differ | None, typer.Option("--differ", help="when the photo has another shape [trim]")
]
Ground = Annotated[
    str | None,
    typer.Option(
        metavar="GROUND",
        help="beyond the photo's edge: white, #rrggbb, blur, mirror or edge [white]",
    ),
]
Kernel = Annotated[MethodChoice | None, typer.Option("--method", help="resampling [auto]")]
SharpenOn = Annotated[
    SharpenFor | None, typer.Option("--sharpen-for", help="what it is looked at on [off]")
]
Strength = Annotated[
    int | None, typer.Option("--sharpen", min=0, max=100, help="strength [by ppi and distance]")
]
Format = Annotated[FileFormat | None, typer.Option("--format", help="kind of file [jpeg]")]
Quality = Annotated[int | None, typer.Option(min=1, max=100, help="JPEG quality [92]")]
AtMost = Annotated[
    str | None, typer.Option(metavar="BYTES", help="greatest bytes of a file: 500kB, 4MB")
]
Keep = Annotated[
    MetadataChoice | None, typer.Option("--metadata", help="what the file tells of itself [keep]")
]
NoLocation = Annotated[bool, typer.Option("--no-location", help="leave out where it was taken")]
ToProfile = Annotated[
    str | None,
    typer.Option(
        metavar="keep|srgb|p3|grey|FILE", help="colour profile, or the receiver's .icc file [keep]"
    ),
]
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
def work(
    data: Data = None,
    called: Annotated[
        str | None, typer.Option(hidden=True, help="the name it claims files under")
    ] = None,
    until_input_ends: UntilInputEnds = False,
) -> None:
    """Make files for a server of this data folder; it starts as many as it has cores itself."""
    from oak_ledge.flows.delivery.workshop import make_what_waits
    from oak_ledge.web.workers import end_with_parent, say_alive

    config = _config(data=data)
    workspace, name = _opened(config), called or uuid4().hex
    if until_input_ends:
        end_with_parent()

    def make() -> None:
        try:
            make_what_waits(workspace, name, _now)
        except StoreError as exc:  # what it was at goes back once its lease ends
            print(f"oak-ledge: {exc}", file=sys.stderr)

    queue = _queue(config, workspace, make)
    say_alive(workspace, name, _now)
    queue.work()


@app.command()
def make(
    photos: Photos,
    size: Sizes = [],  # noqa: B006 - typer copies it
    size_name: Names = [],  # noqa: B006
    like: Like = [],  # noqa: B006
    differ: WhenShapesDiffer = None,
    ground: Ground = None,
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
    settings = _settings(
        at_most,
        profile,
        no_location=no_location,
        format=file_format,
        quality=quality,
        metadata=metadata,
    ) | ({"pattern": name} if name else {})
    over = _over(settings, turn, differ=differ, ground=ground) | _drawn(
        method, sharpen_for, sharpen
    )
    sizes = [_with(one, over) for one in _asked(size, size_name, like, data)]
    shows = sys.stderr.isatty() and not as_json

    def came(done: int) -> None:
        if shows:
            print(f"\r{done} of {len(photos) * len(sizes)}", end="", file=sys.stderr, flush=True)

    outcome = make_all(
        photos,
        sizes,
        _way(
            turn,
            centre,
            angle=angle,
            quarter=quarter,
            mirror=mirror,
            corners=_corners(corners),
            fit=fit_corners,
        ),
        out,
        _config().limits,
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
        _report(outcome)
    if outcome.failed:
        raise typer.Exit(SOME_FAILED)


@app.command()
def tally(
    photo: Photo,
    size: Sizes = [],  # noqa: B006 - typer copies it
    size_name: Names = [],  # noqa: B006
    like: Like = [],  # noqa: B006
    differ: WhenShapesDiffer = None,
    ground: Ground = None,
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
    data: Data = None,
    as_json: Json = False,
) -> None:
    """Tell the arithmetic from photo to file on one size; nothing is made.

    For example: oak-ledge tally quay.jpg --size 21x29.7cm@300
    """
    every = _asked(size, size_name, like, data)
    if len(every) > 1:
        _fail(CALL_IS_WRONG, "tally tells of one size. Ask once for each")
    settings = _settings(
        at_most,
        profile,
        no_location=no_location,
        format=file_format,
        quality=quality,
        metadata=metadata,
    )
    over = _over(settings, turn, differ=differ, ground=ground) | _drawn(
        method, sharpen_for, sharpen
    )
    asked = _with(every[0], over)
    way = _way(
        turn,
        centre,
        angle=angle,
        quarter=quarter,
        mirror=mirror,
        corners=_corners(corners),
        fit=fit_corners,
    )
    try:
        told = tell(photo, asked, way, _config().limits)
    except CoreError as exc:
        _fail(SOME_FAILED, f"{photo}: {exc}")
    print(told.model_dump_json(indent=2) if as_json else "\n".join(_lines(told)))


library = typer.Typer(help="The library of saved sizes.", no_args_is_help=True)
app.add_typer(library, name="sizes")


@library.command("list")
def list_sizes(data: Data = None, as_json: Json = False) -> None:
    """List the saved sizes by group."""
    from oak_ledge.flows.library import sizes

    every = _told(lambda: sizes.every(_workspace(data)))
    if as_json:
        print(json.dumps([one.model_dump(mode="json") for one in every], indent=2))
        return
    for one in every:
        print(f"{one.group}: {one.name}: {one.text}")


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

    _read(text)
    asked = views.SizeAsked(text=text, name=name, group=group)
    kept = _told(lambda: sizes.add(_workspace(data), asked))
    print(f"{kept.group}: {kept.name}: {kept.text}")


@library.command("remove")
def remove_size(
    name: Annotated[str, typer.Argument(metavar="NAME", help="its name")], data: Data = None
) -> None:
    """Delete a saved size; jobs that took it keep their copies."""
    from oak_ledge.flows.library import sizes

    gone = _told(lambda: sizes.delete_named(_workspace(data), name, _now()))
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
    text = _told(lambda: sizes.export(_workspace(data), kind))
    try:
        with file.open("x", encoding="utf-8", newline="") as out:
            out.write(text)
    except FileExistsError:
        _fail(SOME_FAILED, f"{file} is there already and is not written over. Choose another name")
    except OSError as exc:
        _fail(SOME_FAILED, f"{file} cannot be written: {exc.strerror or exc}")


@library.command("import")
def import_sizes(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="JSON or CSV")],
    only_tell: Annotated[bool, typer.Option(help="report, and keep nothing")] = False,
    data: Data = None,
) -> None:
    """Take a library in: all of it or nothing. Sizes that are here already are passed over."""
    from oak_ledge.flows.library import sizes

    try:
        if file.stat().st_size > MOST_BYTES:
            _fail(SOME_FAILED, f"{file} is larger than {MOST_BYTES // 1_000_000} MB; no library is")
        text = file.read_text(encoding="utf-8", errors="replace")
    except OSError as exc:
        _fail(SOME_FAILED, f"{file} cannot be read: {exc.strerror or exc}")
    told = _told(lambda: sizes.take_in(_workspace(data), text, only_tell=only_tell))
    for name in told.added:
        print(f"new: {name}")
    for name in told.same:
        print(f"same: {name}")
    for old, new in told.renamed:
        print(f"renamed: {old} → {new}")


def _read(text: str) -> Size:
    try:
        return read_size(text)
    except CoreError as exc:
        _fail(CALL_IS_WRONG, str(exc))


def _saved(names: list[str], data: Path | None) -> list[Size]:
    if not names:
        return []
    from oak_ledge.flows.library import sizes

    workspace = _workspace(data)
    return [_told(partial(sizes.named, workspace, name), CALL_IS_WRONG) for name in names]


def _like(path: Path) -> Size:
    try:
        facts = look(path, _config().limits)
    except CoreError as exc:
        _fail(CALL_IS_WRONG, f"--like {path}: {exc}")
    return like_photo(path.stem, facts.held, facts.ppi)


def _asked(texts: list[str], names: list[str], like: list[Path], data: Path | None) -> list[Size]:
    """Gather the sizes a call asks for; at least one."""
    asked = [_read(text) for text in texts]
    asked += _saved(names, data)
    asked += [_like(path) for path in like]
    if not asked:
        _fail(CALL_IS_WRONG, "no size was asked for. Say --size 8x10in@300, --size-name or --like")
    return asked


def _settings(
    at_most: str | None, profile: str | None, *, no_location: bool, **said: Any
) -> dict[str, Any]:
    """Gather what a call says of the file; the rest stays as the size has it."""
    if at_most is not None:
        said["at_most"] = _told(lambda: read_bytes(at_most), CALL_IS_WRONG)
    if no_location:
        said["location"] = False
    told = {key: value for key, value in said.items() if value is not None}
    return told if profile is None else told | _profile(profile)


def _profile(said: str) -> dict[str, Any]:
    """Read the profile a call names: a word, or the path of the receiver's profile file."""
    if said in get_args(Profile) and said != "receiver":
        return {"profile": said, "icc": None}
    path = Path(said)
    if not path.is_file():
        _fail(
            CALL_IS_WRONG,
            f"“{said}” is neither keep, srgb, p3, grey nor a file. Write --profile srgb, or the "
            "path of the receiver's .icc file",
        )
    icc = _told(lambda: receiver_profile(path.stem, path.read_bytes()), CALL_IS_WRONG)
    return {"profile": "receiver", "icc": icc}


def _over(file: dict[str, Any], turn: TurnChoice | None, **said: str | None) -> dict[str, Any]:
    """Gather what a call puts over every size."""
    told = said | {"turn": turn if turn in ("suit", "fixed") else None}
    return {key: value for key, value in told.items() if value is not None} | {"file": file}


def _drawn(
    method: MethodChoice | None, sharpen_for: SharpenFor | None, sharpen: int | None
) -> dict[str, Any]:
    """Gather how pixels shall be drawn; a strength alone sharpens for a smooth surface."""
    if sharpen and sharpen_for is None:
        sharpen_for = "smooth"
    told = {"method": method, "sharpen_for": sharpen_for, "sharpen": sharpen}
    return {key: value for key, value in told.items() if value is not None}


def _with(size: Size, over: dict[str, Any]) -> Size:
    """Put what the call says over a size."""
    file = dict(size.file) | over["file"]
    return _told(lambda: size_from(dict(size) | over | {"file": file}), CALL_IS_WRONG)


def _told(do: Callable[[], T], code: int = SOME_FAILED) -> T:
    """Do something, and end with its own words where it cannot be done."""
    try:
        return do()
    except CoreError as exc:
        _fail(code, str(exc))
    except (StoreError, OSError) as exc:
        _fail(SOME_FAILED, _store_words(exc))


def _way(turn: TurnChoice | None, centre: str | None, **lying: Any) -> Way:
    turned = turn if turn in ("wide", "tall") else None
    if centre is None:
        return Way(turned, **lying)
    try:
        x, y = (float(read_number(part)) for part in centre.split(","))
    except ValueError:
        _fail(
            CALL_IS_WRONG,
            f"--centre {clipped(centre)} is not two shares. Write it like --centre 0.5,0.4",
        )
    if not (0 <= x <= 1 and 0 <= y <= 1):
        _fail(
            CALL_IS_WRONG,
            f"--centre {clipped(centre)} lies outside the photo. Both must be from 0 to 1",
        )
    return Way(turned, (x, y), **lying)


def _corners(text: str | None) -> Corners | None:
    if text is None:
        return None
    try:
        values = [float(part) for part in text[:400].split(",")]
        nw, ne, se, sw = zip(values[::2], values[1::2], strict=True)
        check_quad([nw, ne, se, sw])
    except PlacementError as exc:
        _fail(CALL_IS_WRONG, f"--corners {clipped(text)}: {exc}")
    except ValueError:
        how = "Write eight numbers like --corners 10,20,900,15,910,600,5,590"
        _fail(CALL_IS_WRONG, f"--corners {clipped(text)} are not four points. {how}")
    return nw, ne, se, sw


def _report(outcome: Outcome) -> None:
    for file in outcome.files:
        measured = file.measured
        ppi = "no ppi" if measured.ppi is None else f"{rounded(measured.ppi, 2)} ppi"
        print(
            f"{file.file}: {measured.width} × {measured.height} px, {ppi}, {measured.bytes} bytes"
        )
        print("\n".join(f"  {line}" for line in _lines(file)))
    for skipped in outcome.skipped:
        print(f"{skipped.file}: there already, and measures as asked")
    for failed in outcome.failed:
        print(f"oak-ledge: {failed.photo}: {failed.reason}", file=sys.stderr)


def _lines(told: Told | MadeFile) -> list[str]:
    return [told.sentence, *(f"{note.level}: {note.text}" for note in told.notes)]


def _serve(config: Config, *, with_demo: bool) -> None:
    """Serve, once the address is ours. The web is imported here: making files needs none of it."""
    from oak_ledge.demo.fill import fill
    from oak_ledge.flows.jobs.jobs import clean_up
    from oak_ledge.flows.library.sizes import add_starters
    from oak_ledge.flows.workspace import recover
    from oak_ledge.web.guards import EVERY_ADDRESS
    from oak_ledge.web.serving import listen, serve
    from oak_ledge.web.workers import Workers

    hosts = [name.strip() for name in config.allowed_hosts.split(",") if name.strip()]
    if config.host in EVERY_ADDRESS and not hosts:
        _fail(
            CALL_IS_WRONG,
            f"--host {config.host} listens on every address, so say under which names it may be "
            "asked: OAK_LEDGE_ALLOWED_HOSTS=studio.local,192.168.1.20",
        )
    try:
        listening = listen(config.host, config.port)
    except OSError as exc:
        place = f"{config.host}:{config.port}"
        why = exc.strerror or exc
        _fail(CALL_IS_WRONG, f"cannot listen on {place}: {why}. Choose another with --port")
    with closing(listening), _alone(config.data):
        workspace = _opened(config)
        queue = _queue(config, workspace)
        try:
            recover(workspace)
            clean_up(workspace, _now())
            add_starters(workspace)
            if with_demo and fill(workspace, _now()):
                print("The demo was laid out.")
        except (StoreError, OSError) as exc:
            _fail(CALL_IS_WRONG, _store_words(exc))
        workspace = replace(workspace, ask=queue.ask)
        workers = Workers(workspace, config.workers or os.cpu_count() or 1, _now)
        workers.start()
        signal.signal(signal.SIGTERM, lambda *_: sys.exit())  # so that `finally` is done
        try:
            serve(workspace, listening, [config.host, *hosts])
        finally:
            workers.stop()


@contextmanager
def _alone(data: Path) -> Iterator[None]:
    """Be the only server of a data folder: two would take each other's work for lost."""
    lock = FileLock(data / "server.lock")
    try:
        data.mkdir(parents=True, exist_ok=True)
        lock.acquire(timeout=2)  # one that is just being ended lets go soon
    except Timeout:
        _fail(CALL_IS_WRONG, f"{data} is served already. Use that server, or choose another --data")
    except OSError as exc:
        _fail(CALL_IS_WRONG, f"{data} cannot be used as data folder: {exc.strerror or exc}")
    try:
        yield
    finally:
        lock.release()


def _opened(config: Config) -> Workspace:
    from oak_ledge.flows.workspace import open_workspace

    try:
        return open_workspace(config.data, config.limits, config.folder)
    except OSError as exc:
        _fail(CALL_IS_WRONG, f"{config.data} cannot be used as data folder: {exc.strerror or exc}")
    except StoreError as exc:
        _fail(CALL_IS_WRONG, str(exc))


def _queue(config: Config, workspace: Workspace, make_next: Callable[[], object] = bool) -> Queue:
    from oak_ledge.flows.delivery.queue import open_queue

    try:
        return open_queue(workspace.data, config.queue, make_next)
    except StoreError as exc:
        _fail(CALL_IS_WRONG, str(exc))


def _store_words(exc: StoreError | OSError) -> str:
    return str(exc) if isinstance(exc, StoreError) else disk_words(exc)


def _workspace(data: Path | None) -> Workspace:
    """Open the data folder for one command; a new library begins with the usual sizes."""
    from oak_ledge.flows.library.sizes import add_starters

    workspace = _opened(_config(data=data))
    _told(lambda: add_starters(workspace))
    return workspace


def _config(**given: Any) -> Config:
    try:
        return Config(**{name: value for name, value in given.items() if value is not None})
    except ValidationError as exc:
        first = exc.errors()[0]
        name = f"OAK_LEDGE_{first['loc'][0]}".upper()
        _fail(CALL_IS_WRONG, f"{name}={first['input']}: {first['msg']}")


def _now() -> datetime:
    return datetime.now(UTC)  # noqa: TID251 - the one clock of the command line


def _fail(code: int, text: str) -> NoReturn:
    print(f"oak-ledge: {text}", file=sys.stderr)
    raise typer.Exit(code)


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
        told = exc.format_message().rstrip(".").replace("Value error, ", "")
        print(f"oak-ledge: {told}. See oak-ledge --help.", file=sys.stderr)
        code = exc.exit_code
    except typer.Abort:
        print("oak-ledge: stopped", file=sys.stderr)
        code = SOME_FAILED
    sys.exit(code if isinstance(code, int) else 0)
