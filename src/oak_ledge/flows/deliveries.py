"""Deliveries: what shall be made is written down, made photo by photo, measured, and handed out."""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Callable, Sequence
from contextlib import ExitStack, suppress
from dataclasses import replace
from datetime import datetime
from pathlib import Path

from pydantic import BaseModel

from oak_ledge.core.errors import CoreError
from oak_ledge.core.names import unlike
from oak_ledge.core.notes import stops
from oak_ledge.core.pixels.files import ENDINGS
from oak_ledge.core.pixels.photos import decoded_once
from oak_ledge.core.pixels.proof import Asked, Measured, ProofLine, asked_of, prove
from oak_ledge.core.pixels.weight import estimate
from oak_ledge.core.placements import asked_pixels, held_at, size_at
from oak_ledge.core.size_text import size_name
from oak_ledge.flows.jobs import find_job
from oak_ledge.flows.making import Work, draw, finish, stem_of
from oak_ledge.flows.pieces import figures_of
from oak_ledge.flows.previews import weights_of
from oak_ledge.flows.workspace import AskedError, NotFoundError, Workspace
from oak_ledge.store import deliveries, jobs, placements
from oak_ledge.store.database import Session, transaction
from oak_ledge.store.deliveries import Delivery, DeliveryFile, DeliveryState, FileState, Wanted
from oak_ledge.store.photos import original
from oak_ledge.store.placements import Placed

LEFT_OUT = "You stopped this delivery before the file was made. Make it again."
CHUNK = 1 << 20
FEW = 24  # photos that are weighed for a plan; of more only those weighed before have their bytes told


class FileView(BaseModel):
    id: int
    placement_id: int
    photo_id: int
    delivery_id: int
    name: str | None
    photo_name: str
    size_name: str
    """both nothing where the piece was taken away meanwhile"""
    state: FileState
    reason: str | None
    asked: Asked
    measured: Measured | None
    proof: tuple[ProofLine, ...]


class DeliveryView(BaseModel):
    id: int
    job_id: int
    job_name: str
    state: DeliveryState
    files: list[FileView]
    counts: dict[str, int]
    seconds_left: int | None
    """by how long the files so far took; None before the first and when nothing is left"""
    bytes: int
    """of all files made"""


class Planned(BaseModel):
    """One file that would be made; `held` says why it would not, `same_as` where it already is."""

    placement_id: int
    name: str
    pixels: str
    ppi: float | None
    at_most: int | None
    about_bytes: int | None
    held: str | None
    to_look_at: bool
    same_as: str | None
    """the last file of this placement, where nothing it is made of changed since"""


def plan(workspace: Workspace, job_id: int, placement_ids: Sequence[int] | None) -> list[Planned]:
    """Tell what would be made of a job's placements; nothing is."""
    with transaction(workspace.sessions) as session:
        name, todo = _chosen(session, job_id, placement_ids)
        known = deliveries.last_made(session, job_id)
    few = len({placed.photo.id for placed in todo}) <= FEW
    return [_planned(workspace, one, known, weigh=few) for one in _wanted(workspace, name, todo)]


def deliver(
    workspace: Workspace,
    job_id: int,
    placement_ids: Sequence[int] | None,
    now: datetime,
    *,
    only_changed: bool = False,
) -> DeliveryView:
    """Have the files of a job's placements made (all of them, or those named), each measured.

    What is asked is written down before the first file is begun, its name too, and each file's
    outcome as it is known: a kill at any moment leaves a true account, and what was being made is
    made again under the same name. With `only_changed` what is as it was when last made is left out.

    Raises
    ------
    AskedError
        If there is nothing to make.
    """
    with transaction(workspace.sessions) as session:
        name, todo = _chosen(session, job_id, placement_ids)
        wanted = [one for one, _ in _wanted(workspace, name, todo)]
        if only_changed:
            known = deliveries.last_made(session, job_id)
            wanted = [one for one in wanted if not _as_last_time(workspace, one, known)]
        if not wanted:
            msg = (
                "Nothing changed since these files were made; they are as they were."
                if only_changed
                else "There is nothing to make: name at least one placement."
            )
            raise AskedError(msg)
        delivery_id = deliveries.add(session, job_id, wanted, now)
    _have_made(workspace, now)
    return view(workspace, delivery_id, now)


