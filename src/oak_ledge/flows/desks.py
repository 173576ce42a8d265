"""Handing files to the stand-in receivers: rehearsed first, then sent, each answer kept."""

from __future__ import annotations

import time
from dataclasses import replace
from datetime import datetime

from pydantic import BaseModel

from oak_ledge.core.errors import CoreError
from oak_ledge.core.pixels.proof import differences, measure
from oak_ledge.core.placements import size_at
from oak_ledge.desks import DESKS, Answer, Desk, Parcel
from oak_ledge.flows.deliveries import folder_of
from oak_ledge.flows.workspace import AskedError, NotFoundError, Workspace
from oak_ledge.store import deliveries, desks, placements
from oak_ledge.store.database import transaction
from oak_ledge.store.deliveries import DeliveryFile
from oak_ledge.store.desks import Fault, Receipt, Stands

SLOW = 1.5  # seconds for each file at a desk that is slow
BROKE_OFF = "the line broke off; what was received before stays received. Send again"
CLOSED = "the desk refuses everything today"


class DeskView(BaseModel):
    name: str
    title: str
    wants: str
    fault: Fault
    hung: bool


class RefusedFile(BaseModel):
    file: str
    why: str
    mends: tuple[str, ...]


class DeskAnswer(BaseModel):
    """What a desk would say, or said, of a delivery's files that are meant for it."""

    words: str
    accepted: list[str]
    refused: list[RefusedFile]


def every(workspace: Workspace) -> list[DeskView]:
    with transaction(workspace.sessions) as session:
        return [_view(desk, desks.stands(session, desk.name)) for desk in DESKS.values()]


def received(workspace: Workspace) -> dict[str, list[Receipt]]:
    """What each desk received and answered, the newest first."""
    with transaction(workspace.sessions) as session:
        return {name: desks.received(session, name) for name in DESKS}


def stand(workspace: Workspace, name: str, fault: Fault | None, *, reset: bool) -> DeskView:
    """Switch a fault on or off at a desk, or reset one that hangs."""
    desk = _desk(name)
    with transaction(workspace.sessions) as session:
        now = desks.stands(session, name)
        now = Stands(fault or now.fault, now.hung and not reset)
        desks.set_stands(session, name, now)
    return _view(desk, now)


def rehearse(workspace: Workspace, name: str, delivery_id: int) -> DeskAnswer:
    """Tell what a desk would answer to the files of a delivery; nothing is sent."""
    desk = _desk(name)
    accepted, refused = [], []
    for file, parcel in _parcels(workspace, desk, delivery_id):
        answer = parcel if isinstance(parcel, Answer) else desk.check(parcel)
        if answer.accepted:
            accepted.append(file.name or "")
        else:
            refused.append(_refused(file, answer))
    return _answer(accepted, refused, "would be accepted")


def send(
    workspace: Workspace, name: str, delivery_id: int, now: datetime, *, unchecked: bool = False
) -> DeskAnswer:
    """Hand a delivery's files to a desk; those it accepted already are not sent twice.

    Every file is measured once more on its way: one that is not as asked is never handed over.
    A file so heavy that it would hang the desk is held back, unless it is sent `unchecked`.
    """
    desk = _desk(name)
    with transaction(workspace.sessions) as session:
        there = {one.file_id for one in desks.received(session, name) if one.accepted}
        stands = desks.stands(session, name)
    accepted, refused = [], []
    for number, (file, parcel) in enumerate(_parcels(workspace, desk, delivery_id), 1):
        if file.id in there:
            accepted.append(file.name or "")
            continue
        answer = (
            parcel
            if isinstance(parcel, Answer)
            else _handed(workspace, desk, stands, file, parcel, number)
        )
        if answer.hangs and unchecked:
            stands = replace(stands, hung=True)
            answer = replace(
                answer, reasons=("it was too heavy: the sign hangs until it is reset",)
            )
            with transaction(workspace.sessions) as session:
                desks.set_stands(session, name, stands)
        if answer.hangs and not unchecked:
            held = "held back: it would hang the sign"
            answer = replace(answer, reasons=(*answer.reasons, held))
        words = "; ".join(answer.reasons) or f"accepted, ticket {name}-{delivery_id}-{file.id}"
        with transaction(workspace.sessions) as session:
            desks.add(session, name, file.id, words, now, accepted=answer.accepted)
        if answer.accepted:
            accepted.append(file.name or "")
        else:
            refused.append(_refused(file, answer))
    return _answer(accepted, refused, "accepted")


def _handed(
    workspace: Workspace,
    desk: Desk,
    stands: Stands,
    file: DeliveryFile,
    parcel: Parcel,
    number: int,
) -> Answer:
    """What a desk answers to one file, its faults included."""
    if stands.hung:
        return Answer((f"{desk.title} hangs; reset it on the page of desks first",))
    if stands.fault == "refuses":
        return Answer((CLOSED,))
    if stands.fault == "breaks off" and number > 1:
        return Answer((BROKE_OFF,))
    if stands.fault == "slow":
        time.sleep(SLOW)
    with transaction(workspace.sessions) as session:
        placed = placements.find(session, file.placement_id)
    if placed is not None:
        wrong = differences(size_at(placed.size, placed.placement), file.asked, parcel.measured)
        if wrong:
            return Answer((f"held back: it is not as asked any more ({'; '.join(wrong)})",))
    return desk.check(parcel)


def _parcels(
    workspace: Workspace, desk: Desk, delivery_id: int
) -> list[tuple[DeliveryFile, Parcel | Answer]]:
    """The made files of a delivery that are meant for a desk, measured from disk.

    In place of one that is gone or damaged stands why it is not handed over.
    """
    with transaction(workspace.sessions) as session:
        found = deliveries.find(session, delivery_id)
        if found is None:
            msg = f"There is no delivery {delivery_id}."
            raise NotFoundError(msg)
        made = [file for file in found.files if file.state == "made" and file.name]
        groups = {
            file.id: placed.size.group
            for file in made
            if (placed := placements.find(session, file.placement_id)) is not None
        }
    parcels: list[tuple[DeliveryFile, Parcel | Answer]] = []
    for file in made:
        path = folder_of(workspace, delivery_id) / (file.name or "")
        assert file.measured is not None  # as it was made
        parcel = Parcel(path, file.measured, groups.get(file.id, "own"), len(parcels) + 1)
        if not desk.is_for(parcel):
            continue
        try:
            parcels.append((file, replace(parcel, measured=measure(path))))
        except CoreError as exc:
            parcels.append((file, Answer((f"held back: {exc}",))))
    if not parcels:
        msg = f"Nothing in this delivery is for the desk “{desk.title}”. It wants {desk.wants}."
        raise AskedError(msg)
    return parcels


def _answer(accepted: list[str], refused: list[RefusedFile], word: str) -> DeskAnswer:
    words = f"{len(accepted)} of {len(accepted) + len(refused)} {word}"
    return DeskAnswer(words=words, accepted=accepted, refused=refused)


def _refused(file: DeliveryFile, answer: Answer) -> RefusedFile:
    return RefusedFile(file=file.name or "", why="; ".join(answer.reasons), mends=answer.mends)


def _desk(name: str) -> Desk:
    if name not in DESKS:
        msg = f"There is no desk “{name}”; there are {', '.join(DESKS)}."
        raise NotFoundError(msg)
    return DESKS[name]


def _view(desk: Desk, stands: Stands) -> DeskView:
    return DeskView(
        name=desk.name, title=desk.title, wants=desk.wants, fault=stands.fault, hung=stands.hung
    )
