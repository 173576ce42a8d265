"""A placement and its piece, small: enough to stand on a ledge."""

from __future__ import annotations

from collections import Counter, OrderedDict
from collections.abc import Iterable, Sequence
from functools import lru_cache

from pydantic import BaseModel

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import scale_words
from oak_ledge.core.notes.note import Note, Severity
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.placements.crop import face_of
from oak_ledge.core.placements.placement import mark_on
from oak_ledge.core.planes.points import Point
from oak_ledge.core.reports.hanging import Hung, hung
from oak_ledge.core.reports.tally import Tally
from oak_ledge.core.sizes.choices import Group
from oak_ledge.core.sizes.file_geometry import (
    Shares,
    gaps_path,
    joints_path,
    picture_shares,
    printed_pixels,
)
from oak_ledge.core.sizes.geometry import edge_path, paper_of
from oak_ledge.core.sizes.ground import CLEAR
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.photos.previews import look_of
from oak_ledge.flows.pieces.figures import Around, compute
from oak_ledge.store.placements import Placed, State

# Placements whose figures are kept; a ledge asks for all of a job's.
MOST_REMEMBERED = 5000


class PieceView(BaseModel):
    """A piece as it stands on the ledge."""

    id: int
    photo_id: int
    photo_name: str
    look: str
    """tells the photo's pictures as it is retouched now"""
    size_name: str
    """of the job's size; `own` says where this photo has its own"""
    member_id: int
    """the photo's place in the job"""
    size_id: int
    """the size's place in the job"""
    own: str | None
    on: str
    """the size it is on now: its own, else the job's"""
    group: Group
    state: State
    level: Severity
    says: str
    sentence: str
    notes: tuple[Note, ...]
    figure: str
    width: int
    height: int
    inches: tuple[float, float] | None
    hung: Hung | None
    crop: tuple[float, float, float, float]
    outline: tuple[Point, ...]
    """the crop on the photo as it is turned, clockwise"""
    extent: Pixels
    """the photo's width and height, turned"""
    quarter: int
    mirror: bool
    angle: float
    ground: str
    face: Pixels
    """the proportions of its print"""
    inner: Shares
    """where its picture lies on its print: less than all of it within a border"""
    paper: str
    """the border's colour; empty without one"""
    edge: str
    """what it is clear outside of, as path data in the unit square; empty for a whole rectangle"""
    joints: str
    """where it is cut in panels, likewise"""
    gaps: str
    """what lies between panels that hang apart, likewise, by the even-odd rule"""
    drawn: bool
    """more than a crop of its photo on a plain colour: shown by its own picture"""
    touched: bool
    """a hand has been at it"""


_remembered: OrderedDict[tuple[object, ...], tuple[Tally, tuple[Note, ...]]] = OrderedDict()


def figures_of(placed: Placed) -> tuple[Tally, tuple[Note, ...]]:
    """Return the tally and notes of a placement, remembered by all they follow from."""
    photo = placed.photo
    around = around_of(placed)
    key = (placed.size, _but_bytes(photo.facts), placed.placement, around)
    known = _remembered.get(key)
    if known is None:
        known = compute(placed.lying, photo.facts, placed.size, around)
        _remembered[key] = known
        if len(_remembered) > MOST_REMEMBERED:
            _remembered.popitem(last=False)
    return known


def around_of(placed: Placed) -> Around:
    """Return what is known of a piece beside how it lies."""
    photo = placed.photo
    return Around(
        placed.saved,
        photo.keeps,
        photo.found,
        photo.retouches,
        placed.receiver,
        placed.word,
        photo.faces,
    )


@lru_cache(maxsize=4096)
def _but_bytes(facts: PhotoFacts) -> PhotoFacts:
    """Leave out what no figure follows from: the photos of a shoot differ in nothing else."""
    return facts.model_copy(update={"bytes": 1})


def piece_of(placed: Placed) -> PieceView:
    """Return a piece with its figures, notes and state."""
    placement = placed.placement
    tally, noted = figures_of(placed)
    printed, whole = None, printed_pixels(placed.lying.size, (tally.width, tally.height))
    if tally.ppi is not None:
        printed = (whole[0] / tally.ppi, whole[1] / tally.ppi)
    level: Severity = noted[0].level if noted else "fine"
    apart = placed.lying.size.panels is not None and placed.lying.size.panels.gap is not None
    lying, size = placed.lying, placed.lying.size
    return PieceView(
        id=placed.id,
        photo_id=placed.photo.id,
        photo_name=placed.photo.name,
        look=look_of(placed.photo),
        size_name=size_name(placed.size),
        member_id=placed.job_photo_id,
        size_id=placed.job_size_id,
        own=None if placement.size is None else size_name(size),
        on=size_name(size),
        group=placed.size.group,
        state=placed.state,
        level=level,
        says=noted[0].text if noted and level != "fine" else tally.sentence,
        sentence=tally.sentence,
        notes=noted,
        figure="1:1" if tally.copied else scale_words(tally.scale),
        width=tally.width,
        height=tally.height,
        inches=printed,
        hung=hung(size, (tally.width, tally.height)),
        crop=tally.crop,
        outline=tuple(lying.outline),
        extent=lying.surface.photo,
        quarter=placement.quarter,
        mirror=placement.mirror,
        angle=placement.angle,
        ground=size.ground,
        face=face_of(size, whole),
        inner=picture_shares(size, (tally.width, tally.height)),
        paper=paper_of(size),
        edge="" if size.file.format == "jpeg" else edge_path(size, (tally.width, tally.height)),
        joints="" if apart else joints_path(size, (tally.width, tally.height)),
        gaps=gaps_path(size, (tally.width, tally.height)),
        drawn=_is_drawn(placed),
        touched=placed.state != "new",
    )


def _is_drawn(placed: Placed) -> bool:
    """Return whether a piece is more than a crop of its photo on a plain colour."""
    size, placement = placed.lying.size, placed.placement
    laid = size.outline or size.backdrop or mark_on(placed.size, placement)
    plain = size.ground.startswith("#") or size.ground == CLEAR
    return placement.corners is not None or laid is not None or not plain


def standing(state: State, level: Severity) -> str:
    """Return in one word how far a piece is, by what matters first."""
    if level == "stop":
        return "stopped"
    if level == "look" and state not in ("made", "settled"):
        return "to look at"
    return STATE_WORDS[state]


STATE_WORDS: dict[State, str] = {
    "made": "made", "settled": "approved", "placed": "in work", "new": "new",
}  # fmt: skip


ORDER = (*STATE_WORDS.values(), "to look at", "stopped")


def counts_of(placed: Sequence[Placed]) -> dict[str, int]:
    """Count placements by how far they are; what is none is left out."""
    levels = [(piece.state, figures_of(piece)[1]) for piece in placed]
    return counted(standing(state, noted[0].level if noted else "fine") for state, noted in levels)


def counted(words: Iterable[str]) -> dict[str, int]:
    """Count pieces by the words for how far they are, in their order; what is none is left out."""
    counter = Counter(words)
    return {name: counter[name] for name in ORDER if counter[name]}
