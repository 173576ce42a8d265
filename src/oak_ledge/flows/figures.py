"""Every figure of a placement, as the command line prints it and the pages show it."""

from __future__ import annotations

from pydantic import BaseModel, Field

from oak_ledge.core.notes import Note, notes
from oak_ledge.core.photo_facts import PhotoFacts
from oak_ledge.core.pixels.proof import Asked, asked_of
from oak_ledge.core.placements import Placement, crop_of
from oak_ledge.core.sizes import Size
from oak_ledge.core.tally import Sides, Tally, tally


class Lying(BaseModel):
    """A placement's geometry in photo pixels, as held."""

    cx: float
    cy: float
    width: float
    height: float
    angle: float = Field(default=0.0, description="degrees; placements are upright so far")
    corners: list[float] | None = None


class Figures(BaseModel):
    """The arithmetic from photo to file. Shares are 0…1."""

    asked: Asked
    placement: Lying
    scale: float
    real_ppi: float | None
    trimmed: float
    trimmed_sides: Sides
    uncovered: float
    stretch: float
    sentence: str
    notes: tuple[Note, ...]


def compute(
    size: Size, photo: PhotoFacts, placement: Placement, saved: Size | None = None
) -> tuple[Tally, tuple[Note, ...]]:
    """The tally and the notes of a placement."""
    found = tally(size, photo.held, placement)
    return found, notes(size, photo, found, saved)


def figures(
    size: Size, photo: PhotoFacts, placement: Placement, saved: Size | None = None
) -> Figures:
    found, noted = compute(size, photo, placement, saved)
    crop = crop_of(size, photo.held, placement)
    return Figures(
        asked=asked_of(size, (found.width, found.height)),
        placement=Lying(cx=placement.cx, cy=placement.cy, width=crop.width, height=crop.height),
        scale=found.scale,
        real_ppi=found.real_ppi,
        trimmed=found.trimmed,
        trimmed_sides=found.trimmed_sides,
        uncovered=found.uncovered,
        stretch=found.stretch,
        sentence=found.sentence,
        notes=noted,
    )
