"""Files handed over: written down for a receiver, and what came of each."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import datetime, timedelta
from pathlib import Path

from pydantic import BaseModel

from oak_ledge.core.files.proof import Measured
from oak_ledge.core.receivers.receiver import Receiver
from oak_ledge.flows.delivery.deliveries import find_delivery
from oak_ledge.flows.receivers.check import CheckedFile, candidates, check_files, of_candidate
from oak_ledge.flows.receivers.receivers import found
from oak_ledge.flows.sending.sender import Sender
from oak_ledge.flows.sending.stand_ins import StandIns, folder_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.database import reading, transaction
from oak_ledge.store.receivers import receivers, sendings
from oak_ledge.store.receivers.receivers import KeptReceiver
from oak_ledge.store.receivers.sendings import OPEN, Sending, SendingState, Wish

STOPPED = "You stopped it before it was sent. Send it again."
BEHIND = "held back: the first is not taken, and would not be the first then"
# Seconds by whose bytes the time that is left is reckoned, and how many files are looked at for it.
_RECENT, _RECKONED = 60, 60
# A file at a receiver, told by its name and its bytes.
Key = tuple[str, str]
# What a card tells of a receiver.
LATEST = 6


class SendingView(BaseModel):
    """What came of a file for a receiver."""

    id: int
    receiver_id: int
    receiver: str
    file: str
    state: SendingState
    reasons: tuple[str, ...]
    fixes: tuple[str, ...]
    tries: int
    receipt: str | None
    rehearsed: bool
    """sent to the stand-in"""
    bytes: int
    sent: int
    """bytes of it that are on their way, or there"""
    again_in: int | None
    """seconds until it is tried again"""
    changed: datetime
    file_id: int | None = None
    """of a delivery"""
    placement_id: int | None = None


class SendingsView(BaseModel):
    """What came of several files, and how long the rest will take."""

    files: list[SendingView]
    counts: dict[str, int]
    seconds_left: int | None
    """by how long those before took; None where nothing is left, or nothing went yet"""
    bytes_per_second: int | None


class ReceivedView(BaseModel):
    """How a receiver stands: its latest files, and what is left to send."""

    receiver_id: int
    latest: list[SendingView]
    open: SendingsView
    shows: str | None
    """the name of the last file it accepted"""


def send(
    workspace: Workspace,
    receiver_id: int,
    delivery_id: int,
    now: datetime,
    *,
    again: bool = False,
) -> SendingsView:
    """Write down a delivery's files for a receiver; the server sends them, each once.

    The rules are asked first: what they refuse is not sent, and says why. What was accepted before is
    not sent again, unless it is asked for.

    Raises
    ------
    NotFoundError, RequestError
        If there is no such receiver or delivery, or nothing of it is made yet.
    """
    with reading(workspace.sessions) as session:
        kept = found(session, receiver_id)
    there = candidates(workspace, kept.receiver, delivery_id)
    answers = behind_first(kept.receiver, [of_candidate(candidate) for candidate in there])
    with transaction(workspace.sessions) as session:
        for candidate, checked in zip(there, answers, strict=True):
            measured, path = candidate.measured, candidate.path.relative_to(workspace.data)
            key = key_of(candidate.file.name, measured or candidate.file.measured)
            wish = wish_for(kept, key, path, measured, checked)
            sendings.wish(session, wish, now, again=again)
    return of_delivery(workspace, delivery_id, now, receiver_id)


def behind_first(receiver: Receiver, answers: list[CheckedFile]) -> list[CheckedFile]:
    """Hold files back where the first of them is not taken and has to be the first that arrives."""
    if not receiver.takes.first_on_plain_ground or not answers or answers[0].state == "accepted":
        return answers
    held = {"state": "refused", "reasons": (BEHIND,)}
    first, *others = answers
    return [
        first,
        *(
            answer.model_copy(update=held) if answer.state == "accepted" else answer
            for answer in others
        ),
    ]


def key_of(name: str | None, measured: Measured | None) -> Key:
    """Return what tells a file at a receiver: its name, and its bytes as they were measured."""
    return name or "", (measured.sha256 if measured is not None else None) or ""


def wish_for(
    kept: KeptReceiver, key: Key, path: Path, measured: Measured | None, checked: CheckedFile
) -> Wish:
    """Return the wish to send a file to a receiver, or to its stand-in, with what its rules said."""
    name, sha256 = key
    return Wish(
        receiver_id=kept.id,
        rehearsed=kept.rehearsing,
        name=name,
        sha256=sha256,
        bytes=0 if measured is None else measured.bytes,
        path=str(path),
        reasons=checked.reasons,
        fixes=checked.fixes,
    )


def of_delivery(
    workspace: Workspace, delivery_id: int, now: datetime, receiver_id: int | None = None
) -> SendingsView:
    """Return what came of a delivery's files, for every receiver or for one, as it stands with it now."""
    with reading(workspace.sessions) as session:
        delivery = find_delivery(session, delivery_id)
        names = {kept.id: kept for kept in receivers.every(session)}
        files = {
            key_of(file.name, file.measured): file
            for file in delivery.files
            if file.state == "made"
        }
        rows = sendings.of_files(session, [*files])
    views = [
        _view(names[row.receiver_id].receiver, row, now).model_copy(
            update={
                "file_id": files[row.name, row.sha256].id,
                "placement_id": files[row.name, row.sha256].placement_id,
            }
        )
        for row in rows
        if row.receiver_id in names
        and row.receiver_id == (receiver_id or row.receiver_id)
        and row.rehearsed == names[row.receiver_id].rehearsing
    ]
    return _together(views, rows, now)


