"""The list of deliveries: each with its first pieces, what came of it, and its next step."""

from __future__ import annotations

from contextlib import suppress
from datetime import datetime
from typing import Literal

from pydantic import BaseModel

from oak_ledge.core.measures.bytes import bytes_words
from oak_ledge.flows.delivery.deliveries import DeliveryView, FileView, view
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import placements
from oak_ledge.store.database import reading
from oak_ledge.store.errors import DamagedError
from oak_ledge.store.sheets import sheets
from oak_ledge.store.work import deliveries
from oak_ledge.store.work.deliveries import DeliveryState, FileState

# Of a delivery that are shown.
PIECES = 6


class ListedPiece(BaseModel):
    """A file of a delivery, as it stands on its short ledge; `shown` where there is something to show."""

    id: int
    placement_id: int
    sheet_id: int | None
    """the sheet it is, and which page of it"""
    page: int
    name: str
    state: FileState
    width: int
    height: int
    shown: bool


class Listed(BaseModel):
    """One delivery of the list."""

    id: int
    job_id: int
    job_name: str
    added: datetime
    state: DeliveryState
    outcome: Literal["fine", "stop", "open"]
    words: str
    """what came of it, in one line"""
    wrong: str
    """the first file that was not made, and why"""
    fix: int | None
    """its placement, to be fixed on the bench"""
    made: int
    changed: bool
    """a piece of it was worked on since"""
    pieces: list[ListedPiece]
    more: int
    """further pieces"""


class List(BaseModel):
    """Some deliveries, the newest first, and how many there are."""

    deliveries: list[Listed]
    whole: int
    going_on: int


def listed(workspace: Workspace, now: datetime, find: str = "", count: int = 20) -> List:
    """Return the newest deliveries, or those of jobs and files that some words are found in.

    One that can't be read does not hide the others.
    """
    with reading(workspace.sessions) as session:
        ids = deliveries.ids(session, find)
        going_on = deliveries.count_open(session)
    views = []
    for id_ in ids[:count]:
        with suppress(DamagedError):
            views.append(view(workspace, id_, now, with_pieces=False))
    files = [file for delivery in views for file in delivery.files]
    with reading(workspace.sessions) as session:
        wanted = {file.placement_id for file in files if file.sheet_id is None}
        states = placements.states(session, wanted)
        laid = sheets.known(session, {file.sheet_id for file in files if file.sheet_id is not None})
    return List(
        deliveries=[_listed(delivery, states, laid) for delivery in views],
        whole=len(ids),
        going_on=going_on,
    )


def last_of_job(workspace: Workspace, job_id: int, most: int = 3) -> list[tuple[int, datetime]]:
    """Return the last deliveries of a job, the newest first: their ids, and when they were asked for."""
    with reading(workspace.sessions) as session:
        return deliveries.last_of_job(session, job_id, most)


def _listed(delivery: DeliveryView, states: dict[int, str], laid: set[int]) -> Listed:
    bad = next((file for file in delivery.files if file.state in ("held", "failed")), None)
    count = delivery.counts.get("made", 0)
    is_open = delivery.state not in ("done", "stopped")
    pieces = [file for file in delivery.files if file.panel in (None, 1)]
    here = [
        file for file in delivery.files if file.sheet_id is None and file.placement_id in states
    ]
    return Listed(
        id=delivery.id,
        job_id=delivery.job_id,
        job_name=delivery.job_name or f"Delivery {delivery.id}, its job is deleted",
        added=delivery.added,
        state=delivery.state,
        outcome="open" if is_open else "fine" if bad is None else "stop",
        words=_words(delivery, count, is_open=is_open),
        wrong="" if bad is None else f"{_called(bad)}: {bad.reason}",
        fix=None if bad is None or bad.placement_id not in states else bad.placement_id,
        made=count,
        changed=any(states[file.placement_id] != "made" for file in here if file.state == "made"),
        pieces=[_piece(file, states, laid) for file in pieces[:PIECES]],
        more=max(0, len(pieces) - PIECES),
    )


def _called(file: FileView) -> str:
    return file.name or "" if file.sheet else f"{file.photo_name} on {file.size_name}"


def _piece(file: FileView, states: dict[int, str], laid: set[int]) -> ListedPiece:
    return ListedPiece(
        id=file.id,
        placement_id=file.placement_id,
        sheet_id=file.sheet_id,
        page=file.page,
        name=_called(file),
        state=file.state,
        width=file.picture[0],
        height=file.picture[1],
        shown=file.placement_id in states if file.sheet_id is None else file.sheet_id in laid,
    )


def _words(delivery: DeliveryView, count: int, *, is_open: bool) -> str:
    whole, weight = (
        len(delivery.files),
        f" · {bytes_words(delivery.bytes)}" if delivery.bytes else "",
    )
    if is_open:
        left = "" if delivery.seconds_left is None else f" · {delivery.seconds_left} s left"
        paused = " · paused" if delivery.state == "paused" else ""
        return f"{count} of {whole} made{paused or left}"
    if count == whole:
        return f"{count} of {whole}, all as asked{weight}"
    parts = {"held": "not made", "failed": "failed"}
    bad = ", ".join(
        f"{delivery.counts[key]} {name}" for key, name in parts.items() if key in delivery.counts
    )
    return f"{count} of {whole}; {bad}{weight}"
