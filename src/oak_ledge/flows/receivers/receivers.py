"""Who files go to: kept, changed, deleted, exchanged as JSON."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from pathlib import Path

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.measures.numbers import clipped
from oak_ledge.core.receivers.receiver import Name, Receiver, read_receivers, write_receivers
from oak_ledge.core.receivers.takes import Takes
from oak_ledge.core.receivers.way import FolderWay, SftpWay, Way
from oak_ledge.core.receivers.words import facts, say_takes, say_way
from oak_ledge.flows.errors import ChangedMeanwhileError, NotFoundError, RequestError
from oak_ledge.flows.workspace import Workspace
from oak_ledge.receivers.stand_ins.inbox import Fault
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.receivers import receivers
from oak_ledge.store.receivers.receivers import KeptReceiver

# Dots of a sign that is drawn on its card, along an edge.
_MOST_DOTS = 1000


class ReceiverView(BaseModel):
    """A receiver: its rules and way as they are exchanged, and the same in words."""

    id: int
    version: int
    receiver_version: int
    name: str
    takes: Takes
    way: Way
    facts: tuple[str, ...]
    """each rule, short"""
    sentence: str
    way_words: str
    paused: bool
    rehearsing: bool
    """files go to its stand-in"""
    fault: str | None
    """the stand-in's"""
    face: tuple[int, int] | None
    """the dots of a sign that takes one picture of so many"""


class ReceiverBody(BaseModel):
    """A receiver as it is exchanged; what only the server says of it may stand beside it."""

    model_config = ConfigDict(extra="forbid")

    receiver_version: int = Field(default=1, ge=1, le=1)
    name: Name
    takes: Takes = Takes()
    way: Way
    version: int | None = Field(default=None, description="the version it was read at")
    id: int | None = Field(default=None, description="ignored, as is all below")
    facts: object = None
    sentence: object = None
    way_words: object = None
    paused: object = None
    rehearsing: object = None
    fault: object = None
    face: object = None

    @property
    def receiver(self) -> Receiver:
        """The receiver alone."""
        return Receiver(name=self.name, takes=self.takes, way=self.way)


class ReceiverDraft(BaseModel):
    """A receiver while it is written: its way may not be said yet."""

    model_config = ConfigDict(extra="forbid")

    takes: Takes = Takes()
    way: Way | None = None


class ReadReceiver(BaseModel):
    """A receiver read back in words, before it is kept."""

    sentence: str
    way_words: str
    facts: tuple[str, ...]
    trouble: str | None = None
    """what of it can't be so"""


def read_back(draft: ReceiverDraft) -> ReadReceiver:
    """Return a receiver in words; nothing is kept."""
    return ReadReceiver(
        sentence=say_takes(draft.takes),
        way_words="" if draft.way is None else say_way(draft.way),
        facts=facts(draft.takes),
    )


def every(workspace: Workspace) -> list[ReceiverView]:
    """Return all receivers."""
    with reading(workspace.sessions) as session:
        return [_view(kept) for kept in receivers.every(session)]


def view(workspace: Workspace, receiver_id: int) -> ReceiverView:
    """Return a receiver; one that is not here is refused."""
    with reading(workspace.sessions) as session:
        return _view(found(session, receiver_id))


def found(session: Session, receiver_id: int) -> KeptReceiver:
    """Return a receiver; one that is not here, or deleted, is refused."""
    kept = receivers.find(session, receiver_id)
    if kept is None or kept.deleted:
        msg = f"There is no receiver {receiver_id}."
        raise NotFoundError(msg)
    return kept


def called(workspace: Workspace, name: str) -> KeptReceiver:
    """Return the receiver of a name, whatever its case, or the only one whose name has that word.

    Raises
    ------
    NotFoundError
        If there is none, or several have the word.
    """
    with reading(workspace.sessions) as session:
        there = receivers.every(session)
    wanted = name.strip().casefold()
    same = [kept for kept in there if kept.receiver.name.casefold() == wanted]
    same = same or [kept for kept in there if wanted in kept.receiver.name.casefold().split()]
    if len(same) == 1:
        return same[0]
    names = ", ".join(f"“{kept.receiver.name}”" for kept in same or there) or "none yet"
    msg = (
        f"Several receivers are called “{clipped(name)}”: {names}. Write the whole name."
        if same
        else f"There is no receiver “{clipped(name)}”; there are {names}."
    )
    raise NotFoundError(msg)


def add(workspace: Workspace, receiver: Receiver) -> ReceiverView:
    """Keep a new receiver.

    Raises
    ------
    RequestError
        If its name is taken.
    """
    _keep_out_of_data(workspace, receiver)
    with transaction(workspace.sessions) as session:
        _keep_name_free(session, receiver.name)
        return _view(receivers.add(session, receiver))


def change(workspace: Workspace, receiver_id: int, body: ReceiverBody) -> ReceiverView:
    """Change a receiver; what waits goes by the new way.

    Raises
    ------
    RequestError
        If its name is taken, or the version it was read at is not said.
    ChangedMeanwhileError
        If it stands at another version than the one that was read.
    """
    if body.version is None:
        msg = "Say the version the receiver was read at, as it was answered."
        raise RequestError(msg)
    _keep_out_of_data(workspace, body.receiver)
    with transaction(workspace.sessions) as session:
        kept = found(session, receiver_id)
        newest = kept.version == body.version
        if newest and kept.receiver != body.receiver:
            _keep_name_free(session, body.name, but=receiver_id)
            kept = receivers.change(session, receiver_id, body.receiver)
        answer = _view(kept)
    if not newest:
        msg = (
            f"“{answer.name}” was changed meanwhile (version {answer.version}, yours was "
            f"{body.version}). Look at it again, then change it."
        )
        raise ChangedMeanwhileError(msg, answer)
    return answer


