"""Putting a piece on another size, its work kept: one of the job's, of the library, or written."""

from __future__ import annotations

from contextlib import suppress
from datetime import datetime
from fractions import Fraction
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from oak_ledge.core.errors import SizeError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.heads import LayHead
from oak_ledge.core.measures.numbers import decimal
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.other_size import put_on
from oak_ledge.core.placements.placement import Placement, changed, own_size, size_at
from oak_ledge.core.sizes.size import Size, size_from
from oak_ledge.core.sizes.text.write import shape_label, size_facts, size_name, write_size
from oak_ledge.core.sizes.variants import is_print, print_in_ratio
from oak_ledge.flows.bench.history import done_if_newest
from oak_ledge.flows.bench.view import placed_in
from oak_ledge.flows.bench.view_models import PlacementView
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.jobs.size_changes import take_size
from oak_ledge.flows.library.entry import meant_one
from oak_ledge.flows.library.sizes import by_last_use
from oak_ledge.flows.photos.photos import context_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs, placements
from oak_ledge.store.database import Session, reading
from oak_ledge.store.library import sizes
from oak_ledge.store.placements import Placed


class SizeChoice(BaseModel):
    """A size a piece can be put on, by its place in the job or its id in the library."""

    job_size_id: int | None = None
    size_id: int | None = None
    name: str
    label: str
    facts: str
    """its resolution and pixels, which tell apart what is called alike"""
    here: bool
    """the piece lies on it now"""


class SizeChoices(BaseModel):
    """The job's sizes, then the library's, those used last first."""

    job: list[SizeChoice]
    library: list[SizeChoice]
    pieces: int
    """how many of the job lie on this piece's size"""


class OtherSizeBody(BaseModel):
    """The size a piece shall be put on; `for_all` of the job that lie on the same."""

    model_config = ConfigDict(extra="forbid")

    job_size_id: int | None = Field(default=None, ge=1, le=2**63 - 1)
    size_id: int | None = Field(default=None, ge=1, le=2**63 - 1)
    text: str | None = Field(default=None, max_length=500, description="such as 5x7in@300 or 5:4")
    for_all: bool = False
    keep: Literal["print", "pixels"] | None = Field(
        default=None,
        description="what stays where a bare ratio is put on a print: its long edge, or the photo's pixels",
    )
    step: int | None = Field(default=None, description="the step it is decided on")

    @model_validator(mode="after")
    def _one(self) -> OtherSizeBody:
        if sum(other is not None for other in (self.job_size_id, self.size_id, self.text)) != 1:
            msg = "Say one of job_size_id, size_id and text."
            raise ValueError(msg)
        return self


def choices(workspace: Workspace, placement_id: int) -> SizeChoices:
    """Return the sizes a piece can be put on."""
    with reading(workspace.sessions) as session:
        placed = placed_in(session, placement_id)
        taken = jobs.taken(session, placed.job_id)
        pieces = len(jobs.on_size(session, placed.job_size_id))
        saved = by_last_use(session)
    here = placed.lying.size
    return SizeChoices(
        job=[_choice(taken_size.size, here, job_size_id=taken_size.id) for taken_size in taken],
        library=[_choice(size, here, size_id=size_id) for size_id, size in saved.items()],
        pieces=pieces,
    )


def _choice(size: Size, here: Size, **of: int) -> SizeChoice:
    return SizeChoice(
        name=size_name(size),
        label=shape_label(size),
        facts=size_facts(size),
        here=size == here,
        **of,
    )


class RatioChoice(BaseModel):
    """What a bare ratio may mean on a piece: the print in it, or the photo's own pixels, in words."""

    ratio: str
    as_print: str | None
    """`7 × 7 in at 300 ppi`; null where the piece is no print, so that nothing is to be chosen"""
    as_pixels: str


