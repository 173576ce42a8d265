"""What can be said with several commands."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Literal

import typer

from oak_ledge.core.files.names import Sorting
from oak_ledge.core.marks.mark import PLACES, Place
from oak_ledge.core.sizes.choices import Differ, MetadataChoice, MethodChoice, SharpenFor
from oak_ledge.core.sizes.file.formats import FileFormat

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


MarkPath = Annotated[
    Path | None,
    typer.Option(
        "--mark", metavar="FILE", help="a logo or signature to lay over: PNG, WebP or SVG"
    ),
]
MarkAt = Annotated[
    Place,
    typer.Option("--mark-at", metavar="PLACE", help=f"one of {', '.join(PLACES)}"),
]
MarkWidth = Annotated[
    str, typer.Option("--mark-width", metavar="LEN|N%", help="a length, or of the short edge")
]
MarkMargin = Annotated[
    str, typer.Option("--mark-margin", metavar="LEN|N%", help="from the edges, likewise")
]
MarkOpacity = Annotated[str, typer.Option("--mark-opacity", metavar="N%", help="1 to 100 %")]


KeepZones = Annotated[
    list[str],
    typer.Option(
        "--keep-zone", metavar="X,Y,W,H", help="what must stay whole, in photo pixels; repeatable"
    ),
]


FaceOf = Annotated[
    str | None,
    typer.Option(
        "--face",
        metavar="EX,EY,EX,EY,CX,CY,TX,TY",
        help="both eyes, chin, crown in photo pixels upright [found, where a size asks for a head]",
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
        help="beyond the photo's edge: white, #rrggbb, blur, mirror, edge, continued, clear or picture:FILE [white]",
    ),
]


Attempt = Annotated[
    int,
    typer.Option(
        "--try",
        min=1,
        max=4,
        help="which of the continued grounds, or fills of what is painted over",
    ),
]


PaintOver = Annotated[
    Path | None,
    typer.Option(
        metavar="MASK.png",
        help="paint over what is light in a mask as large as the photo upright",
    ),
]


CutOutBy = Annotated[
    str | None,
    typer.Option(
        metavar="MASK.png|found",
        help="cut out what is light in a mask as large as the photo upright, or the subject found",
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


Bits = Annotated[
    int | None,
    typer.Option(
        "--bits", metavar="8|16", min=8, max=16, help="of each band, in PNG and TIFF [as the photo]"
    ),
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


Workers = Annotated[
    str | None, typer.Option(metavar="auto|N", help="workers of its own; 0: none, auto: one a core")
]


RedisQueue = Annotated[
    str | None,
    typer.Option(
        "--queue", metavar="redis://…", help="Redis through which other machines get work"
    ),
]


Token = Annotated[
    str | None,
    typer.Option(help="of workers on other machines [OAK_LEDGE_TOKEN, or made and shown]"),
]


Allow = Annotated[
    list[str], typer.Option(metavar="CODE", help="take the responsibility for a stop note")
]


By = Annotated[Sorting | None, typer.Option(help="sub-folders of DIR the files stand in [none]")]
