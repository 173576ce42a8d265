"""Would it be accepted? What a receiver would say of files, made or not yet, and the fix in one step."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from pathlib import Path
from typing import Literal

from pydantic import BaseModel

from oak_ledge.core.errors import CoreError
from oak_ledge.core.files.proof import Measured, differences
from oak_ledge.core.notes.note import stops
from oak_ledge.core.pixels.prove.measure import measure
from oak_ledge.core.pixels.subject.dropper import one_colour_around
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.receivers.answer import Answer, Parcel, Reason, asked_of_receiver
from oak_ledge.core.receivers.fixed import fixed
from oak_ledge.core.receivers.foreseen import foreseen
from oak_ledge.core.receivers.receiver import Receiver
from oak_ledge.core.receivers.takes import is_meant
from oak_ledge.core.receivers.words import say_takes
from oak_ledge.core.sizes.size import Size
from oak_ledge.flows.delivery.deliveries import DeliveryView, find_delivery, folder_of
from oak_ledge.flows.delivery.orders import Planned, again, plan
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.pieces.pictures import piece_preview
from oak_ledge.flows.pieces.pieces import figures_of
from oak_ledge.flows.receivers.receivers import found
from oak_ledge.flows.scene.cut_outs import cut_out_in
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs, placements
from oak_ledge.store.database import reading, transaction
from oak_ledge.store.errors import disk_words
from oak_ledge.store.placements import Placed
from oak_ledge.store.work.deliveries import DeliveryFile

# Pixels of a piece's edge, to look at its ground before its file is made.
PICTURE = 600

_NOT_THERE = "There is no such file."
CheckState = Literal["accepted", "refused", "failed"]


class CheckedFile(BaseModel):
    """What a receiver would say of a file: refused with reasons and fixes, or failed where it can't be read."""

    file: str
    state: CheckState
    reasons: tuple[str, ...] = ()
    fixes: tuple[str, ...] = ()
    """what would be done about it in one step"""
    tries: int = 0
    receipt: str | None = None
    file_id: int | None = None
    """None of a file that is not made yet, or of no delivery"""
    placement_id: int | None = None


class Checked(BaseModel):
    """What a receiver would say of several files, in words and file by file."""

    words: str
    files: list[CheckedFile]


@dataclass(frozen=True)
class Candidate:
    """A file of a delivery that is meant for a receiver, measured once more, and what is said of it."""

    file: DeliveryFile
    path: Path
    measured: Measured | None
    answer: Answer
    readable: bool = True


def check_files(
    receiver: Receiver, paths: Sequence[Path]
) -> list[tuple[Path, CheckedFile, Measured | None]]:
    """Return what a receiver would say of files on disk, in their order."""
    return [_of_path(receiver, path, number) for number, path in enumerate(paths, 1)]


def _of_path(
    receiver: Receiver, path: Path, number: int
) -> tuple[Path, CheckedFile, Measured | None]:
    if not path.is_file():
        return path, CheckedFile(file=str(path), state="failed", reasons=(_NOT_THERE,)), None
    try:
        measured = measure(path)
        answer = asked_of_receiver(receiver.takes, _parcel(receiver, path, measured, number))
    except (CoreError, OSError) as exc:
        return path, CheckedFile(file=str(path), state="failed", reasons=(_why(exc),)), None
    return path, _checked(str(path), answer), measured


def _why(exc: Exception) -> str:
    return disk_words(exc) if isinstance(exc, OSError) else str(exc)


def _parcel(receiver: Receiver, path: Path, measured: Measured, number: int) -> Parcel:
    looks = number == 1 and receiver.takes.first_on_plain_ground
    return Parcel(measured, number, one_colour_around(path) if looks else None)


def check_file(workspace: Workspace, receiver_id: int, path: Path, name: str) -> Checked:
    """Return what a receiver would say of one file that is no delivery's."""
    with reading(workspace.sessions) as session:
        receiver = found(session, receiver_id).receiver
    _, checked, _ = _of_path(receiver, path, 1)
    return _answered([checked.model_copy(update={"file": name})], "would be accepted")


def check_delivery(workspace: Workspace, receiver_id: int, delivery_id: int) -> Checked:
    """Return what a receiver would say of the files of a delivery; nothing is sent."""
    with reading(workspace.sessions) as session:
        receiver = found(session, receiver_id).receiver
    files = [of_candidate(part) for part in candidates(workspace, receiver, delivery_id)]
    return _answered(files, "would be accepted")


def of_candidate(candidate: Candidate) -> CheckedFile:
    """Return what is said of a delivery's file."""
    file = candidate.file
    checked = _checked(file.name or "", candidate.answer, file.id, file.placement_id)
    return checked if candidate.readable else checked.model_copy(update={"state": "failed"})


def _checked(
    name: str, answer: Answer, file_id: int | None = None, placement_id: int | None = None
) -> CheckedFile:
    return CheckedFile(
        file=name,
        state="accepted" if answer.accepted else "refused",
        reasons=answer.words,
        fixes=tuple(fix.words for fix in answer.fixes),
        file_id=file_id,
        placement_id=placement_id,
    )


def _answered(files: Sequence[CheckedFile], word: str) -> Checked:
    count = sum(file.state == "accepted" for file in files)
    return Checked(words=f"{count} of {len(files)} {word}", files=[*files])


