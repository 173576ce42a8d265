"""Deliveries: what shall be made is written down, made photo by photo, measured, and handed out."""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from contextlib import ExitStack, suppress
from dataclasses import replace
from datetime import datetime, timedelta
from functools import lru_cache
from pathlib import Path

from pydantic import BaseModel

from oak_ledge.core.errors import CoreError
from oak_ledge.core.files.formats import ENDINGS
from oak_ledge.core.files.names import unlike
from oak_ledge.core.files.proof import Asked, Measured, ProofLine, asked_of, prove
from oak_ledge.core.notes.note import stops
from oak_ledge.core.pixels.look.estimate import estimate
from oak_ledge.core.pixels.open.photo import decoded_once
from oak_ledge.core.pixels.prove.measure import file_hash
from oak_ledge.core.placements.crop import asked_pixels
from oak_ledge.core.placements.held import held_at
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.jobs import find_job
from oak_ledge.flows.making import Work, draw, finish, stem_of
from oak_ledge.flows.pieces import figures_of
from oak_ledge.flows.previews import weights_of
from oak_ledge.flows.workspace import AskedError, NotFoundError, Workspace
from oak_ledge.store import deliveries, jobs, photos, placements
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.deliveries import Delivery, DeliveryFile, DeliveryState, FileState, Wanted
from oak_ledge.store.errors import DamagedError, StoreError, disk_words
from oak_ledge.store.photos import Photo, original, present
from oak_ledge.store.placements import Placed

LEASE = timedelta(seconds=60)  # so long a worker that is not heard of is taken for alive
MOMENT = 2.0  # seconds by which a disk's clock may be off
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
    with reading(workspace.sessions) as session:
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
    with reading(workspace.sessions) as session:
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
    with transaction(workspace.sessions) as session:
        find_job(session, job_id)
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
        with reading(workspace.sessions) as session:
            waiting = deliveries.groups_waiting(session)
        workspace.ask(waiting)


def ask_again(workspace: Workspace, now: datetime) -> None:
    """Ask for what waits while nobody is at work: what was asked may be lost with its queue.

    What a worker holds that has not been heard of since its lease ended waits again.
    """
    with reading(workspace.sessions) as session:
        ended = deliveries.any_ended(session, now)
        idle = ended or not deliveries.any_running(session)
    if ended:
        with transaction(workspace.sessions) as session:
            deliveries.put_back_ended(session, now)
    if idle:
        ask_for_all(workspace)


def lost_worker(workspace: Workspace, worker: str) -> None:
    """A worker is no more: what it was at is asked for again."""
    with transaction(workspace.sessions) as session:
        deliveries.put_back(session, worker)
    ask_for_all(workspace)


def still_at_work(workspace: Workspace, worker: str, now: datetime) -> None:
    """A worker lives: what it is at stays its own."""
    with transaction(workspace.sessions) as session:
        deliveries.renew(session, worker, now + LEASE)


def make_what_waits(workspace: Workspace, worker: str, clock: Callable[[], datetime]) -> None:
    """Make photo after photo until nothing waits."""
    while make_next(workspace, worker, clock):
        pass


def make_next(workspace: Workspace, worker: str, clock: Callable[[], datetime]) -> bool:
    """Make the next files of one photo, decoded once; False where nothing waits."""
    with transaction(workspace.sessions) as session:
        most = workspace.limits.making_pixels
        files = deliveries.claim(session, worker, most, clock() + LEASE)
        if not files:
            return False
        photo = photos.find(session, files[0].photo_id)
    with ExitStack() as held:
        if len(files) > 1 and photo is not None:
            with suppress(Exception):  # what is wrong with it is told file by file
                path = present(workspace.originals, photo)
                held.enter_context(decoded_once(path, most_bytes=workspace.limits.held_bytes))
        for file in files:
            _make_one(workspace, photo, file, worker, clock)
    return True


def _make_one(
    workspace: Workspace,
    photo: Photo | None,
    file: DeliveryFile,
    worker: str,
    clock: Callable[[], datetime],
) -> None:
    """Make and measure one file as it was asked for, and write down what became of it."""
    folder = folder_of(workspace, file.delivery_id)
    made = _made_or_why(workspace, photo, file, folder)
    with transaction(workspace.sessions) as session:
        if isinstance(made, str):
            deliveries.file_failed(session, file, worker, made, clock())
            return
        if not deliveries.file_made(session, file, worker, made, clock()):
            return
        placed = placements.find(session, file.placement_id)
        if placed is not None and hash_of(placed) == file.made_of:
            placements.set_state(session, placed.id, "made", clock())
    if file.former is not None and file.former.name != file.name:
        (folder / file.former.name).unlink(missing_ok=True)


def _made_or_why(
    workspace: Workspace, photo: Photo | None, file: DeliveryFile, folder: Path
) -> Measured | str:
    """Make one file; give what was measured of it, or why it can't be made.

    Whatever goes wrong is this file's own: it ends as failed, and never as one that is being made.
    """
    if photo is None or photo.hash != file.photo_hash or file.name is None:
        return "Its photo was taken away meanwhile."
    try:
        work = Work(
            path=present(workspace.originals, photo),
            photo_name=photo.name,
            photo=photo.facts,
            size=file.size,
            placement=file.placement,
        )
        return finish(work, draw(work, workspace.limits), folder, file.name).measured
    except (CoreError, StoreError) as exc:
        return str(exc)
    except OSError as exc:
        return disk_words(exc)
    except MemoryError:
        return "There was not enough memory. Close other programs, or ask for fewer pixels."
    except Exception as exc:  # noqa: BLE001 - see above
        return f"It could not be made: {type(exc).__name__}. Change the piece, or bring its photo in anew."


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
    return Wanted(
        placement_id=placed.id,
        photo_id=placed.photo.id,
        name=name,
        asked=asked_of(size, asked_pixels(size, held, placed.placement)),
        made_of=hash_of(placed),
        photo_hash=placed.photo.hash,
        size=placed.size,
        placement=placed.placement,
        held=reason,
    )


