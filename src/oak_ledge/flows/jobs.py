"""Jobs: photos and sizes brought together; every photo is laid on every size at once."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from datetime import datetime

from pydantic import BaseModel

from oak_ledge.core.keeping import suggest_around
from oak_ledge.core.notes import Level
from oak_ledge.core.placements import face_of, photo_held, size_at
from oak_ledge.core.size_text import read_size
from oak_ledge.core.sizes import Size
from oak_ledge.core.units import Pixels
from oak_ledge.flows.figures import compute
from oak_ledge.flows.placements import SizeView, size_view
from oak_ledge.flows.workspace import AskedError, NotFoundError, Workspace
from oak_ledge.store import jobs, photos, sizes
from oak_ledge.store.database import transaction
from oak_ledge.store.jobs import Job, Laying
from oak_ledge.store.placements import Placed, State


class PieceView(BaseModel):
    """A placement of a job and its piece, small: enough to stand on a ledge."""

    id: int
    photo_id: int
    photo_name: str
    size_name: str
    state: State
    level: Level
    says: str
    width: int
    height: int
    inches: tuple[float, float] | None
    crop: tuple[float, float, float, float]
    held: Pixels
    quarter: int
    mirror: bool
    squared: bool
    angle: float
    ground: str
    face: Pixels


class JobView(BaseModel):
    id: int
    name: str
    touched: datetime
    sizes: list[SizeView]
    placements: list[PieceView]
    counts: dict[str, int]
    next: PieceView | None
    """the piece to go on with: the first that is not settled"""


def start(
    workspace: Workspace,
    name: str,
    photo_ids: Sequence[int],
    size_ids: Sequence[int],
    size_texts: Sequence[str],
    now: datetime,
) -> int:
    """Start a job; give its id. The job keeps copies of its sizes.

    Raises
    ------
    AskedError
        Without a photo or without a size.
    NotFoundError
        If a photo or size is not here.
    SizeTextError
        If a text is not a size.
    """
    if not photo_ids:
        msg = "A job needs at least one photo. Bring one in first."
        raise AskedError(msg)
    if not size_ids and not size_texts:
        msg = "A job needs at least one size. Choose one, or write one like 8x10in@300."
        raise AskedError(msg)
    written: list[tuple[Size, int | None]] = [(read_size(text), None) for text in size_texts]
    with transaction(workspace.sessions) as session:
        chosen: list[tuple[Size, int | None]] = []
        for size_id in dict.fromkeys(size_ids):
            saved = sizes.find(session, size_id)
            if saved is None:
                msg = f"There is no size {size_id}."
                raise NotFoundError(msg)
            chosen.append((saved.size, saved.id))
        taken = []
        for photo_id in dict.fromkeys(photo_ids):
            photo = photos.find(session, photo_id)
            if photo is None:
                msg = f"There is no photo {photo_id}."
                raise NotFoundError(msg)
            taken.append(photo)
        asked = chosen + written
        layings = [
            Laying(photo, number, suggest_around(size, photo.facts.held, photo.keeps))
            for number, (size, _) in enumerate(asked)
            for photo in taken
        ]
        return jobs.add(session, name.strip() or taken[0].name, taken, asked, layings, now).id


def view(workspace: Workspace, job_id: int) -> JobView:
    with transaction(workspace.sessions) as session:
        job = jobs.find(session, job_id)
        if job is None:
            msg = f"There is no job {job_id}."
            raise NotFoundError(msg)
        return _job_view(job, jobs.placements(session, job_id))


def every(workspace: Workspace) -> list[JobView]:
    """All jobs, the one last touched first."""
    with transaction(workspace.sessions) as session:
        return [_job_view(job, jobs.placements(session, job.id)) for job in jobs.every(session)]


def _job_view(job: Job, placed: list[Placed]) -> JobView:
    pieces = [_piece(one) for one in placed]
    open_ones = [p for p in pieces if p.state in ("new", "placed")]
    by_text = {view.text + view.name: view for view in (size_view(p.size) for p in placed)}
    return JobView(
        id=job.id,
        name=job.name,
        touched=job.touched,
        sizes=list(by_text.values()),
        placements=pieces,
        counts=_counts(pieces),
        next=open_ones[0] if open_ones else None,
    )


def _counts(pieces: list[PieceView]) -> dict[str, int]:
    """Count pieces by what matters first: stopped, to look at, then how far they are."""
    found: Counter[str] = Counter()
    for piece in pieces:
        if piece.level == "stop":
            found["stopped"] += 1
        elif piece.state in ("made", "settled"):
            found[piece.state] += 1
        elif piece.level == "look":
            found["to look at"] += 1
        else:
            found["placed" if piece.state == "placed" else "new"] += 1
    order = ("made", "settled", "placed", "new", "to look at", "stopped")
    return {name: found[name] for name in order if found[name]}


def _piece(placed: Placed) -> PieceView:
    facts = placed.photo.facts
    tally, noted = compute(placed.size, facts, placed.placement, placed.saved, placed.photo.keeps)
    printed = None
    if tally.ppi is not None:
        printed = (tally.width / tally.ppi, tally.height / tally.ppi)
    level: Level = noted[0].level if noted else "fine"
    seen, size = size_view(placed.size), size_at(placed.size, placed.placement)
    return PieceView(
        id=placed.id,
        photo_id=placed.photo.id,
        photo_name=placed.photo.name,
        size_name=seen.name,
        state=placed.state,
        level=level,
        says=noted[0].text if noted and level != "fine" else tally.sentence,
        width=tally.width,
        height=tally.height,
        inches=printed,
        crop=tally.crop,
        held=photo_held(facts.held, placed.placement),
        quarter=placed.placement.quarter,
        mirror=placed.placement.mirror,
        squared=placed.placement.corners is not None,
        angle=placed.placement.angle,
        ground=size.ground,
        face=face_of(size, (tally.width, tally.height)),
    )
