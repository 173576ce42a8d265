"""A job's ledge: which pieces are shown, in which order, and what survives of each photo."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import BaseModel

from oak_ledge.core.notes.every import note_words
from oak_ledge.flows.jobs.job_views import JobBrief
from oak_ledge.flows.jobs.jobs import brief
from oak_ledge.flows.jobs.survivors import Survival, survival
from oak_ledge.flows.pieces.pieces import PieceView, counts_of, figures_of, piece_of, standing
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs, placements
from oak_ledge.store.database import reading
from oak_ledge.store.placements import Placed

By = Literal["photo", "size"]


# `all`, `look` for what a person should decide, or the code of a note.
Show = str


class Ledge(BaseModel):
    """A stretch of a job's ledge."""

    job: JobBrief
    pieces: list[PieceView]
    survivals: list[Survival]
    more: bool
    """there are further shelves"""


class Overview(BaseModel):
    """How far a job is, over all its pieces."""

    counts: dict[str, int]
    codes: dict[str, int]
    """how many pieces have a note of each code that wants a look"""
    code_words: dict[str, str]
    """what those codes are called"""
    to_look_at: int
    pieces: int
    holds: str
    """how many photos and sizes, in words"""


def stretch(workspace: Workspace, job_id: int, by: By, show: Show, first: int, count: int) -> Ledge:
    """Return the pieces of `count` shelves from the `first` on; only theirs are computed."""
    job = brief(workspace, job_id)
    order = [job_size.id for job_size in (job.photos if by == "photo" else job.sizes)]
    wanted = order[first : first + count] if show == "all" else order
    with reading(workspace.sessions) as session:
        placed = jobs.placements(session, job_id, **{f"{by}s": wanted})
    groups: dict[int, list[Placed]] = {key: [] for key in wanted}
    for piece in placed:
        groups[piece.job_photo_id if by == "photo" else piece.job_size_id].append(piece)
    filled = [group for group in groups.values() if any(shown(piece, show) for piece in group)]
    taken = filled if show == "all" else filled[first : first + count]
    return Ledge(
        job=job,
        pieces=[piece_of(piece) for group in taken for piece in group if shown(piece, show)],
        survivals=[survival(group) for group in taken] if by == "photo" else [],
        more=len(order if show == "all" else filled) > first + count,
    )


def ids_shown(workspace: Workspace, job_id: int, show: Show) -> list[int]:
    """Name the placements that are among those asked for."""
    brief(workspace, job_id)
    with reading(workspace.sessions) as session:
        return [
            placement.id for placement in jobs.placements(session, job_id) if shown(placement, show)
        ]


def shown(placed: Placed, show: Show) -> bool:
    """Return whether a placement is among those asked for."""
    if show == "all":
        return True
    noted = figures_of(placed)[1]
    if show == "look":
        level = noted[0].level if noted else "fine"
        return standing(placed.state, level) in ("stopped", "to look at")
    return any(note.code == show and note.level != "fine" for note in noted)


def holds(job: JobBrief) -> str:
    """Return how many photos and sizes a job has."""
    counts = ((len(job.photos), "photo"), (len(job.sizes), "size"))
    return ", ".join(f"{count} {name}{'' if count == 1 else 's'}" for count, name in counts)


def overview(workspace: Workspace, job_id: int) -> Overview:
    """Count all pieces of a job."""
    job = brief(workspace, job_id)
    with reading(workspace.sessions) as session:
        placed = jobs.placements(session, job_id)
    codes: dict[str, int] = {}
    for piece in placed:
        for code in {note.code for note in figures_of(piece)[1] if note.level != "fine"}:
            codes[code] = codes.get(code, 0) + 1
    return Overview(
        counts=counts_of(placed),
        codes=dict(sorted(codes.items())),
        code_words={code: note_words(code) for code in codes},
        to_look_at=sum(shown(piece, "look") for piece in placed),
        pieces=len(placed),
        holds=holds(job),
    )


def queue(
    workspace: Workspace, job_id: int, placement_id: int, by: By | None, show: Show
) -> Sequence[Placed]:
    """Return the placements one goes through: of one size, of one photo, or all of the job.

    Of those shown; the one at hand is always among them.
    """
    with reading(workspace.sessions) as session:
        placed = jobs.placements(session, job_id)
    here = next((piece for piece in placed if piece.id == placement_id), None)
    if here is None:  # it stands on no ledge: its photo or size was taken out, or it is a sheet's
        with reading(workspace.sessions) as session:
            alone = placements.find(session, placement_id)
        return [] if alone is None else [alone]
    if by == "photo":
        placed = [piece for piece in placed if piece.job_photo_id == here.job_photo_id]
    elif by == "size":
        placed = [piece for piece in placed if piece.job_size_id == here.job_size_id]
    return [piece for piece in placed if piece.id == placement_id or shown(piece, show)]