def hash_of(placed: Placed) -> str:
    """Tell by content what a file is made of: the photo, its size, and how it lies."""
    lying = placed.placement.model_dump_json(exclude={"upright"})
    of = f"{placed.photo.hash} {placed.size.model_dump_json()} {lying}"
    return hashlib.sha256(of.encode()).hexdigest()


def _as_last_time(workspace: Workspace, one: Wanted, known: dict[int, DeliveryFile]) -> bool:
    last = known.get(one.placement_id)
    if last is None or last.made_of != one.made_of or one.held is not None:
        return False
    return lost_words(workspace, last) is None


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

    The file that is there stays until the new one has taken its place.

    Raises
    ------
    AskedError
        If the delivery has no such file, it is being made, its piece was taken away or is stopped.
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
        if wanted.held is not None:
            held = f"It can't be made again as its piece lies now. {wanted.held}"
            raise AskedError(held)
        if file.name and file.made_of == wanted.made_of:
            wanted = replace(wanted, name=file.name)
        if not deliveries.again(session, delivery_id, file_id, wanted):
            raise AskedError(msg)
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
    with reading(workspace.sessions) as session:
        found = _find(session, delivery_id)
        job = jobs.find(session, found.job_id)
        names = photos.names(session, {file.photo_id for file in found.files})
    files = [_file_view(workspace, names, file) for file in found.files]
    return DeliveryView(
        id=found.id,
        job_id=found.job_id,
        job_name=job.name if job else "",
        state=found.state,
        files=files,
        counts=dict(Counter(file.state for file in files)),
        seconds_left=_seconds_left(found, now),
        bytes=sum(file.measured.bytes for file in files if file.measured and file.state == "made"),
    )


def every(workspace: Workspace) -> list[DeliveryView]:
    """All deliveries, the newest first; one that can't be read does not hide the others."""
    with reading(workspace.sessions) as session:
        ids = deliveries.ids(session)
    found = []
    for one in ids:
        with suppress(DamagedError):
            found.append(view(workspace, one))
    return found


def _seconds_left(found: Delivery, now: datetime | None) -> int | None:
    done = [file.finished for file in found.files if file.finished is not None]
    left = sum(file.state in ("queued", "running") for file in found.files)
    if now is None or not done or not left or found.state == "paused":
        return None
    took = (max(done) - found.added).total_seconds()
    return max(1, round(took / len(done) * left))


def newest_file(workspace: Workspace, placement_id: int) -> FileView | None:
    """The last file made of a placement, for its proof on the bench."""
    with reading(workspace.sessions) as session:
        file = deliveries.newest_file(session, placement_id)
        names = {} if file is None else photos.names(session, {file.photo_id})
    return None if file is None else _file_view(workspace, names, file)


def _file_view(workspace: Workspace, names: Mapping[int, str], file: DeliveryFile) -> FileView:
    """Tell a file: one that was made and is not there any more as it was is shown as failed, and
    what was measured of it is kept, as it may come back.
    """
    size = size_at(file.size, file.placement)
    lost = lost_words(workspace, file) if file.state == "made" else None
    return FileView(
        id=file.id,
        placement_id=file.placement_id,
        photo_id=file.photo_id,
        delivery_id=file.delivery_id,
        name=file.name,
        photo_name=names.get(file.photo_id, ""),
        size_name=size_name(size),
        state=file.state if lost is None else "failed",
        reason=file.reason if lost is None else lost,
        asked=file.asked,
        measured=file.measured,
        proof=() if file.measured is None else prove(size, file.asked, file.measured),
    )


def lost_words(workspace: Workspace, file: DeliveryFile, *, surely: bool = False) -> str | None:
    """Say why a made file can't be handed out; None while it lies there as it was measured.

    Its bytes are only read again where its time says that it was written to since, or to know it
    `surely`, as before it is handed out.
    """
    path = folder_of(workspace, file.delivery_id) / (file.name or "")
    try:
        there = path.stat()
    except OSError:
        return "It is gone from disk. Put its folder back, or make it again."
    wrong = "It is not as it was when it was measured. Make it again."
    if file.measured is None or not path.is_file() or there.st_size != file.measured.bytes:
        return wrong
    since = file.finished is None or there.st_mtime > file.finished.timestamp() + MOMENT
    if (surely or since) and file.measured.sha256 is not None:
        try:
            same = _hash_of_file(path, there.st_mtime_ns, surely) == file.measured.sha256
        except OSError as exc:
            return disk_words(exc)
        return None if same else wrong
    return None


def _hash_of_file(path: Path, written: int, surely: bool) -> str:
    return file_hash(path) if surely else _known_hash(path, written)


@lru_cache(maxsize=4096)
def _known_hash(path: Path, written: int) -> str:
    """The hash of a file as it was written at a time, in nanoseconds."""
    return file_hash(path)
