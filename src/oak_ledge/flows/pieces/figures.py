"""Every figure of a placement, as the command line prints it and the pages show it."""

from __future__ import annotations

from pydantic import BaseModel, Field

from oak_ledge.core.files.proof import Asked, asked_of
from oak_ledge.core.notes.every import notes
from oak_ledge.core.notes.note import Note, in_order
from oak_ledge.core.notes.size import size_changed
from oak_ledge.core.notes.zones import keep_notes
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.photos.keep_zones import NOTHING, Keeps
from oak_ledge.core.placements.crop import crop_of
from oak_ledge.core.placements.held import held_at
from oak_ledge.core.placements.placement import Corners, Placement, size_at
from oak_ledge.core.reports.tally import Sides, Tally, tally
from oak_ledge.core.sizes.size import Size


class Lying(BaseModel):
    """A placement's geometry in photo pixels, as held."""

    cx: float
    cy: float
    width: float
    height: float
    angle: float = Field(default=0.0, description="degrees, clockwise on the photo")
    corners: Corners | None = Field(default=None, description="photo pixels as held")


class Figures(BaseModel):
    """The arithmetic from photo to file. Shares are 0…1."""

    asked: Asked
    placement: Lying
    scale: float
    real_ppi: float | None
    trimmed: float
    trimmed_sides: Sides
    uncovered: float
    kept: float = Field(description="of the largest upright crop of its shape, by area")
    stretch: float
    copied: bool = Field(description="whole pixels at scale 1, not one of them resampled")
    printed: tuple[float, float] | None = Field(
        description="inches of the print, without bleed and wrap; null without a resolution"
    )
    seen: tuple[float, float] | None = Field(
        description="inches of the print that lip or mat leave to be seen; null without a frame"
    )
    sentence: str
    notes: tuple[Note, ...]


def compute(
    size: Size,
    photo: PhotoFacts,
    placement: Placement,
    saved: Size | None = None,
    keeps: Keeps = NOTHING,
) -> tuple[Tally, tuple[Note, ...]]:
    """The tally and the notes of a placement, `size` being the one it lies on."""
    at = size_at(size, placement)
    found = tally(at, held_at(size, photo.held, placement), placement)
    changed = size_changed(size, saved)
    kept = keep_notes(size, photo.held, placement, keeps)
    return found, in_order(notes(at, photo, found), changed, *kept)


def figures(
    size: Size,
    photo: PhotoFacts,
    placement: Placement,
    saved: Size | None = None,
    keeps: Keeps = NOTHING,
) -> Figures:
    found, noted = compute(size, photo, placement, saved, keeps)
    at = size_at(size, placement)
    crop = crop_of(at, held_at(size, photo.held, placement), placement)
    return Figures(
        asked=asked_of(at, (found.width, found.height)),
        placement=Lying(
            cx=placement.cx,
            cy=placement.cy,
            width=crop.width,
            height=crop.height,
            angle=crop.angle,
            corners=placement.corners,
        ),
        scale=found.scale,
        real_ppi=found.real_ppi,
        trimmed=found.trimmed,
        trimmed_sides=found.trimmed_sides,
        uncovered=found.uncovered,
        kept=found.kept,
        stretch=found.stretch,
        copied=found.copied,
        printed=found.printed,
        seen=found.seen,
        sentence=found.sentence,
        notes=noted,
    )
