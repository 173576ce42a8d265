"""What every command that makes files is told alike: sizes, how photos lie, how files are written."""

from __future__ import annotations

import inspect
from collections.abc import Callable
from dataclasses import dataclass
from functools import wraps
from typing import Any, get_type_hints

from oak_ledge.cli.folder import config_of
from oak_ledge.cli.options import (
    Angle,
    AtMost,
    Attempt,
    Bits,
    Centre,
    CutOutBy,
    Data,
    FaceOf,
    FitCorners,
    Format,
    FourCorners,
    Ground,
    Keep,
    KeepZones,
    Kernel,
    Like,
    MarkAt,
    MarkMargin,
    MarkOpacity,
    MarkPath,
    MarkWidth,
    Mirror,
    Names,
    NoLocation,
    PaintOver,
    Quality,
    Quarter,
    SharpenOn,
    Sizes,
    Strength,
    ToProfile,
    Turn,
    WhenShapesDiffer,
)
from oak_ledge.cli.size_options import (
    chosen_of_drawing,
    chosen_over,
    corners_of,
    face_of,
    file_settings,
    ground_of,
    mark_of,
    typed_sizes,
    way_of,
    with_chosen,
    zones_of,
)
from oak_ledge.core.sizes.size import Size
from oak_ledge.flows.commands.tell import LyingOptions


@dataclass(frozen=True)
class SharedOptions:
    """The sizes a call asks for, all that it says put over them, and how photos shall lie."""

    sizes: list[Size]
    way: LyingOptions


def _shared_options(
    *,
    size: Sizes = [],  # noqa: B006 - typer copies it
    size_name: Names = [],  # noqa: B006
    like: Like = [],  # noqa: B006
    differ: WhenShapesDiffer = None,
    ground: Ground = None,
    attempt: Attempt = 1,
    paint_over: PaintOver = None,
    cut_out: CutOutBy = None,
    turn: Turn = None,
    centre: Centre = None,
    angle: Angle = 0.0,
    quarter: Quarter = 0,
    mirror: Mirror = False,
    corners: FourCorners = None,
    fit_corners: FitCorners = False,
    keep_zone: KeepZones = [],  # noqa: B006
    face: FaceOf = None,
    mark: MarkPath = None,
    mark_at: MarkAt = "bottom-right",
    mark_width: MarkWidth = "20%",
    mark_margin: MarkMargin = "3%",
    mark_opacity: MarkOpacity = "100%",
    method: Kernel = None,
    sharpen_for: SharpenOn = None,
    sharpen: Strength = None,
    file_format: Format = None,
    quality: Quality = None,
    at_most: AtMost = None,
    bits: Bits = None,
    profile: ToProfile = None,
    metadata: Keep = None,
    no_location: NoLocation = False,
    data: Data = None,
    pattern: str | None = None,
) -> SharedOptions:
    settings = file_settings(
        at_most,
        profile,
        no_location=no_location,
        format=file_format,
        quality=quality,
        bits=bits,
        metadata=metadata,
    ) | ({"pattern": pattern} if pattern else {})
    colour, behind = ground_of(ground)
    over = chosen_over(settings, turn, differ=differ, ground=colour) | chosen_of_drawing(
        method, sharpen_for, sharpen
    )
    sizes = [with_chosen(typed, over) for typed in typed_sizes(size, size_name, like, data)]
    way = way_of(
        turn,
        centre,
        angle=angle,
        quarter=quarter,
        mirror=mirror,
        corners=corners_of(corners, fit=fit_corners),
        fit=fit_corners,
        attempt=attempt,
        paint_over=paint_over,
        cut_out=cut_out,
        zones=zones_of(keep_zone),
        finds=config_of().find_subjects,
        behind=behind,
        face=face_of(face),
        mark=mark_of(mark, mark_at, mark_width, mark_margin, mark_opacity),
    )
    return SharedOptions(sizes, way)


def with_shared_options(command: Callable[..., None]) -> Callable[..., None]:
    """Add these options to a command's own; it gets them as `options`, a `SharedOptions`.

    A `name` of its own is the pattern of its files' names.
    """
    hints = get_type_hints(_shared_options, include_extras=True) | get_type_hints(
        command, include_extras=True
    )
    theirs = [
        parameter
        for parameter in inspect.signature(_shared_options).parameters.values()
        if parameter.name != "pattern"
    ]
    own = [
        parameter
        for parameter in inspect.signature(command).parameters.values()
        if parameter.name != "options"
    ]
    first = [parameter for parameter in own if parameter.default is inspect.Parameter.empty]
    rest = [parameter for parameter in own if parameter.default is not inspect.Parameter.empty]
    every = [
        parameter.replace(
            kind=inspect.Parameter.POSITIONAL_OR_KEYWORD, annotation=hints[parameter.name]
        )
        for parameter in (*first, *theirs, *rest)
    ]
    shared = {parameter.name for parameter in theirs}

    @wraps(command)
    def called(**given: Any) -> None:
        alike = {name: value for name, value in given.items() if name in shared}
        mine = {name: value for name, value in given.items() if name not in shared}
        command(**mine, options=_shared_options(**alike, pattern=mine.get("name")))

    called.__signature__ = inspect.Signature(every)  # type: ignore[attr-defined]
    called.__annotations__ = {parameter.name: parameter.annotation for parameter in every}
    return called