def ratio_choice(workspace: Workspace, placement_id: int, text: str) -> RatioChoice:
    """Return what a ratio may mean on a piece.

    Raises
    ------
    SizeError
        If it is no size.
    """
    with reading(workspace.sessions) as session:
        placed = placed_in(session, placement_id)
        meant = meant_one(session, text).size
    here = placed.lying.size
    as_print = None
    if meant.shape.ratio is not None and is_print(here):
        printed = print_in_ratio(here, meant.shape.ratio)
        as_print = f"{shape_label(printed)} at {decimal(printed.ppi or Fraction(0))} ppi"
    bare = put_on(placed.size, _written(meant, here), placed.photo.facts.upright, placed.placement)
    width, height = lying_on(placed.size, placed.photo.facts.upright, bare).asked
    return RatioChoice(
        ratio=write_size(meant), as_print=as_print, as_pixels=f"{width} × {height} px"
    )


def put(
    workspace: Workspace, placement_id: int, body: OtherSizeBody, now: datetime
) -> PlacementView:
    """Put a piece on another size, or with `for_all` the job's size on it for every piece there.

    A shape the piece has had before comes back as it was left, bit for bit.

    Raises
    ------
    RequestError, NotFoundError, CoreError
        If there is no such size, or the piece can't lie on it; nothing is changed.
    """

    def do(session: Session, placed: Placed) -> None:
        wanted, saved_id = _wanted(session, placed, body)
        what = f"put on {size_name(wanted)}"
        if body.for_all:
            here = (placed.job_id, placed.job_size_id)
            take_size(session, *here, wanted, what, now, saved_id=saved_id)
            return
        placement = put_on(placed.size, wanted, placed.photo.facts.upright, placed.placement)
        effective = size_at(placed.size, placement)
        before = placements.last_on(session, placed, effective)
        if before is not None:
            placement = changed(before, size=own_size(placed.size, effective))
        elif effective.head is not None:
            placement = _by_head(placed, placement)
        if placement != placed.placement:
            placements.keep(session, placed.id, placement, what, now)

    return done_if_newest(workspace, placement_id, body.step, do)


def _by_head(placed: Placed, placement: Placement) -> Placement:
    """Lay a piece that was put on a size with a head by its photo's, where one is known."""
    context = context_of(placed.photo)
    if context.face is None:
        return placement
    gesture = LayHead(kind="lay_head")
    return apply(placed.size, placed.photo.facts.upright, placement, gesture, context)


def _wanted(session: Session, placed: Placed, body: OtherSizeBody) -> tuple[Size, int | None]:
    """Find the size that is asked for, and its id in the library."""
    if body.text is not None:
        meant = meant_one(session, body.text)
        if meant.saved_id is not None:
            return meant.size, meant.saved_id
        here, ratio = placed.lying.size, meant.size.shape.ratio
        if ratio is not None and is_print(here) and body.keep != "pixels":
            if body.keep is None:
                msg = (
                    f"{size_name(here)} is a print, and {body.text} only a ratio. Say what stays: "
                    "the print's long edge, or the photo's pixels."
                )
                raise RequestError(msg)
            return print_in_ratio(here, ratio), None
        return _written(meant.size, placed.lying.size), None
    if body.size_id is not None:
        saved = sizes.find(session, body.size_id)
        if saved is None:
            msg = f"There is no size {body.size_id} in the library."
            raise NotFoundError(msg)
        return saved.size, saved.id
    for taken in jobs.taken(session, placed.job_id):
        if taken.id == body.job_size_id:
            return taken.size, taken.saved_id
    msg = f"This job has no size {body.job_size_id}."
    raise RequestError(msg)


def _written(read: Size, here: Size) -> Size:
    """Return a written size with the file settings and finish of the one a piece lies on now."""
    fields = {name: getattr(read, name) for name in ("shape", "ppi", "dot", "turn")}
    kept = {name: getattr(here, name) for name in ("group", "ground", "method", "file")}
    kept |= {"sharpen_for": here.sharpen_for, "sharpen": here.sharpen}
    if read.differ == "trim" and here.differ == "extend":
        with suppress(SizeError):  # where the new shape fixes one
            return size_from(dict(read) | fields | kept | {"differ": "extend"})
    return size_from(dict(read) | fields | kept)