def _have_made(workspace: Workspace, now: datetime) -> None:
    """Ask the workers for what waits; without workers it is made at once."""
    if workspace.ask is None:
        make_what_waits(workspace, "here", lambda: now)
    ask_for_all(workspace)


def ask_for_all(workspace: Workspace) -> None:
    """Ask the workers for all that waits, also again: what was asked before may be lost."""
    if workspace.ask is not None:
        with transaction(workspace.sessions) as session:
            waiting = deliveries.groups_waiting(session)
        workspace.ask(waiting)


def ask_again(workspace: Workspace) -> None:
    """Ask for what waits while nobody is at work: what was asked may be lost with its queue."""
    with transaction(workspace.sessions) as session:
        idle = not deliveries.any_running(session)
    if idle:
        ask_for_all(workspace)


def lost_worker(workspace: Workspace, worker: str) -> None:
    """A worker is no more: what it was at is asked for again."""
    with transaction(workspace.sessions) as session:
        deliveries.put_back(session, worker)
    ask_for_all(workspace)


def make_what_waits(workspace: Workspace, worker: str, clock: Callable[[], datetime]) -> None:
    """Make photo after photo until nothing waits."""
    while make_next(workspace, worker, clock):
        pass


def make_next(workspace: Workspace, worker: str, clock: Callable[[], datetime]) -> bool:
    """Make the next files of one photo, decoded once; False where nothing waits."""
    with transaction(workspace.sessions) as session:
        files = deliveries.claim(session, worker, workspace.limits.flight_pixels)
        if not files:
            return False
        placed = {one.placement_id: placements.find(session, one.placement_id) for one in files}
        job = jobs.find(session, found.job_id) if (found := next(iter(placed.values()))) else None
    with ExitStack() as held:
        first = next((one for one in placed.values() if one is not None), None)
        if len(files) > 1 and first is not None:
            path = original(workspace.originals, first.photo)
            with suppress(CoreError, OSError):  # what is wrong with it is told file by file
                held.enter_context(decoded_once(path, most_bytes=workspace.limits.held_bytes))
        for file in files:
            _make_one(workspace, placed[file.placement_id], file, job.name if job else "", clock)
    with transaction(workspace.sessions) as session:
        deliveries.settle(session, files[0].delivery_id)
    return True


def _make_one(
    workspace: Workspace,
    placed: Placed | None,
    file: DeliveryFile,
    job: str,
    clock: Callable[[], datetime],
) -> None:
    """Make and measure one file, and write down what became of it."""
    folder = folder_of(workspace, file.delivery_id)
    try:
        if placed is None or file.name is None:
            msg = "its piece was taken away meanwhile"
            raise AskedError(msg)
        work = _work(workspace, placed, job)
        measured = finish(work, draw(work, workspace.limits), folder, file.name).measured
    except (CoreError, AskedError) as exc:
        _failed(workspace, file, str(exc), clock())
        return
    except OSError as exc:
        _failed(workspace, file, f"{exc.strerror or exc}. Make room, then make it again.", clock())
        return
    with transaction(workspace.sessions) as session:
        deliveries.file_made(session, file.id, measured, clock())
        placements.set_state(session, placed.id, "made", clock())


def _failed(workspace: Workspace, file: DeliveryFile, reason: str, now: datetime) -> None:
    with transaction(workspace.sessions) as session:
        deliveries.file_failed(session, file.id, reason, now)


def _chosen(
    session: Session, job_id: int, placement_ids: Sequence[int] | None
) -> tuple[str, list[Placed]]:
    job = find_job(session, job_id)
    every = {placed.id: placed for placed in jobs.placements(session, job_id)}
    for placement_id in placement_ids or ():
        if placement_id not in every:
            msg = f"Job {job_id} has no placement {placement_id}."
            raise NotFoundError(msg)
    wanted = every if placement_ids is None else dict.fromkeys(placement_ids)
    return job.name, [one for one in every.values() if one.id in wanted]