def candidates(workspace: Workspace, receiver: Receiver, delivery_id: int) -> list[Candidate]:
    """Return the made files of a delivery that are meant for a receiver, each measured once more.

    Raises
    ------
    RequestError
        If no file of it is made, or none is meant for the receiver.
    """
    with reading(workspace.sessions) as session:
        delivery = find_delivery(session, delivery_id)
    made = [file for file in delivery.files if file.state == "made" and file.name]
    if not made:
        msg = "No file of this delivery is made yet."
        raise RequestError(msg)
    folder = folder_of(workspace, delivery_id)
    meant = [file for file in made if _is_for(receiver, size_at(file.size, file.placement))]
    if not meant:
        raise RequestError(_nothing_for(receiver, "this delivery"))
    return [_candidate(receiver, file, folder, number) for number, file in enumerate(meant, 1)]


def _candidate(receiver: Receiver, file: DeliveryFile, folder: Path, number: int) -> Candidate:
    path = folder / (file.name or "")
    try:
        measured = measure(path, file.asked.ppi if file.asked.format == "pdf" else None)
        parcel = _parcel(receiver, path, measured, number)
    except (CoreError, OSError) as exc:
        return Candidate(file, path, None, Answer((Reason(_why(exc)),)), readable=False)
    known = None if file.measured is None else file.measured.sha256
    if known not in (None, measured.sha256):
        why = "it is not as it was when it was measured; make it again"
        return Candidate(file, path, measured, Answer((Reason(why),)), readable=False)
    wrong = differences(size_at(file.size, file.placement), file.asked, measured)
    if wrong:
        why = f"it is not as asked any more ({'; '.join(wrong)})"
        return Candidate(file, path, measured, Answer((Reason(why),)), readable=False)
    return Candidate(file, path, measured, asked_of_receiver(receiver.takes, parcel))


def check_plan(
    workspace: Workspace, receiver_id: int, job_id: int, placement_ids: Sequence[int] | None = None
) -> Checked:
    """Return what a receiver would say of files that are not made yet, as they are planned.

    Their pixels, resolution, format and profile are those they will have; their bytes are
    estimated, where their photos have been weighed. Where none is meant for it, that is said.
    """
    with reading(workspace.sessions) as session:
        receiver = found(session, receiver_id).receiver
        every = {placed.id: placed for placed in jobs.placements(session, job_id)}
    files: list[CheckedFile] = []
    for planned in plan(workspace, job_id, placement_ids):
        placed = every[planned.placement_id]
        if planned.held is None and _is_for(receiver, placed.lying.size):
            answer = _foresaid(workspace, receiver, planned, placed, len(files) + 1)
            files.append(_checked(planned.name, answer, placement_id=placed.id))
    if not files:
        return Checked(words=_nothing_for(receiver, "this job").rstrip("."), files=[])
    return _answered(files, "would be accepted, by estimated bytes")


def _nothing_for(receiver: Receiver, where: str) -> str:
    return (
        f"Nothing in {where} is for “{receiver.name}”. {say_takes(receiver.takes)} "
        "Where a size is for it all the same, name the receiver in the size."
    )


def _is_for(receiver: Receiver, size: Size) -> bool:
    if size.goes_to:
        return size.goes_to.casefold() == receiver.name.casefold()
    return is_meant(receiver.takes, size.group)


def _foresaid(
    workspace: Workspace, receiver: Receiver, planned: Planned, placed: Placed, number: int
) -> Answer:
    plain = None
    if number == 1 and receiver.takes.first_on_plain_ground:
        plain = one_colour_around(piece_preview(workspace, placed, PICTURE))
    measured = foreseen(placed.lying, placed.photo.facts, planned.about_bytes or 0)
    return asked_of_receiver(receiver.takes, Parcel(measured, number, plain))


def fix(
    workspace: Workspace, receiver_id: int, delivery_id: int, file_id: int, now: datetime
) -> DeliveryView:
    """Do all that would fix a file for a receiver, as one step of its piece, and make it again.

    Raises
    ------
    RequestError
        If the receiver has nothing against the file, nothing can be fixed here, or it could not be
        made then.
    CoreError
        If the piece can't be as the receiver wants it; nothing is changed then.
    """
    with reading(workspace.sessions) as session:
        receiver = found(session, receiver_id).receiver
    there = candidates(workspace, receiver, delivery_id)
    candidate = next((part for part in there if part.file.id == file_id), None)
    if candidate is not None and candidate.file.sheet is not None:
        msg = "A sheet is fixed on its own page: lay it out otherwise, and make it again."
        raise RequestError(msg)
    if candidate is None or not candidate.answer.fixes:
        msg = (
            f"Delivery {delivery_id} has no file {file_id} that can be fixed for “{receiver.name}”."
        )
        raise RequestError(msg)
    with transaction(workspace.sessions) as session:
        placed = placements.find(session, candidate.file.placement_id)
        if placed is None:
            msg = "Its piece was taken away meanwhile."
            raise RequestError(msg)
        lying = fixed(placed.size, placed.photo.facts.upright, placed.placement, candidate.answer)
        stop = next(stops(figures_of(replace(placed, placement=lying))[1]), None)
        if stop is not None:
            msg = f"Fixed like that it could not be made: {stop.text}"
            raise RequestError(msg)
        cuts = any(offered.wish.cut_out for offered in candidate.answer.fixes)
        step = cut_out_in(session, placed) if cuts else None
        placements.keep(session, placed.id, lying, f"fixed for {receiver.name}", now, step)
    return again(workspace, delivery_id, file_id, now)
