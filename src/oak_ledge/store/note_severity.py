"""How grave the notes of placements are: kept with all that it follows from, told by content."""

from __future__ import annotations

import hashlib
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import Any, cast

from sqlalchemy import Text, select, type_coerce
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from oak_ledge.core.notes.note import Severity
from oak_ledge.store.placements import State
from oak_ledge.store.receivers.tables import ReceiverRow
from oak_ledge.store.tables import (
    JobPhotoRow,
    JobSizeRow,
    LevelRow,
    PhotoRow,
    PlacementRow,
    SizeRow,
)


@dataclass(frozen=True)
class Levelled:
    """A placement, how far it is, and how grave its notes are; None where that is not known."""

    id: int
    job_id: int
    state: State
    of: str
    level: Severity | None


def of_jobs(session: Session, job_ids: Collection[int], judgement: str) -> list[Levelled]:
    """Return the placements of jobs, each job's size by size in its own order.

    `judgement` tells the rules that notes follow. Texts are compared as they rest, and not read.
    """
    photos = _texts(
        session,
        select(
            JobPhotoRow.id,
            *map(_text, (PhotoRow.facts, PhotoRow.keeps, PhotoRow.found, JobPhotoRow.retouches)),
        )
        .join(JobPhotoRow, JobPhotoRow.photo_id == PhotoRow.id)
        .where(JobPhotoRow.job_id.in_(job_ids)),
    )
    sizes = _texts(
        session,
        select(JobSizeRow.id, _text(JobSizeRow.size), _text(SizeRow.size))
        .outerjoin(SizeRow, SizeRow.id == JobSizeRow.size_id)
        .where(JobSizeRow.job_id.in_(job_ids)),
    )
    receivers = _receivers(session)
    rows = session.execute(
        select(
            PlacementRow.id,
            PlacementRow.job_id,
            PlacementRow.state,
            _text(PlacementRow.placement),
            PlacementRow.word,
            JobPhotoRow.id,
            JobSizeRow.id,
            LevelRow.of,
            LevelRow.level,
        )
        .join(JobPhotoRow, JobPhotoRow.id == PlacementRow.job_photo_id)
        .join(JobSizeRow, JobSizeRow.id == PlacementRow.job_size_id)
        .outerjoin(LevelRow, LevelRow.placement_id == PlacementRow.id)
        .where(
            PlacementRow.job_id.in_(job_ids), JobPhotoRow.out.is_(None), JobSizeRow.out.is_(None)
        )
        .order_by(JobSizeRow.position, JobSizeRow.id, JobPhotoRow.position, JobPhotoRow.id)
    )
    levelled = []
    for placement_id, job_id, state, placed, word, photo, size, kept_of, kept in rows:
        more = "" if word is None else f" {word}"
        if '"goes_to"' in f"{sizes[size]} {placed}":
            more += f" {receivers}"
        of = _hash(f"{judgement} {photos[photo]} {sizes[size]} {placed}{more}")
        level = cast(Severity, kept) if kept_of == of else None
        levelled.append(Levelled(placement_id, job_id, cast(State, state), of, level))
    return levelled


def keep(session: Session, levels: Mapping[int, tuple[str, Severity]]) -> None:
    """Keep levels with what they follow from; of a placement that is gone meanwhile nothing is kept."""
    there = session.scalars(select(PlacementRow.id).where(PlacementRow.id.in_(levels)))
    rows = [{"placement_id": key, "of": levels[key][0], "level": levels[key][1]} for key in there]
    if rows:
        new = insert(LevelRow)
        kept = {"of": new.excluded.of, "level": new.excluded.level}
        session.execute(new.on_conflict_do_update(index_elements=["placement_id"], set_=kept), rows)


def _text(column: Any) -> Any:
    return type_coerce(column, Text).label(None)


def _receivers(session: Session) -> str:
    """Return all receivers as they rest, deleted ones too: a size may name any."""
    rows = select(_text(ReceiverRow.receiver)).order_by(ReceiverRow.id)
    return " ".join(session.scalars(rows))


def _texts(session: Session, query: Any) -> dict[int, str]:
    return {number: _hash(repr(texts)) for number, *texts in session.execute(query)}


def _hash(text: str) -> str:
    return hashlib.blake2b(text.encode(), digest_size=12).hexdigest()
