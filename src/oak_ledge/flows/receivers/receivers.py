"""Handing files to the stand-in receivers: rehearsed first, then sent, each answer kept."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from pathlib import Path

from pydantic import BaseModel

from oak_ledge.core.errors import CoreError
from oak_ledge.core.files.proof import Measured, differences
from oak_ledge.core.files.wishes import granted
from oak_ledge.core.notes.note import stops
from oak_ledge.core.pixels.prove.measure import measure
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.sizes.text.sentence import profile_words
from oak_ledge.desks import DESKS, Answer, Desk, Parcel
from oak_ledge.flows.delivery.deliveries import DeliveryView, folder_of
from oak_ledge.flows.delivery.orders import Planned, again, plan
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.pieces.pictures import piece_preview
from oak_ledge.flows.pieces.pieces import figures_of
from oak_ledge.flows.scene.cut_outs import cut_out_in
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import desks, jobs, placements
from oak_ledge.store.database import reading, transaction
from oak_ledge.store.desks import Fault, Receipt, Stands
from oak_ledge.store.placements import Placed
from oak_ledge.store.work import deliveries
from oak_ledge.store.work.deliveries import DeliveryFile

# Pixels of a piece's edge, to look at its ground before its file is made.
PICTURE = 600


# Seconds for each file at a desk that is slow.
SLOW = 1.5


BROKE_OFF = "the line broke off; what was received before stays received. Send again"


CLOSED = "the desk refuses everything today"


class DeskView(BaseModel):
    """A receiver to rehearse with: its rules in words, and how it stands."""

    name: str
    title: str
    wants: str
    fault: Fault
    hung: bool


class RefusedFile(BaseModel):
    """A file that a receiver refused, its reasons, and what would fix them."""

    file: str
    file_id: int | None
    """None of a file that is not made yet"""
    placement_id: int
    why: str
    fixes: tuple[str, ...]
    """what would be done about it in one step"""


class DeskAnswer(BaseModel):
    """What a desk would say, or said, of a delivery's files that are meant for it."""

    words: str
    accepted: list[str]
    refused: list[RefusedFile]


def every(workspace: Workspace) -> list[DeskView]:
    """Return all receivers to rehearse with."""
    with reading(workspace.sessions) as session:
        return [_view(desk, desks.stands(session, desk.name)) for desk in DESKS.values()]


def received(workspace: Workspace) -> dict[str, list[Receipt]]:
    """Return what each desk received and answered, the newest first."""
    with reading(workspace.sessions) as session:
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
    """Return what a desk would answer to the files of a delivery; nothing is sent."""
    desk = _desk(name)
    parcels = _parcels(workspace, desk, delivery_id)
    return _answer([(file, _said(desk, parcel)) for file, parcel in parcels], "would be accepted")


def rehearse_plan(
    workspace: Workspace, name: str, job_id: int, placement_ids: Sequence[int] | None
) -> DeskAnswer:
    """Return what a desk would answer to files that are not made yet, as they are planned.

    Their pixels, resolution, format and profile are those they will have; their bytes are
    estimated, where their photos have been weighed.
    """
    desk = _desk(name)
    with reading(workspace.sessions) as session:
        every = {placed.id: placed for placed in jobs.placements(session, job_id)}
    answers: list[tuple[DeliveryFile | Planned, Answer]] = []
    for planned in plan(workspace, job_id, placement_ids):
        placed = every[planned.placement_id]
        group = size_at(placed.size, placed.placement).group
        parcel = Parcel(Path(), _foreseen(planned, placed), group, len(answers) + 1)
        if planned.held is not None or not desk.is_for(parcel):
            continue
        if parcel.number == 1:
            parcel = replace(parcel, path=piece_preview(workspace, placed, PICTURE))
        answers.append((planned, desk.check(parcel)))
    if not answers:
        raise RequestError(_nothing_for(desk, "this job"))
    return _answer(answers, "would be accepted, by estimated bytes")


def _foreseen(planned: Planned, placed: Placed) -> Measured:
    """Return what will be measured of a file, as far as it is known before."""
    size = size_at(placed.size, placed.placement)
    tally = figures_of(placed)[0]
    kept = size.file.profile == "keep"
    return Measured(
        width=tally.width,
        height=tally.height,
        ppi=planned.ppi,
        bytes=planned.about_bytes or 0,
        format=size.file.format,
        profile=placed.photo.facts.profile if kept else profile_words(size.file),
        bits=placed.photo.facts.bits,
    )


def fix(
    workspace: Workspace, name: str, delivery_id: int, file_id: int, now: datetime
) -> DeliveryView:
    """Do all that would fix a file for a desk, as one step of its piece, and make it again.

    Raises
    ------
    RequestError
        If the desk has nothing against the file, nothing can be fixed here, or it could not be
        made then.
    CoreError
        If the piece can't be as the desk wants it; nothing is changed then.
    """
    desk = _desk(name)
    parcels = _parcels(workspace, desk, delivery_id)
    file, parcel = next((pair for pair in parcels if pair[0].id == file_id), (None, None))
    if file is not None and file.sheet is not None:
        msg = "A sheet is fixed on its own page: lay it out otherwise, and make it again."
        raise RequestError(msg)
    answer = None if parcel is None else _said(desk, parcel)
    if file is None or answer is None or not answer.fixes:
        msg = f"Delivery {delivery_id} has no file {file_id} that can be fixed for “{desk.title}”."
        raise RequestError(msg)
    with transaction(workspace.sessions) as session:
        placed = placements.find(session, file.placement_id)
        if placed is None:
            msg = "Its piece was taken away meanwhile."
            raise RequestError(msg)
        lying = placed.placement
        for offered in answer.fixes:
            lying = granted(placed.size, placed.photo.facts.upright, lying, offered.wish)
        stop = next(stops(figures_of(replace(placed, placement=lying))[1]), None)
        if stop is not None:
            msg = f"Fixed like that it could not be made: {stop.text}"
            raise RequestError(msg)
        what, cuts = (
            f"fixed for {desk.title.lower()}",
            [offered.wish.cut_out for offered in answer.fixes],
        )
        step = cut_out_in(session, placed) if any(cuts) else None
        placements.keep(session, placed.id, lying, what, now, step)
    return again(workspace, delivery_id, file_id, now)


