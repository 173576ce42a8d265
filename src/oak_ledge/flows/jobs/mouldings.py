"""How much moulding a job's framed pieces take."""

from __future__ import annotations

from oak_ledge.core.reports.cut_card import MouldingNeeded, cut_card, mouldings
from oak_ledge.flows.jobs.jobs import find_job
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs
from oak_ledge.store.database import reading


def needed(workspace: Workspace, job_id: int) -> list[MouldingNeeded]:
    """Add up the mouldings of all framed pieces of a job, by their width."""
    with reading(workspace.sessions) as session:
        find_job(session, job_id)
        placed = jobs.placements(session, job_id)
    cards = (cut_card(piece.lying.size, piece.lying.asked) for piece in placed)
    return mouldings([card for card in cards if card is not None])
