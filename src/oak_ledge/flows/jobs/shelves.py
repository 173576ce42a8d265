"""Jobs on their shelves: counted whole, their first pieces drawn, however many they have."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from datetime import date, datetime
from functools import partial

from pydantic import BaseModel

from oak_ledge.core.notes.note import Severity
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.jobs.jobs import readable
from oak_ledge.flows.pieces.pieces import PieceView, counted, figures_of, piece_of, standing
from oak_ledge.flows.recipe import judgement
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs, note_severity, placements
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.errors import StoreError
from oak_ledge.store.jobs import Job
from oak_ledge.store.note_severity import Levelled

# Pieces drawn at most of the first job, which is drawn larger.
DRAWN_FIRST = 40
# The same of the others.
DRAWN = 20
# Photos of a job that are named, to be found by while one types.
NAMED = 200
# Placements whose notes are worked out before they are kept.
AT_ONCE = 400


class Next(BaseModel):
    """The piece to go on with."""

    id: int
    photo_name: str
    on: str
    """the size it is on now"""


class JobShelf(BaseModel):
    """A job as it stands on its shelf."""

    id: int
    name: str
    touched: datetime
    notes: str
    due: date | None
    photo_names: list[str]
    """the first of them"""
    all_named: bool
    size_names: list[str]
    whole: int
    """pieces it has"""
    counts: dict[str, int]
    placements: list[PieceView]
    """its first pieces: all sizes of its first photos"""
    next: Next | None
    """the first that is not approved"""


class Shelves(BaseModel):
    """Some of the jobs in hand, and how many there are."""

    shelves: list[JobShelf]
    whole: int


def shelves(
    workspace: Workspace, *, away: bool = False, find: str = "", count: int | None = None
) -> Shelves:
    """Jobs in hand, the one last worked on first, or those put `away`."""
    with reading(workspace.sessions) as session:
        rows, whole = jobs.listed(session, away=away, find=find, count=count)
    return Shelves(shelves=readable(rows, partial(_shelves, workspace)), whole=whole)


def _shelves(workspace: Workspace, rows: Sequence[Job]) -> list[JobShelf]:
    ids = [job.id for job in rows]
    with reading(workspace.sessions) as session:
        levelled = note_severity.of_jobs(session, ids, judgement())
    known = {graded.id: graded.level for graded in levelled if graded.level is not None}
    known |= _worked_out(workspace, [graded for graded in levelled if graded.level is None])
    with reading(workspace.sessions) as session:
        names = jobs.photo_names(session, ids, NAMED + 1)
        return [
            _shelf(
                session,
                job,
                [graded for graded in levelled if graded.job_id == job.id],
                known,
                names[job.id],
                DRAWN if n else DRAWN_FIRST,
            )
            for n, job in enumerate(rows)
        ]


def _worked_out(workspace: Workspace, unknown: Sequence[Levelled]) -> dict[int, Severity]:
    """Work out how grave notes are, and keep it; where it can't be kept, it is worked out again."""
    severities: dict[int, Severity] = {}
    for at in range(0, len(unknown), AT_ONCE):
        some = {levelled.id: levelled.of for levelled in unknown[at : at + AT_ONCE]}
        with reading(workspace.sessions) as session:
            placed = placements.find_many(session, [*some])
        new: dict[int, Severity] = {}
        for piece in placed.values():
            noted = figures_of(piece)[1]
            new[piece.id] = noted[0].level if noted else "fine"
        with suppress(StoreError), transaction(workspace.sessions) as session:
            note_severity.keep(
                session, {other: (some[other], level) for other, level in new.items()}
            )
        severities |= new
    return severities


def _shelf(
    session: Session,
    job: Job,
    levelled: Sequence[Levelled],
    known: dict[int, Severity],
    names: Sequence[str],
    most: int,
) -> JobShelf:
    taken = jobs.taken(session, job.id)
    photos = jobs.first_places(session, job.id, max(1, most // max(1, len(taken))))
    sizes = [taken_size.id for taken_size in taken][:most]
    first = jobs.placements(session, job.id, photos=photos, sizes=sizes)
    goes_on = next((graded.id for graded in levelled if graded.state in ("new", "placed")), None)
    piece = None if goes_on is None else placements.find(session, goes_on)
    return JobShelf(
        id=job.id,
        name=job.name,
        touched=job.touched,
        notes=job.notes,
        due=job.due,
        photo_names=[*names[:NAMED]],
        all_named=len(names) <= NAMED,
        size_names=[size_name(taken_size.size) for taken_size in taken],
        whole=len(levelled),
        counts=counted(standing(graded.state, known.get(graded.id, "fine")) for graded in levelled),
        placements=[piece_of(placed) for placed in first],
        next=None
        if piece is None
        else Next(id=piece.id, photo_name=piece.photo.name, on=size_name(piece.lying.size)),
    )