def of_receiver(workspace: Workspace, receiver_id: int, now: datetime) -> ReceivedView:
    """Return how a receiver stands: its latest files, what is left, what it accepted last."""
    with reading(workspace.sessions) as session:
        kept = found(session, receiver_id)
        here = kept.rehearsing
        rows = sendings.latest_of(session, receiver_id, rehearsed=here, most=_RECKONED)
        left = [row for row in sendings.open_of(session, receiver_id) if row.rehearsed == here]
        last = sendings.last_accepted(session, receiver_id, rehearsed=here)
    return ReceivedView(
        receiver_id=receiver_id,
        latest=[_view(kept.receiver, row, now) for row in rows[:LATEST]],
        open=_together([_view(kept.receiver, row, now) for row in left], rows, now),
        shows=None if last is None else last.name,
    )


def shown_file(workspace: Workspace, receiver_id: int) -> Path | None:
    """Return the last file that a receiver accepted, as its stand-in has it, or as it was sent."""
    with reading(workspace.sessions) as session:
        kept = found(session, receiver_id)
        last = sendings.last_accepted(session, receiver_id, rehearsed=kept.rehearsing)
    if last is None:
        return None
    arrived = folder_of(workspace.data, receiver_id) / last.name
    path = arrived if last.rehearsed and arrived.is_file() else workspace.data / last.path
    inside = path.resolve().is_relative_to(workspace.data.resolve())
    return path if inside and path.is_file() else None


def pause(workspace: Workspace, receiver_id: int, *, paused: bool) -> None:
    """Begin no further file for a receiver, or go on; what is under way is finished."""
    with transaction(workspace.sessions) as session:
        found(session, receiver_id)
        receivers.set_paused(session, receiver_id, paused=paused)


def stop(
    workspace: Workspace, receiver_id: int, now: datetime, delivery_id: int | None = None
) -> None:
    """Leave what is not sent yet, of a delivery or all; what is under way ends, what arrived stays."""
    with transaction(workspace.sessions) as session:
        found(session, receiver_id)
        rows = sendings.open_of(session, receiver_id)
        if delivery_id is not None:
            files = {
                key_of(file.name, file.measured)
                for file in find_delivery(session, delivery_id).files
            }
            rows = [row for row in rows if (row.name, row.sha256) in files]
        sendings.fail_waiting(session, [row.id for row in rows], STOPPED, now)
        receivers.set_paused(session, receiver_id, paused=False)