def send(
    workspace: Workspace, name: str, delivery_id: int, now: datetime, *, unchecked: bool = False
) -> DeskAnswer:
    """Hand a delivery's files to a desk; those it accepted already are not sent twice.

    Every file is measured once more on its way: one that is not as asked is never handed over.
    A file so heavy that it would hang the desk is held back, unless it is sent `unchecked`.
    """
    desk = _desk(name)
    with transaction(workspace.sessions) as session:
        there = {receipt.file_id for receipt in desks.received(session, name) if receipt.accepted}
        stands = desks.stands(session, name)
    answers: list[tuple[DeliveryFile | Planned, Answer]] = []
    for number, (file, parcel) in enumerate(_parcels(workspace, desk, delivery_id), 1):
        if file.id in there:
            answers.append((file, Answer(())))
            continue
        answer = _handed(workspace, desk, stands, file, parcel, number)
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
        answers.append((file, answer))
    return _answer(answers, "accepted")


def _handed(
    workspace: Workspace,
    desk: Desk,
    stands: Stands,
    file: DeliveryFile,
    parcel: Parcel,
    number: int,
) -> Answer:
    """Return what a desk answers to one file, its faults included."""
    read = _read(parcel)
    if isinstance(read, Answer):
        return read
    if stands.hung:
        return Answer((f"{desk.title} hangs; reset it on the page of desks first",))
    if stands.fault == "refuses":
        return Answer((CLOSED,))
    if stands.fault == "breaks off" and number > 1:
        return Answer((BROKE_OFF,))
    if stands.fault == "slow":
        time.sleep(SLOW)
    wrong = differences(size_at(file.size, file.placement), file.asked, read.measured)
    if wrong:
        return Answer((f"held back: it is not as asked any more ({'; '.join(wrong)})",))
    return desk.check(read)


def _said(desk: Desk, parcel: Parcel) -> Answer:
    """Return what a desk that stands as it should says of one file."""
    read = _read(parcel)
    return read if isinstance(read, Answer) else desk.check(read)


def _read(parcel: Parcel) -> Parcel | Answer:
    """Measure a file from disk once more; of one that is not as it was say why it is held back."""
    try:
        measured = measure(parcel.path)
    except (CoreError, OSError) as exc:
        return Answer((f"held back: {exc}",))
    if parcel.measured.sha256 not in (None, measured.sha256):
        return Answer(("held back: it is not as it was when it was measured; make it again",))
    return replace(parcel, measured=measured)


def _parcels(
    workspace: Workspace, desk: Desk, delivery_id: int
) -> list[tuple[DeliveryFile, Parcel]]:
    """Return the made files of a delivery that are meant for a desk, as they were measured when made."""
    with reading(workspace.sessions) as session:
        delivery = deliveries.find(session, delivery_id)
        if delivery is None:
            msg = f"There is no delivery {delivery_id}."
            raise NotFoundError(msg)
        files = [
            file
            for file in delivery.files
            if file.state == "made" and file.name and file.asked.format != "pdf"
        ]
    parcels: list[tuple[DeliveryFile, Parcel]] = []
    for file in files:
        path = folder_of(workspace, delivery_id) / (file.name or "")
        assert file.measured is not None  # as it was made
        group = size_at(file.size, file.placement).group
        parcel = Parcel(path, file.measured, group, len(parcels) + 1)
        if desk.is_for(parcel):
            parcels.append((file, parcel))
    if not parcels:
        raise RequestError(_nothing_for(desk, "this delivery"))
    return parcels


def _answer(answers: Sequence[tuple[DeliveryFile | Planned, Answer]], word: str) -> DeskAnswer:
    accepted = [file.name or "" for file, answer in answers if answer.accepted]
    refused = [_refused(file, answer) for file, answer in answers if not answer.accepted]
    words = f"{len(accepted)} of {len(answers)} {word}"
    return DeskAnswer(words=words, accepted=accepted, refused=refused)


def _nothing_for(desk: Desk, where: str) -> str:
    return f"Nothing in {where} is for the desk “{desk.title}”. It wants {desk.wants}."


def _refused(file: DeliveryFile | Planned, answer: Answer) -> RefusedFile:
    return RefusedFile(
        file=file.name or "",
        file_id=file.id if isinstance(file, DeliveryFile) else None,
        placement_id=file.placement_id,
        why="; ".join(answer.reasons),
        fixes=tuple(fix_offered.words for fix_offered in answer.fixes),
    )


def _desk(name: str) -> Desk:
    if name not in DESKS:
        msg = f"There is no desk “{name}”; there are {', '.join(DESKS)}."
        raise NotFoundError(msg)
    return DESKS[name]


def _view(desk: Desk, stands: Stands) -> DeskView:
    return DeskView(
        name=desk.name, title=desk.title, wants=desk.wants, fault=stands.fault, hung=stands.hung
    )