def _work(workspace: Workspace, placed: Placed, job: str, number: int = 1) -> Work:
    return Work(
        path=original(workspace.originals, placed.photo),
        photo_name=placed.photo.name,
        photo=placed.photo.facts,
        size=placed.size,
        placement=placed.placement,
        job=job,
        number=number,
    )


def _wanted(workspace: Workspace, job: str, todo: Sequence[Placed]) -> list[tuple[Wanted, Placed]]:
    """Give every file its name, unlike all others of the delivery, and hold back what is stopped."""
    names: set[str] = set()
    return [
        (_one_wanted(workspace, job, placed, number, names), placed)
        for number, placed in enumerate(todo, 1)
    ]


def _one_wanted(
    workspace: Workspace, job: str, placed: Placed, number: int, taken: set[str]
) -> Wanted:
    stop = next(stops(figures_of(placed)[1]), None)
    size = size_at(placed.size, placed.placement)
    held = held_at(placed.size, placed.photo.facts.held, placed.placement)
    name, reason = "", None if stop is None else stop.text
    try:
        stem = stem_of(_work(workspace, placed, job, number))
        name = unlike(stem, ENDINGS[size.file.format], taken)
    except CoreError as exc:  # a name pattern that can't be
        reason = str(exc)
    asked = asked_of(size, asked_pixels(size, held, placed.placement))
    return Wanted(placed.id, placed.photo.id, name, asked, _hash(placed), reason)


def _hash(placed: Placed) -> str:
    """Tell by content what a file is made of: the photo, its size, and how it lies."""
    lying = placed.placement.model_dump_json(exclude={"upright"})
    of = f"{placed.photo.hash} {placed.size.model_dump_json()} {lying}"
    return hashlib.sha256(of.encode()).hexdigest()


def _as_last_time(workspace: Workspace, one: Wanted, known: dict[int, DeliveryFile]) -> bool:
    last = known.get(one.placement_id)
    return (last is not None and last.made_of == one.made_of and last.name is not None) and (
        folder_of(workspace, last.delivery_id) / last.name
    ).is_file()


def _planned(
    workspace: Workspace,
    told: tuple[Wanted, Placed],
    known: dict[int, DeliveryFile],
    *,
    weigh: bool,
) -> Planned:
    one, placed = told
    tally, noted = figures_of(placed)
    weights = weights_of(workspace, placed.photo, measure=weigh)
    size = size_at(placed.size, placed.placement)
    asked = (tally.width, tally.height)
    same = _as_last_time(workspace, one, known)
    return Planned(
        placement_id=one.placement_id,
        name=one.name,
        pixels=f"{tally.width} × {tally.height}",
        ppi=tally.ppi,
        at_most=one.asked.at_most,
        about_bytes=None if weights is None else estimate(weights, asked, tally.scale, size.file),
        held=one.held,
        to_look_at=any(note.level == "look" for note in noted),
        same_as=known[one.placement_id].name if same else None,
    )


def pause(workspace: Workspace, delivery_id: int, now: datetime) -> DeliveryView:
    """Begin no further file until it goes on; what is being made is finished."""
    return _turned(workspace, delivery_id, "paused", now)


def go_on(workspace: Workspace, delivery_id: int, now: datetime) -> DeliveryView:
    """Go on with a delivery that was paused."""
    _turned(workspace, delivery_id, "queued", now)
    with transaction(workspace.sessions) as session:
        deliveries.settle(session, delivery_id)
    _have_made(workspace, now)
    return view(workspace, delivery_id, now)


def stop(workspace: Workspace, delivery_id: int, now: datetime) -> DeliveryView:
    """Leave what has not been begun; what is made stays made."""
    with transaction(workspace.sessions) as session:
        _find(session, delivery_id)
        deliveries.drop_queued(session, delivery_id, LEFT_OUT, now)
    return _turned(workspace, delivery_id, "stopped", now)


