"""How the file of a piece is written, settled on the bench: for this piece, or for all on its size."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from oak_ledge.core.placements.placement import changed, own_size, size_at
from oak_ledge.flows.bench.history import done_if_newest
from oak_ledge.flows.bench.view_models import PlacementView
from oak_ledge.flows.jobs.size_changes import take_size
from oak_ledge.flows.pieces.piece_file import FileChoice, written_as
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import placements
from oak_ledge.store.database import Session, reading
from oak_ledge.store.placements import Placed
from oak_ledge.store.work import deliveries


class PieceFileBody(FileChoice):
    """What a file shall be, of one piece or `for_all` on its size; `step` is the one it was made on."""

    for_all: bool = False
    step: int | None = None


class EarlierFile(BaseModel):
    """A file that was made of a piece before: its delivery, its name, and when."""

    delivery_id: int
    name: str
    made: datetime | None


def settle_file(
    workspace: Workspace, placement_id: int, body: PieceFileBody, now: datetime
) -> PlacementView:
    """Settle how a piece's file is written, or with `for_all` those of every piece on its size.

    No crop moves.

    Raises
    ------
    FileError, SizeError
        If a name can't be made of the pattern; nothing is changed.
    """

    def do(session: Session, placed: Placed) -> None:
        if body.for_all:
            size = written_as(placed, placed.size, body)
            here = (placed.job_id, placed.job_size_id)
            take_size(session, *here, size, "file changed", now, saved_id=None)
            placed = placements.as_it_is_now(session, placed.id)
        own = written_as(placed, size_at(placed.size, placed.placement), body)
        placement = changed(placed.placement, size=own_size(placed.size, own))
        if placement != placed.placement:
            placements.keep(session, placed.id, placement, "file changed", now)

    return done_if_newest(workspace, placement_id, body.step, do)


def earlier(workspace: Workspace, placement_id: int) -> list[EarlierFile]:
    """Return the files made of a piece, the newest first."""
    with reading(workspace.sessions) as session:
        files = deliveries.files_of(session, placement_id)
    return [
        EarlierFile(delivery_id=file.delivery_id, name=file.name or "", made=file.finished)
        for file in files
    ]
