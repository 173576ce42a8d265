"""The six stations of the bench in the order of the work, each saying in figures what happens there."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel

from oak_ledge.core.measures.bytes import bytes_words
from oak_ledge.core.measures.numbers import rounded, scale_words
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.sizes.file.formats import FORMATS
from oak_ledge.core.sizes.ground import CONTINUED
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.sentence import colour_words
from oak_ledge.flows.pieces.figures import Figures, Geometry

StationName = Literal["Photo", "Level", "Crop", "Ground", "Pixels", "File"]


class Station(BaseModel):
    """One station: the figure that counts, and what belongs to it; idle where nothing is done."""

    name: StationName
    idle: bool = False
    figure: str
    unit: str = ""


def stations(
    size: Size,
    photo: PhotoFacts,
    figures: Figures,
    about: int | None = None,
    *,
    attempt: int | None = None,
    retouches: int = 0,
) -> list[Station]:
    """Return all six for a placement, `about` being its file's estimated bytes.

    `attempt` is the try that continues it, `retouches` how many are to be seen on the photo.
    """
    geometry, body = figures.placement, figures.asked
    step = "copied" if figures.copied else scale_words(figures.scale)
    share = f"keeps {_kept_words(1 - figures.trimmed)} %"
    return [
        Station(name="Photo", figure=f"{photo.width} × {photo.height}", unit=_retouched(retouches)),
        Station(
            name="Level",
            idle=not geometry.angle and geometry.corners is None,
            figure=_level_figure(geometry),
        ),
        Station(
            name="Crop",
            figure=f"{rounded(geometry.width)} × {rounded(geometry.height)}",
            unit=f"px · {share}",
        ),
        _ground(size, figures, attempt),
        Station(
            name="Pixels",
            figure=f"{body.width} × {body.height}",
            unit=f"px {_times(size)}· {step}",
        ),
        _file(size, about),
    ]


def _kept_words(share: float) -> str:
    """Write a share in per cent: 100 only where nothing is lost, else with a decimal near to it."""
    if 0.995 <= share < 1:
        return rounded(min(share, 0.999) * 100, 1)
    return rounded(share * 100, 0)


def _times(size: Size) -> str:
    return "" if size.panels is None else f"× {size.panels.count} "


def _retouched(count: int) -> str:
    if not count:
        return "px"
    return f"px · {count} retouch" + ("" if count == 1 else "es")


def _level_figure(geometry: Geometry) -> str:
    if geometry.angle:
        return f"{rounded(geometry.angle, 2)}°"
    return "straight" if geometry.corners is None else "squared up"


def _ground(size: Size, figures: Figures, attempt: int | None) -> Station:
    if size.differ != "extend":
        figure = "fitted inside" if size.differ == "inside" else "not needed"
        return Station(name="Ground", idle=True, figure=figure)
    if not figures.uncovered:
        return Station(name="Ground", idle=True, figure="none in sight")
    share = f"{rounded(figures.uncovered * 100, 0)} %"
    unit = size.backdrop.name if size.backdrop else colour_words(size.ground)
    if size.ground == CONTINUED:
        unit = "to be continued" if attempt is None else "continued"
    return Station(name="Ground", figure=share, unit=unit)


def _file(size: Size, about: int | None) -> Station:
    kind, settings = FORMATS[size.file.format].words, size.file
    quality = "" if FORMATS[settings.format].lossless else f" {settings.quality}"
    each = "" if size.panels is None else " each"
    if about is None:
        return Station(name="File", figure=f"{kind}{quality}", unit="")
    return Station(name="File", figure=bytes_words(about), unit=f"{kind}{quality}{each}")
