"""What came of each file for a receiver: waiting, under way, accepted, refused, failed."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal, cast

from sqlalchemy import ColumnElement, select, update
from sqlalchemy.orm import Session

from oak_ledge.store.receivers.tables import ReceiverRow, SendingRow, Words

SendingState = Literal["waiting", "sending", "accepted", "refused", "failed"]
OPEN: tuple[SendingState, ...] = ("waiting", "sending")


@dataclass(frozen=True)
class Sending:
    """A file for a receiver, and what came of it."""

    id: int
    receiver_id: int
    rehearsed: bool
    name: str
    sha256: str
    bytes: int
    path: str
    """below the data folder, or whole"""
    state: SendingState
    reasons: tuple[str, ...]
    fixes: tuple[str, ...]
    receipt: str | None
    tries: int
    sent: int
    """bytes on their way, or there"""
    again_at: datetime | None
    begun: datetime | None
    changed: datetime


@dataclass(frozen=True)
class Wish:
    """A file that shall be sent, or is refused before it is, with why and what would fix it."""

    receiver_id: int
    rehearsed: bool
    name: str
    sha256: str
    bytes: int
    path: str
    reasons: tuple[str, ...] = ()
    fixes: tuple[str, ...] = ()
    apart: bool = False
    """sent by who asks, not by the server"""


def wish(session: Session, wished: Wish, now: datetime, *, again: bool) -> Sending:
    """Write down a file to be sent; one that is under way, or was accepted, stays as it is.

    With `again` what was accepted waits once more.
    """
    row = session.scalar(
        select(SendingRow).where(
            SendingRow.receiver_id == wished.receiver_id,
            SendingRow.rehearsed == wished.rehearsed,
            SendingRow.name == wished.name,
            SendingRow.sha256 == wished.sha256,
        )
    )
    if row is not None and (row.state in OPEN or (row.state == "accepted" and not again)):
        if row.state in OPEN:  # who asks last has it sent
            row.apart, row.path = wished.apart, wished.path
        session.flush()
        return _sending(row)
    if row is None:
        row = SendingRow(
            receiver_id=wished.receiver_id,
            rehearsed=wished.rehearsed,
            name=wished.name,
            sha256=wished.sha256,
        )
        session.add(row)
    row.bytes, row.path, row.apart = wished.bytes, wished.path, wished.apart
    row.state = "refused" if wished.reasons else "waiting"
    row.reasons, row.fixes = Words(words=wished.reasons), Words(words=wished.fixes)
    row.receipt, row.tries, row.sent, row.again_at, row.begun = None, 0, 0, None, None
    row.changed = now
    session.flush()
    return _sending(row)


def take_next(
    session: Session,
    receiver_id: int,
    now: datetime,
    *,
    rehearsed: bool,
    ids: Collection[int] | None,
) -> Sending | None:
    """Take the file that is sent next, as one under way; None where none may be begun now.

    What was tried before comes first, so that a line that is away costs one file its tries and not all.
    """
    paused = select(ReceiverRow.paused).where(ReceiverRow.id == receiver_id).scalar_subquery()
    rows = (
        select(SendingRow)
        .where(*_of(receiver_id, rehearsed=rehearsed, ids=ids), SendingRow.state == "waiting")
        .where((SendingRow.again_at.is_(None)) | (SendingRow.again_at <= now), ~paused)
        .order_by(SendingRow.tries.desc(), SendingRow.id)
        .limit(1)
    )
    row = session.scalar(rows)
    if row is None:
        return None
    row.state, row.tries, row.sent, row.again_at = "sending", row.tries + 1, 0, None
    row.begun, row.changed = now, now
    session.flush()
    return _sending(row)


def is_left(
    session: Session, receiver_id: int, *, rehearsed: bool, ids: Collection[int] | None
) -> bool:
    """Return whether anything of a receiver waits or is under way."""
    rows = select(SendingRow.id).where(
        *_of(receiver_id, rehearsed=rehearsed, ids=ids), SendingRow.state.in_(OPEN)
    )
    return session.scalar(rows.limit(1)) is not None


def put_back(
    session: Session, receiver_id: int, *, rehearsed: bool, ids: Collection[int] | None
) -> None:
    """Let what was under way when a sender ended wait again; it keeps its tries."""
    session.execute(
        update(SendingRow)
        .where(*_of(receiver_id, rehearsed=rehearsed, ids=ids), SendingRow.state == "sending")
        .values(state="waiting", again_at=None)
    )


def _of(
    receiver_id: int, *, rehearsed: bool, ids: Collection[int] | None
) -> list[ColumnElement[bool]]:
    mine = SendingRow.apart.is_(False) if ids is None else SendingRow.id.in_(ids)
    return [SendingRow.receiver_id == receiver_id, SendingRow.rehearsed == rehearsed, mine]


def waiting_for(session: Session) -> list[int]:
    """Return the receivers for whom the server has files to send."""
    rows = (
        select(SendingRow.receiver_id)
        .join(ReceiverRow, ReceiverRow.id == SendingRow.receiver_id)
        .where(
            SendingRow.state.in_(OPEN),
            SendingRow.apart.is_(False),
            SendingRow.rehearsed == ReceiverRow.rehearsing,
            ReceiverRow.deleted.is_(None),
            ReceiverRow.paused.is_(False),
        )
        .distinct()
    )
    return list(session.scalars(rows))


def going(session: Session, sending_id: int, sent: int) -> bool:
    """Keep how far a file is; False where it is not to be sent any more."""
    row = session.get(SendingRow, sending_id)
    if row is None or row.state != "sending":
        return False
    row.sent = sent
    session.flush()
    return True


def accepted(session: Session, sending_id: int, receipt: str, now: datetime) -> None:
    """Keep a receipt, also of a file that was told to stop and got there all the same."""
    row = session.get(SendingRow, sending_id)
    if row is not None:
        row.state, row.receipt, row.sent = "accepted", receipt, row.bytes
        row.reasons, row.fixes, row.changed = Words(), Words(), now
        session.flush()


def not_sent(
    session: Session, sending_id: int, state: SendingState, why: str, now: datetime
) -> None:
    """Keep why a file was refused or failed; one that was told to stop keeps that reason."""
    row = session.get(SendingRow, sending_id)
    if row is not None and row.state == "sending":
        row.state, row.reasons, row.sent, row.changed = state, Words(words=(why,)), 0, now
        session.flush()


def later(session: Session, sending_id: int, why: str, now: datetime, again_at: datetime) -> None:
    """Let a file wait until it is tried again, with why."""
    row = session.get(SendingRow, sending_id)
    if row is not None and row.state == "sending":
        row.state, row.reasons, row.again_at = "waiting", Words(words=(why,)), again_at
        row.sent, row.changed = 0, now
        session.flush()


def fail_waiting(session: Session, ids: Collection[int], why: str, now: datetime) -> None:
    """Let files that wait, or are under way, fail for one reason."""
    rows = select(SendingRow).where(SendingRow.id.in_(ids), SendingRow.state.in_(OPEN))
    for row in session.scalars(rows):
        row.state, row.reasons, row.again_at, row.changed = "failed", Words(words=(why,)), None, now
    session.flush()


def open_of(session: Session, receiver_id: int) -> list[Sending]:
    """Return what waits for a receiver, or is under way."""
    rows = select(SendingRow).where(
        SendingRow.receiver_id == receiver_id, SendingRow.state.in_(OPEN)
    )
    return [_sending(row) for row in session.scalars(rows.order_by(SendingRow.id))]


def latest_of(session: Session, receiver_id: int, *, rehearsed: bool, most: int) -> list[Sending]:
    """Return what came of a receiver's files last, the latest change first."""
    rows = (
        select(SendingRow)
        .where(SendingRow.receiver_id == receiver_id, SendingRow.rehearsed == rehearsed)
        .order_by(SendingRow.changed.desc(), SendingRow.id.desc())
        .limit(most)
    )
    return [_sending(row) for row in session.scalars(rows)]


