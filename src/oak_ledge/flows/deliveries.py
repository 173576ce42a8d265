"""Deliveries: make the files of placements, measure each, keep what was asked and measured."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from pathlib import Path
from zipfile import ZIP_STORED, ZipFile

from pydantic import BaseModel

from oak_ledge.core.errors import CoreError
from oak_ledge.core.notes import stops
from oak_ledge.core.pixels.proof import Asked, Measured, ProofLine, asked_of, prove
from oak_ledge.core.placements import asked_pixels, held_at, size_at
from oak_ledge.flows.figures import compute
from oak_ledge.flows.making import Work, make
from oak_ledge.flows.workspace import AskedError, NotFoundError, Workspace
from oak_ledge.store import deliveries, jobs, placements
from oak_ledge.store.database import transaction
from oak_ledge.store.deliveries import DeliveryState, FileState
from oak_ledge.store.photos import original
from oak_ledge.store.placements import Placed


class FileView(BaseModel):
    placement_id: int
    delivery_id: int
    name: str | None
    state: FileState
    reason: str | None
    asked: Asked
    measured: Measured | None
    proof: tuple[ProofLine, ...]


class DeliveryView(BaseModel):
    id: int
    job_id: int
    state: DeliveryState
    files: list[FileView]


def deliver(
    workspace: Workspace, job_id: int, placement_ids: Sequence[int] | None, now: datetime
) -> DeliveryView:
    """Make the files of a job's placements (all of them, or those named) and measure each.

    What is asked is written down before the first file is begun, and each file's outcome as it
    is known, so that a kill at any moment leaves a true account.
    """
    with transaction(workspace.sessions) as session:
        job = jobs.find(session, job_id)
        if job is None:
            msg = f"There is no job {job_id}."
            raise NotFoundError(msg)
        chosen = {placed.id: placed for placed in jobs.placements(session, job_id)}
        for placement_id in placement_ids or ():
            if placement_id not in chosen:
                msg = f"Job {job_id} has no placement {placement_id}."
                raise NotFoundError(msg)
        todo = [p for p in chosen.values() if placement_ids is None or p.id in placement_ids]
        if not todo:
            msg = "There is nothing to make: name at least one placement."
            raise AskedError(msg)
        asked = [(placed.id, _asked(placed)) for placed in todo]
        delivery_id = deliveries.add(session, job_id, asked, now)
        files = deliveries.find(session, delivery_id)
    for number, (placed, file) in enumerate(
        zip(todo, files.files if files else (), strict=True), 1
    ):
        _make_one(workspace, placed, file.id, delivery_id, job.name, number, now)
    with transaction(workspace.sessions) as session:
        deliveries.finish(session, delivery_id)
    return view(workspace, delivery_id)


def _make_one(
    workspace: Workspace, placed: Placed, file_id: int, delivery_id: int, job: str, number: int,
    now: datetime,
) -> None:  # fmt: skip
    _, noted = compute(placed.size, placed.photo.facts, placed.placement, keeps=placed.photo.keeps)
    stop = next(stops(noted), None)
    try:
        if stop is not None:
            with transaction(workspace.sessions) as session:
                deliveries.file_failed(session, file_id, stop.text)
            return
        work = Work(
            path=original(workspace.originals, placed.photo),
            photo_name=placed.photo.name,
            photo=placed.photo.facts,
            size=placed.size,
            placement=placed.placement,
            job=job,
            number=number,
        )
        made = make(work, folder_of(workspace, delivery_id), workspace.limits)
    except CoreError as exc:
        with transaction(workspace.sessions) as session:
            deliveries.file_failed(session, file_id, str(exc))
        return
    with transaction(workspace.sessions) as session:
        deliveries.file_made(session, file_id, made.path.name, made.measured)
        placements.set_state(session, placed.id, "made", now)


def _asked(placed: Placed) -> Asked:
    size = size_at(placed.size, placed.placement)
    held = held_at(placed.size, placed.photo.facts.held, placed.placement)
    return asked_of(size, asked_pixels(size, held, placed.placement))


def folder_of(workspace: Workspace, delivery_id: int) -> Path:
    return workspace.deliveries / str(delivery_id)


def view(workspace: Workspace, delivery_id: int) -> DeliveryView:
    with transaction(workspace.sessions) as session:
        found = deliveries.find(session, delivery_id)
        if found is None:
            msg = f"There is no delivery {delivery_id}."
            raise NotFoundError(msg)
        files = [_file_view(placements.find(session, f.placement_id), f) for f in found.files]
    return DeliveryView(id=found.id, job_id=found.job_id, state=found.state, files=files)


def newest_file(workspace: Workspace, placement_id: int) -> FileView | None:
    """The last file made of a placement, for its proof on the bench."""
    with transaction(workspace.sessions) as session:
        file = deliveries.newest_file(session, placement_id)
        placed = placements.find(session, placement_id)
    return None if file is None else _file_view(placed, file)


def file_path(workspace: Workspace, delivery_id: int, name: str) -> Path:
    """Where a made file lies; only names the delivery itself has written are answered."""
    names = {file.name for file in view(workspace, delivery_id).files if file.state == "made"}
    path = folder_of(workspace, delivery_id) / name
    if name not in names or not path.is_file():
        msg = f"Delivery {delivery_id} has no file “{name}”."
        raise NotFoundError(msg)
    return path


def archive(workspace: Workspace, delivery_id: int) -> Path:
    """All files of a delivery as one archive, written beside them."""
    found = view(workspace, delivery_id)
    folder = folder_of(workspace, delivery_id)
    made = [folder / file.name for file in found.files if file.state == "made" and file.name]
    if not made:
        msg = f"Delivery {delivery_id} has no files yet."
        raise NotFoundError(msg)
    part = folder / ".archive.zip.part"
    with ZipFile(part, "w", ZIP_STORED) as archive_file:
        for path in made:
            archive_file.write(path, path.name)
    return part.replace(folder / f"delivery-{delivery_id}.zip")


def _file_view(placed: Placed | None, file: deliveries.DeliveryFile) -> FileView:
    proof: tuple[ProofLine, ...] = ()
    if placed is not None and file.measured is not None:
        proof = prove(size_at(placed.size, placed.placement), file.asked, file.measured)
    return FileView(
        placement_id=file.placement_id,
        delivery_id=file.delivery_id,
        name=file.name,
        state=file.state,
        reason=file.reason,
        asked=file.asked,
        measured=file.measured,
        proof=proof,
    )
