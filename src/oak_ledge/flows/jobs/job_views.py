"""What is shown of a job, and what may be changed of it: the shapes of answers and calls."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from typing import TypeVar

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.keep_zones import Zone
from oak_ledge.flows.library.views import SizeView
from oak_ledge.flows.pieces.pieces import PieceView

T = TypeVar("T")

# A deleted job can be brought back so long.
KEPT = timedelta(days=30)


class JobPhoto(BaseModel):
    """A photo of a job: its place in it, and what waits to be decided of it."""

    id: int
    photo_id: int
    look: str
    """tells the photo's pictures as it is retouched now"""
    name: str
    upright: Pixels
    zones: tuple[Zone, ...]
    found: tuple[Zone, ...]


class JobSize(SizeView):
    """A size of a job: its place in it, beside what it says."""

    id: int


class JobBrief(BaseModel):
    """What a job is, without its pieces."""

    id: int
    name: str
    touched: datetime
    notes: str
    due: date | None
    away: bool
    deleted: datetime | None
    photos: list[JobPhoto]
    sizes: list[JobSize]


class JobView(JobBrief):
    """A job with its photos, sizes and placements."""

    placements: list[PieceView]
    counts: dict[str, int]
    next: PieceView | None
    """the piece to go on with: the first that is not settled"""


class JobChange(BaseModel):
    """What of a job shall be otherwise; what is left out stays."""

    model_config = ConfigDict(extra="forbid")

    name: str | None = Field(default=None, min_length=1, max_length=120)
    notes: str | None = Field(default=None, max_length=20_000)
    due: date | None = None
    no_due: bool = Field(default=False, description="take the due date away")
    away: bool | None = Field(default=None, description="finished, or in hand again")
    photo_order: list[int] | None = Field(default=None, max_length=5000)
    size_order: list[int] | None = Field(default=None, max_length=200)


class Jobs(BaseModel):
    """Some of the jobs in hand, without their pieces, and how many there are."""

    jobs: list[JobBrief]
    whole: int
