"""Every figure of a placement, as the command line prints it and the pages show it."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import BaseModel, Field

from oak_ledge.core.files.proof import Asked, asked_of
from oak_ledge.core.heads.face_points import Faces
from oak_ledge.core.marks.laid import LaidMark
from oak_ledge.core.measures.lengths import MM_PER_INCH
from oak_ledge.core.notes.every import notes
from oak_ledge.core.notes.file import client_word, not_taken
from oak_ledge.core.notes.heads import head_notes
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
from oak_ledge.core.placements.zones.head import head_on_piece
from oak_ledge.core.planes.points import Point
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


class FaceFigures(BaseModel):
    """A head: its points in photo pixels upright, and how it comes out on the piece."""

    eyes: tuple[Point, Point]
    chin: Point
    crown: Point
    found: bool = Field(description="looked for by the program, and not set by hand")
    head_mm: float | None
    head_px: float
    eye_line: float = Field(description="share of the piece's height from its foot")
    tilt: float = Field(description="degrees by which the line of the eyes falls to the right")


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


class FileFigures(Figures):
    """The figures of a photo file on a size, with its head where the size asks for one."""

    face: FaceFigures | None = Field(
        default=None,
        description="the head it was laid by, on a size that asks for one",
        exclude_if=lambda face: face is None,
    )


@dataclass(frozen=True)
class Around:
    """What is known of a piece beside how it lies.

    `saved` is its size as the library has it, `waiting` a found subject that waits to be decided on (it
    counts while nothing is marked by hand), `receiver` the one its size names, `word` what the client said, `faces` the photo's heads.
    """

    saved: Size | None = None
    keeps: Keeps = NOTHING
    waiting: Keeps | None = None
    retouches: Retouches = NO_RETOUCHES
    receiver: Receiver | None = None
    word: str | None = None
    faces: Faces | None = None


UNKNOWN = Around()


def compute(
    lying: Lying, photo: PhotoFacts, size: Size, around: Around = UNKNOWN
) -> tuple[Tally, tuple[Note, ...]]:
    """Return the tally and the notes of a placement, `size` being the job's."""
    figured = tally(lying)
    keeps, waiting = around.keeps, around.waiting
    changed = size_changed(size, around.saved)
    known = keeps if keeps.zones else waiting or NOTHING
    eyes, filling = eyes_on_third(lying, known), fills(lying, known)
    laid = mark_on(size, lying.placement)
    mark = None if laid is None else mark_of_piece(lying, laid, known)
    by_head = lying.size.head is not None  # which says itself what is missed
    undecided = waiting if not keeps.zones and not by_head else None
    subject = None if undecided is None else subject_cut(lying, undecided)
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
        *head_notes(lying, around.faces, figured),
        taken,
        client_word(around.word),
    )
    return figured, in_order(taken_on(noted, lying.placement.allow))


def figures(
    size: Size,
    photo: PhotoFacts,
    placement: Placement,
    known: Around = UNKNOWN,
    mark: LaidMark | None = None,
) -> FileFigures:
    """All figures of a photo on a size of no library, with the mark that is laid over it.

    Raises
    ------
    SizeError
        If the mark does not fit on the piece.
    """
    lying = lying_on(size, photo.upright, placement)
    result, noted = compute(lying, photo, size, known)
    covers = None if mark is None else mark_covers(lying, mark.how, mark.file.shape, mark.keeps)
    told = figures_with(lying, photo, result, in_order(noted, covers))
    return FileFigures(**dict(told), face=face_figures(lying, known.faces))


def face_figures(lying: Lying, faces: Faces | None) -> FaceFigures | None:
    """Return the head of a piece and how it comes out; None where its size asks for none, or none is known."""
    face = None if faces is None else faces.meant
    if face is None or lying.size.head is None:
        return None
    head = head_on_piece(lying, face)
    if head is None:
        return None
    ppi = lying.size.ppi
    return FaceFigures(
        eyes=(face.left_eye, face.right_eye),
        chin=face.chin,
        crown=face.crown,
        found=face.found is not None,
        head_mm=None if ppi is None else round(head.pixels / float(ppi) * float(MM_PER_INCH), 3),
        head_px=round(head.pixels, 2),
        eye_line=round(head.eye_line, 5),
        tilt=round(head.tilt, 3) + 0.0,
    )


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
