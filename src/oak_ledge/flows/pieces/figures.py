"""Every figure of a placement, as the command line prints it and the pages show it."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import BaseModel, Field

from oak_ledge.core.files.proof import Asked, asked_of
from oak_ledge.core.marks.laid import LaidMark
from oak_ledge.core.notes.every import notes
from oak_ledge.core.notes.file import client_word, not_taken
from oak_ledge.core.notes.marks import mark_covers, mark_of_piece
from oak_ledge.core.notes.note import Note, in_order, taken_on
from oak_ledge.core.notes.retouches import cut_out, retouched
from oak_ledge.core.notes.size import size_changed
from oak_ledge.core.notes.zones import eyes_on_third, fills, keep_notes, subject_cut
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.photos.keep_zones import NOTHING, Keeps
from oak_ledge.core.photos.retouches import NO_RETOUCHES, Retouches
from oak_ledge.core.placements.lying import Lying, lying_on
from oak_ledge.core.placements.placement import Corners, Placement, mark_on
from oak_ledge.core.receivers.receiver import Receiver
from oak_ledge.core.reports.tally import Tally, TrimmedSides, tally
from oak_ledge.core.sizes.size import Size


class Geometry(BaseModel):
    """A placement's geometry, in pixels of what it lies on."""

    cx: float
    cy: float
    width: float
    height: float
    angle: float = Field(default=0.0, description="degrees, clockwise on the photo")
    corners: Corners | None = Field(default=None, description="photo pixels, turned")


class Figures(BaseModel):
    """The arithmetic from photo to file. Shares are 0…1."""

    asked: Asked
    placement: Geometry
    scale: float
    real_ppi: float | None
    trimmed: float
    trimmed_sides: TrimmedSides
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


@dataclass(frozen=True)
class Around:
    """What is known of a piece beside how it lies.

    `saved` is its size as the library has it, `waiting` a found subject that waits to be decided on (it
    counts while nothing is marked by hand), `receiver` the one its size names, `word` what the client said.
    """

    saved: Size | None = None
    keeps: Keeps = NOTHING
    waiting: Keeps | None = None
    retouches: Retouches = NO_RETOUCHES
    receiver: Receiver | None = None
    word: str | None = None


def compute(
    lying: Lying, photo: PhotoFacts, size: Size, around: Around = Around()
) -> tuple[Tally, tuple[Note, ...]]:
    """Return the tally and the notes of a placement, `size` being the job's."""
    figured = tally(lying)
    keeps, waiting = around.keeps, around.waiting
    changed = size_changed(size, around.saved)
    known = keeps if keeps.zones else waiting or NOTHING
    eyes, filling = eyes_on_third(lying, known), fills(lying, known)
    laid = mark_on(size, lying.placement)
    mark = None if laid is None else mark_of_piece(lying, laid, known)
    subject = subject_cut(lying, waiting) if waiting and not keeps.zones else None
    pulled = size.differ != "extend" and lying.size.shape == size.shape
    of_piece = tuple(
        note
        for note in notes(lying, photo, figured)
        # what a hand pulled beyond the photo is no promise to take all of it in
        if note.code != "cut-by-extend" or not pulled
    )
    retouch, cut = retouched(lying, photo, around.retouches), cut_out(around.retouches)
    taken = not_taken(lying, photo, around.receiver)
    noted = in_order(
        of_piece,
        changed,
        *keep_notes(lying, keeps),
        subject,
        eyes,
        filling,
        mark,
        retouch,
        cut,
        taken,
        client_word(around.word),
    )
    return figured, in_order(taken_on(noted, lying.placement.allow))


def figures(
    size: Size,
    photo: PhotoFacts,
    placement: Placement,
    keeps: Keeps = NOTHING,
    mark: LaidMark | None = None,
) -> Figures:
    """All figures of a photo on a size of no library, with the mark that is laid over it.

    Raises
    ------
    SizeError
        If the mark does not fit on the piece.
    """
    lying = lying_on(size, photo.upright, placement)
    result, noted = compute(lying, photo, size, Around(keeps=keeps))
    covers = None if mark is None else mark_covers(lying, mark.how, mark.file.shape, mark.keeps)
    return figures_with(lying, photo, result, in_order(noted, covers))


def figures_with(
    lying: Lying, photo: PhotoFacts, result: Tally, noted: tuple[Note, ...]
) -> Figures:
    """Put tally and notes of a placement together, with what its file shall be."""
    crop = lying.crop
    of_tally = {name: value for name, value in result if name in Figures.model_fields}
    return Figures(
        **of_tally,
        asked=asked_of(lying.size, lying.asked, photo.ppi),
        placement=Geometry(
            cx=lying.placement.cx,
            cy=lying.placement.cy,
            width=crop.width,
            height=crop.height,
            angle=crop.angle,
            corners=lying.placement.corners,
        ),
        notes=noted,
    )