def delete(workspace: Workspace, receiver_id: int, now: datetime) -> ReceiverView:
    """Delete a receiver; what it received is kept, and it can be brought back."""
    with transaction(workspace.sessions) as session:
        answer = _view(found(session, receiver_id))
        receivers.set_deleted(session, receiver_id, now)
    return answer


def bring_back(workspace: Workspace, receiver_id: int) -> ReceiverView:
    """Bring a deleted receiver back.

    Raises
    ------
    RequestError
        If another has its name by now.
    """
    with transaction(workspace.sessions) as session:
        kept = receivers.find(session, receiver_id)
        if kept is None:
            msg = f"There is no receiver {receiver_id}."
            raise NotFoundError(msg)
        _keep_name_free(session, kept.receiver.name, but=receiver_id)
        receivers.set_deleted(session, receiver_id, None)
        return _view(kept)


def know_host(workspace: Workspace, receiver_id: int, host_key: str, version: int) -> ReceiverView:
    """Keep the key of a receiver's host, once a person has confirmed it.

    Raises
    ------
    RequestError
        If the receiver is not reached by SFTP.
    """
    with reading(workspace.sessions) as session:
        receiver = found(session, receiver_id).receiver
    if not isinstance(receiver.way, SftpWay):
        msg = f"“{receiver.name}” is not reached by SFTP; it has no host key."
        raise RequestError(msg)
    way = receiver.way.model_copy(update={"host_key": host_key})
    body = ReceiverBody(name=receiver.name, takes=receiver.takes, way=way, version=version)
    return change(workspace, receiver_id, body)


def rehearse(
    workspace: Workspace, receiver_id: int, *, rehearsing: bool, fault: Fault | None
) -> ReceiverView:
    """Let files go to a receiver's stand-in, with a fault if one is named, or to itself again."""
    with transaction(workspace.sessions) as session:
        kept = found(session, receiver_id)
        if rehearsing and fault is not None and isinstance(kept.receiver.way, FolderWay):
            msg = "A folder has no such fault. Take its drive away, or fill it."
            raise RequestError(msg)
        receivers.set_rehearsing(session, receiver_id, rehearsing=rehearsing, fault=fault)
        return _view(found(session, receiver_id))


def export(workspace: Workspace) -> str:
    """Return all receivers as JSON, as they are exchanged; no secret is in it."""
    with reading(workspace.sessions) as session:
        return write_receivers(tuple(kept.receiver for kept in receivers.every(session)))


def take_in(workspace: Workspace, text: str, *, replace: bool = False) -> list[ReceiverView]:
    """Keep the receivers of a file, all of them or none.

    Raises
    ------
    ReceiverError
        If the file can't be read as receivers.
    RequestError
        If a name is taken, and it is not to be replaced.
    """
    every_new = read_receivers(text)
    for receiver in every_new:
        _keep_out_of_data(workspace, receiver)
    with transaction(workspace.sessions) as session:
        return [_view(_taken_in(session, receiver, replace=replace)) for receiver in every_new]


def _taken_in(session: Session, receiver: Receiver, *, replace: bool) -> KeptReceiver:
    same = _of_name(receivers.every(session), receiver.name)
    if same is not None and replace:
        return receivers.change(session, same.id, receiver)
    _keep_name_free(session, receiver.name)
    return receivers.add(session, receiver)


def _keep_out_of_data(workspace: Workspace, receiver: Receiver) -> None:
    """Refuse a folder that is Oak Ledge's own: its files would be taken for others."""
    own, way = workspace.data.resolve(), receiver.way
    if isinstance(way, FolderWay) and Path(way.path).resolve().is_relative_to(own):
        msg = f"{way.path} is Oak Ledge's own. Choose a folder outside {own}."
        raise RequestError(msg)


def _keep_name_free(session: Session, name: str, but: int | None = None) -> None:
    same = _of_name(receivers.every(session), name)
    if same is not None and same.id != but:
        msg = f"There is a receiver “{same.receiver.name}” already. Choose another name, or change it."
        raise RequestError(msg)


def _of_name(there: Sequence[KeptReceiver], name: str) -> KeptReceiver | None:
    wanted = name.casefold()
    return next((kept for kept in there if kept.receiver.name.casefold() == wanted), None)


def _view(kept: KeptReceiver) -> ReceiverView:
    receiver = kept.receiver
    pixels = receiver.takes.pixels or ()
    face = pixels[0] if len(pixels) == 1 and max(pixels[0]) <= _MOST_DOTS else None
    return ReceiverView(
        id=kept.id,
        version=kept.version,
        receiver_version=receiver.receiver_version,
        name=receiver.name,
        takes=receiver.takes,
        way=receiver.way,
        facts=facts(receiver.takes),
        sentence=say_takes(receiver.takes),
        way_words=say_way(receiver.way),
        paused=kept.paused,
        rehearsing=kept.rehearsing,
        fault=kept.fault,
        face=face,
    )