def last_accepted(session: Session, receiver_id: int, *, rehearsed: bool) -> Sending | None:
    """Return the last file a receiver accepted."""
    row = session.scalar(
        select(SendingRow)
        .where(
            SendingRow.receiver_id == receiver_id,
            SendingRow.rehearsed == rehearsed,
            SendingRow.state == "accepted",
        )
        .order_by(SendingRow.changed.desc(), SendingRow.id.desc())
        .limit(1)
    )
    return None if row is None else _sending(row)


def of_files(session: Session, files: Sequence[tuple[str, str]]) -> list[Sending]:
    """Return what came of files, told by their names and hashes, for any receiver."""
    wanted, found = set(files), []
    hashes = sorted({sha256 for _, sha256 in files})
    for at in range(0, len(hashes), 500):  # SQLite takes only so many in one question
        rows = select(SendingRow).where(SendingRow.sha256.in_(hashes[at : at + 500]))
        found += [row for row in session.scalars(rows) if (row.name, row.sha256) in wanted]
    return [_sending(row) for row in sorted(found, key=lambda row: row.id)]


def by_ids(session: Session, ids: Sequence[int]) -> list[Sending]:
    """Return sendings by their ids, in that order."""
    rows = {
        row.id: row
        for at in range(0, len(ids), 500)
        for row in session.scalars(select(SendingRow).where(SendingRow.id.in_(ids[at : at + 500])))
    }
    return [_sending(rows[id_]) for id_ in ids if id_ in rows]


def _sending(row: SendingRow) -> Sending:
    return Sending(
        id=row.id,
        receiver_id=row.receiver_id,
        rehearsed=row.rehearsed,
        name=row.name,
        sha256=row.sha256,
        bytes=row.bytes,
        path=row.path,
        state=cast(SendingState, row.state),
        reasons=row.reasons.words,
        fixes=row.fixes.words,
        receipt=row.receipt,
        tries=row.tries,
        sent=row.sent,
        again_at=row.again_at,
        begun=row.begun,
        changed=row.changed,
    )
