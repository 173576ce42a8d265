"""`tally`: the arithmetic alone."""

from __future__ import annotations

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
    Photo,
    Quality,
    Quarter,
    SharpenOn,
    Sizes,
    Strength,
    ToProfile,
    Turn,
    WhenShapesDiffer,
)
from oak_ledge.cli.report import lines_of
from oak_ledge.cli.trouble import CALL_IS_WRONG, SOME_FAILED, fail
from oak_ledge.core.errors import CoreError
from oak_ledge.flows.commands import tell


@app.command()
def tally(
    photo: Photo,
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
    data: Data = None,
    as_json: Json = False,
) -> None:
    """Tell the arithmetic from photo to file on one size; nothing is made.

    For example: oak-ledge tally quay.jpg --size 21x29.7cm@300
    """
    every = asked_sizes(size, size_name, like, data)
    if len(every) > 1:
        fail(CALL_IS_WRONG, "tally tells of one size. Ask once for each")
    settings = file_settings(
        at_most,
        profile,
        no_location=no_location,
        format=file_format,
        quality=quality,
        metadata=metadata,
    )
    over = said_over(settings, turn, differ=differ, ground=ground) | said_of_drawing(
        method, sharpen_for, sharpen
    )
    asked = with_said(every[0], over)
    way = way_of(
        turn,
        centre,
        angle=angle,
        quarter=quarter,
        mirror=mirror,
        corners=corners_of(corners),
        fit=fit_corners,
        attempt=attempt,
        paint_over=paint_over,
    )
    try:
        answer = tell(photo, asked, way, config_of().limits)
    except CoreError as exc:
        fail(SOME_FAILED, f"{photo}: {exc}")
    print(answer.model_dump_json(indent=2) if as_json else "\n".join(lines_of(answer)))