def again(workspace: Workspace, delivery_id: int, file_id: int, now: datetime) -> DeliveryView:
    """Make one file of a delivery once more, as its piece lies now; under its name, but its ending.

    Raises
    ------
    AskedError
        If the delivery has no such file, or it is being made, or its piece was taken away.
    """
    msg = f"Delivery {delivery_id} has no file {file_id} that could be made again now."
    with transaction(workspace.sessions) as session:
        files = {one.id: (n, one) for n, one in enumerate(_find(session, delivery_id).files, 1)}
        if file_id not in files:
            raise AskedError(msg)
        number, file = files[file_id]
        placed = placements.find(session, file.placement_id)
        job = jobs.find(session, placed.job_id) if placed else None
        if placed is None or job is None:
            raise AskedError(msg)
        taken = {one.name.casefold() for _, one in files.values() if one.name and one is not file}
        wanted = _one_wanted(workspace, job.name, placed, number, taken)
        if file.name and file.made_of == wanted.made_of:
            wanted = replace(wanted, name=file.name)
        if not deliveries.again(session, delivery_id, file_id, wanted):
            raise AskedError(msg)
    if file.name and file.name != wanted.name:
        (folder_of(workspace, delivery_id) / file.name).unlink(missing_ok=True)
    _have_made(workspace, now)
    return view(workspace, delivery_id, now)


def _turned(
    workspace: Workspace, delivery_id: int, state: DeliveryState, now: datetime
) -> DeliveryView:
    with transaction(workspace.sessions) as session:
        if _find(session, delivery_id).state not in ("done", "stopped"):
            deliveries.set_state(session, delivery_id, state)
    return view(workspace, delivery_id, now)


def _find(session: Session, delivery_id: int) -> Delivery:
    found = deliveries.find(session, delivery_id)
    if found is None:
        msg = f"There is no delivery {delivery_id}."
        raise NotFoundError(msg)
    return found


def folder_of(workspace: Workspace, delivery_id: int) -> Path:
    return workspace.deliveries / str(delivery_id)


def view(workspace: Workspace, delivery_id: int, now: datetime | None = None) -> DeliveryView:
    """Tell a delivery; `now` is asked for to tell how long it still takes."""
    with transaction(workspace.sessions) as session:
        found = _find(session, delivery_id)
        job = jobs.find(session, found.job_id)
        placed = placements.find_many(session, [file.placement_id for file in found.files])
        files = [_file_view(placed.get(file.placement_id), file) for file in found.files]
    return DeliveryView(
        id=found.id,
        job_id=found.job_id,
        job_name=job.name if job else "",
        state=found.state,
        files=files,
        counts=dict(Counter(file.state for file in files)),
        seconds_left=_seconds_left(found, now),
        bytes=sum(file.measured.bytes for file in files if file.measured),
    )


def every(workspace: Workspace) -> list[DeliveryView]:
    """All deliveries, the newest first."""
    with transaction(workspace.sessions) as session:
        ids = deliveries.ids(session)
    return [view(workspace, one) for one in ids]


def _seconds_left(found: Delivery, now: datetime | None) -> int | None:
    done = [file.finished for file in found.files if file.finished is not None]
    left = sum(file.state in ("queued", "running") for file in found.files)
    if now is None or not done or not left or found.state == "paused":
        return None
    took = (max(done) - found.added).total_seconds()
    return max(1, round(took / len(done) * left))


def newest_file(workspace: Workspace, placement_id: int) -> FileView | None:
    """The last file made of a placement, for its proof on the bench."""
    with transaction(workspace.sessions) as session:
        file = deliveries.newest_file(session, placement_id)
        placed = placements.find(session, placement_id)
    return None if file is None else _file_view(placed, file)


def _file_view(placed: Placed | None, file: DeliveryFile) -> FileView:
    proof: tuple[ProofLine, ...] = ()
    if placed is not None and file.measured is not None:
        proof = prove(size_at(placed.size, placed.placement), file.asked, file.measured)
    return FileView(
        id=file.id,
        placement_id=file.placement_id,
        photo_id=file.photo_id,
        delivery_id=file.delivery_id,
        name=file.name,
        photo_name="" if placed is None else placed.photo.name,
        size_name="" if placed is None else size_name(size_at(placed.size, placed.placement)),
        state=file.state,
        reason=file.reason,
        asked=file.asked,
        measured=file.measured,
        proof=proof,
    )
