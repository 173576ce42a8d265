"""The line: six stations in the order of the work, each saying in figures what happens there."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel

from oak_ledge.core.measures.bytes import bytes_words, limit_words
from oak_ledge.core.measures.numbers import plain, rounded
from oak_ledge.core.measures.ratios import shape_words
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.reports.sentence import output_lengths
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.sentence import FORMAT_WORDS, colour_words, profile_words
from oak_ledge.flows.pieces.figures import Figures, Geometry

StationName = Literal["Photo", "Level", "Crop", "Ground", "Pixels", "File"]


class Row(BaseModel):
    name: str
    value: str


class Station(BaseModel):
    """One station: the figure that counts, its unit, a line below, and what it is set to."""

    name: StationName
    idle: bool
    before: str = ""
    figure: str
    unit: str
    below: str
    rows: list[Row]


def stations(
    size: Size, photo: PhotoFacts, found: Figures, about: int | None = None
) -> list[Station]:
    """Say the whole line for a placement, `about` being its file's estimated bytes."""
    W, H = found.asked.width, found.asked.height
    lying = found.placement
    lengths = output_lengths(size, (W, H))
    change = "enlarged" if found.scale > 1 else "reduced" if found.scale < 1 else "resampled"
    change = "as they are" if found.copied else change
    if size.ppi is None:
        physical = "no resolution is written"
    else:
        physical = f"= {lengths} at {plain(size.ppi)} ppi"
    label = "none" if photo.ppi is None else f"{rounded(photo.ppi, 0)} ppi"
    real = "none given" if found.real_ppi is None else f"{rounded(found.real_ppi, 0)} ppi"
    kind = FORMAT_WORDS[size.file.format]
    quality = "nothing lost" if size.file.format in ("png", "tiff") else str(size.file.quality)
    return [
        Station(
            name="Photo",
            idle=False,
            figure=f"{photo.width} × {photo.height}",
            unit="px",
            below=f"{photo.width * photo.height / 1e6:.1f} megapixels",
            rows=[
                Row(name="shape", value=shape_words(photo.width, photo.height)),
                Row(name="label", value=label),
            ],
        ),
        Station(
            name="Level",
            idle=not lying.angle and lying.corners is None,
            figure=_level_figure(lying),
            unit="",
            below="the crop is turned" if lying.angle else "the crop lies upright",
            rows=[Row(name="keeps", value=f"{rounded(found.kept * 100, 0)} %")],
        ),
        Station(
            name="Crop",
            idle=False,
            figure=f"{rounded(lying.width)} × {rounded(lying.height)}",
            unit="px",
            below=f"trims {rounded(found.trimmed * 100, 0)} % of the area",
            rows=[
                Row(name="shape", value=shape_words(W, H)),
                Row(name="sides", value=_sides(found)),
            ],
        ),
        _ground(size, found),
        Station(
            name="Pixels",
            idle=False,
            before=f"×{rounded(found.scale, 3)} →",
            figure=f"{W} × {H}",
            unit="px",
            below=physical,
            rows=[
                Row(name="pixels", value=change),
                Row(name="real", value=real),
            ],
        ),
        Station(
            name="File",
            idle=False,
            figure=kind if about is None else bytes_words(about),
            unit="" if about is None else "about",
            below=_file_words(size, known=about is not None),
            rows=[
                Row(name="quality", value=quality),
                Row(name="colour", value=_colour(size, photo)),
            ],
        ),
    ]


def _level_figure(lies: Geometry) -> str:
    if lies.angle:
        return f"{rounded(lies.angle, 2)}°"
    return "as held" if lies.corners is None else "squared up"


def _ground(size: Size, found: Figures) -> Station:
    if size.differ != "extend":
        figure, below = "not needed", "the crop lies inside"
        if size.differ == "inside":
            below = "fitted inside its size"
        none = [Row(name="with", value="nothing")]
        return Station(name="Ground", idle=True, figure=figure, unit="", below=below, rows=none)
    share = f"{rounded(found.uncovered * 100, 0)} %"
    return Station(
        name="Ground",
        idle=False,
        figure=share if found.uncovered else "none",
        unit="of the piece",
        below="beyond the photo's edge",
        rows=[Row(name="with", value=colour_words(size.ground))],
    )


def _file_words(size: Size, *, known: bool) -> str:
    kind = FORMAT_WORDS[size.file.format]
    if size.file.at_most is not None:
        return f"{kind}, at most {limit_words(size.file.at_most)}"
    return kind if known else "made, then measured"


def _colour(size: Size, photo: PhotoFacts) -> str:
    if size.file.profile != "keep":
        return profile_words(size.file)
    return photo.profile or "sRGB"


def _sides(found: Figures) -> str:
    """Which sides are trimmed, by whole per cent."""
    marks = {"left": "←", "top": "↑", "right": "→", "bottom": "↓"}
    shown = [
        f"{marks[side]} {rounded(share * 100, 0)}"
        for side, share in found.trimmed_sides.model_dump().items()
        if share >= 0.005
    ]
    return " ".join(shown) + " %" if shown else "nothing trimmed"