def send_files(
    workspace: Workspace,
    kept: KeptReceiver,
    paths: Sequence[Path],
    clock: Callable[[], datetime],
    *,
    again: bool,
    came: Callable[[SendingView], None] = lambda _: None,
) -> list[SendingView]:
    """Send files of no delivery now, each once; return what came of each, in their order.

    `came` is told each as it is known. Two calls at once for one receiver go one after the other.
    """
    now = clock()
    looked_at = check_files(kept.receiver, paths)
    answers = behind_first(kept.receiver, [answer for _, answer, _ in looked_at])
    ids: dict[Path, int] = {}
    views: dict[Path, SendingView] = {}
    with transaction(workspace.sessions) as session:
        for (path, _, measured), answer in zip(looked_at, answers, strict=True):
            if measured is None or measured.sha256 is None:
                views[path] = _unreadable(kept, path, answer.reasons, now)
                continue
            wish = wish_for(kept, key_of(path.name, measured), path.resolve(), measured, answer)
            wish = replace(wish, apart=True)
            ids[path] = sendings.wish(session, wish, now, again=again).id
    _send_now(workspace, kept, [*ids.values()], clock, came)
    with reading(workspace.sessions) as session:
        rows = {row.id: row for row in sendings.by_ids(session, [*ids.values()])}
    for path, id_ in ids.items():
        view = _view(kept.receiver, rows[id_], clock())
        views[path] = view.model_copy(update={"file": str(path)})
    return [views[path] for path in paths]


def _send_now(
    workspace: Workspace,
    kept: KeptReceiver,
    ids: Sequence[int],
    clock: Callable[[], datetime],
    came: Callable[[SendingView], None],
) -> None:
    """Send those files and wait for what comes of them; a stand-in that is begun for it ends with it."""
    stand_ins = StandIns(workspace.data)
    sender = Sender(workspace, kept.id, stand_ins, clock, ids=ids)
    sender.came = lambda row: came(_view(kept.receiver, row, clock()))
    try:
        sender.send(patience=-1)
    finally:
        stand_ins.end()


def _unreadable(
    kept: KeptReceiver, path: Path, reasons: tuple[str, ...], now: datetime
) -> SendingView:
    return SendingView(
        id=0, receiver_id=kept.id, receiver=kept.receiver.name, file=str(path), state="failed",
        reasons=reasons, fixes=(), tries=0, receipt=None, rehearsed=kept.rehearsing, bytes=0, sent=0,
        again_in=None, changed=now,
    )  # fmt: skip


def _view(receiver: Receiver, row: Sending, now: datetime) -> SendingView:
    again_in = None
    if row.state == "waiting" and row.again_at is not None:
        again_in = max(0, round((row.again_at - now).total_seconds()))
    return SendingView(
        id=row.id,
        receiver_id=row.receiver_id,
        receiver=receiver.name,
        file=row.name,
        state=row.state,
        reasons=row.reasons,
        fixes=row.fixes,
        tries=row.tries,
        receipt=row.receipt,
        rehearsed=row.rehearsed,
        bytes=row.bytes,
        sent=row.sent,
        again_in=again_in,
        changed=row.changed,
    )


def _together(views: list[SendingView], rows: Sequence[Sending], now: datetime) -> SendingsView:
    counts: dict[str, int] = {}
    for view in views:
        counts[view.state] = counts.get(view.state, 0) + 1
    rate = _rate(rows, now)
    left = sum(view.bytes - view.sent for view in views if view.state in OPEN)
    return SendingsView(
        files=views,
        counts=counts,
        seconds_left=max(1, round(left / rate)) if left and rate else None,
        bytes_per_second=round(rate) if rate and left else None,
    )


def _rate(rows: Sequence[Sending], now: datetime) -> float | None:
    """Return the bytes a second of late, by those files that went or are going."""
    since = now - timedelta(seconds=_RECENT)
    recent = [
        row
        for row in rows
        if row.begun is not None and row.sent and (row.state in OPEN or row.changed >= since)
    ]
    if not recent:
        return None
    first = min(row.begun for row in recent if row.begun is not None)
    seconds = (now - first).total_seconds()
    return sum(row.sent for row in recent) / seconds if seconds > 0 else None
