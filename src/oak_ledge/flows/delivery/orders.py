"""Deliveries ordered: what shall be made is planned, written down, paused, stopped, made again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime

from pydantic import BaseModel

from oak_ledge.core.errors import CoreError
from oak_ledge.core.files.names import unlike
from oak_ledge.core.pixels.weight.estimate import estimate, part_in
from oak_ledge.core.sizes.file.formats import format_of
from oak_ledge.core.sizes.file_geometry import drawn_pixels
from oak_ledge.flows.delivery.deliveries import DeliveryView, find_delivery, lost_words, view
from oak_ledge.flows.delivery.making import Work, panels_of, stem_of
from oak_ledge.flows.delivery.workshop import ask_for_all, make_what_waits
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.jobs.jobs import find_job
from oak_ledge.flows.photos.previews import weights_of
from oak_ledge.flows.pieces.fingerprint import hash_of, made_with
from oak_ledge.flows.pieces.pieces import figures_of
from oak_ledge.flows.pieces.stopped import Stopped, stopped
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs, placements
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.photos import original
from oak_ledge.store.placements import Placed
from oak_ledge.store.work import deliveries
from oak_ledge.store.work.deliveries import DeliveryFile, DeliveryState, Wanted

LEFT_OUT = "You stopped this delivery before the file was made. Make it again."


# Photos that are weighed for a plan; of more only those weighed before have their bytes told.
FEW = 24


# The last file made of each placement and panel.
Known = dict[tuple[int, int | None], DeliveryFile]


class Planned(BaseModel):
    """One file that would be made.

    `held` says why it would not, `stop` what to do about it, `same_as` where it already is.
    """

    placement_id: int
    name: str
    pixels: str
    ppi: float | None
    at_most: int | None
    about_bytes: int | None
    held: str | None
    stop: Stopped | None
    to_look_at: bool
    same_as: str | None
    """the last file of this placement, where nothing it is made of changed since"""
    panel: int | None
    """which panel of its piece it is"""


def plan(workspace: Workspace, job_id: int, placement_ids: Sequence[int] | None) -> list[Planned]:
    """Return what would be made of a job's placements; nothing is."""
    with reading(workspace.sessions) as session:
        name, todo = _chosen(session, job_id, placement_ids)
        known = deliveries.last_made(session, job_id)
    few = len({placed.photo.id for placed in todo}) <= FEW
    return [_planned(workspace, wish, known, weigh=few) for wish in _wanted(workspace, name, todo)]


def deliver(
    workspace: Workspace,
    job_id: int,
    placement_ids: Sequence[int] | None,
    now: datetime,
    *,
    only_changed: bool = False,
    send_to: int | None = None,
) -> DeliveryView:
    """Make the files of a job's placements, of all or of those named; each is measured.

    What is asked is written down before the first file is begun, its name too, and each file's
    outcome as it is known: a kill at any moment leaves a true account, and what was being made is
    made again under the same name. With `only_changed` what is as it was when last made is left out.
    Once they are made they go to the receiver of the number `send_to`, if one is named.

    Raises
    ------
    RequestError
        If there is nothing to make.
    """
    with reading(workspace.sessions) as session:
        name, todo = _chosen(session, job_id, placement_ids)
        wanted = [wish for wish, _ in _wanted(workspace, name, todo)]
        if only_changed:
            known = deliveries.last_made(session, job_id)
            changed = {
                wish.placement_id for wish in wanted if not _as_last_time(workspace, wish, known)
            }
            wanted = [wish for wish in wanted if wish.placement_id in changed]
    if not wanted:
        msg = (
            "Nothing changed since these files were made; they are as they were."
            if only_changed
            else "There is nothing to make: name at least one placement."
        )
        raise RequestError(msg)
    with transaction(workspace.sessions) as session:
        find_job(session, job_id)
        delivery_id = deliveries.add(session, job_id, wanted, now, send_to)
    have_made(workspace, now)
    return view(workspace, delivery_id, now)


def have_made(workspace: Workspace, now: datetime) -> None:
    """Ask the workers for what waits; without workers it is made at once."""
    if workspace.ask is None:
        make_what_waits(workspace, "here", lambda: now)
    ask_for_all(workspace)


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
    return job.name, [piece for piece in every.values() if piece.id in wanted]


def _work(workspace: Workspace, placed: Placed, job: str, number: int = 1) -> Work:
    return Work(
        source=original(workspace.originals, placed.photo),
        photo_name=placed.photo.name,
        photo=placed.photo.facts,
        size=placed.size,
        placement=made_with(placed),
        job=job,
        number=number,
        retouches=placed.photo.retouches,
    )


def _wanted(workspace: Workspace, job: str, todo: Sequence[Placed]) -> list[tuple[Wanted, Placed]]:
    """Name every file, unlike all others of the delivery, and hold back what is stopped."""
    names: set[str] = set()
    return [
        (wish, placed)
        for number, placed in enumerate(todo, 1)
        for wish in _wanted_of(workspace, job, placed, number, names)
    ]


def _wanted_of(
    workspace: Workspace, job: str, placed: Placed, number: int, taken: set[str]
) -> list[Wanted]:
    """Return what is wanted of a piece: its file, or those of its panels in order."""
    stop = stopped(placed)
    work = _work(workspace, placed, job, number)
    panels, reason = panels_of(work), None if stop is None else stop.text
    names = [""] * len(panels)
    try:
        stems, ending = [stem_of(work, panel) for panel in panels], work.lying.size.file.format
        names = [unlike(stem, format_of(ending).ending, taken) for stem in stems]
    except CoreError as exc:  # a name pattern that can't be
        reason = str(exc)
    wish = Wanted(
        placement_id=placed.id,
        photo_id=placed.photo.id,
        name="",
        asked=work.asked,
        panels=len(panels),
        made_of=hash_of(placed),
        photo_hash=placed.photo.hash,
        size=placed.size,
        placement=work.placement,
        retouches=placed.photo.retouches,
        held=reason,
    )
    files = zip(names, panels, strict=True)
    return [replace(wish, name=name, panel=panel) for name, panel in files]


def _as_last_time(workspace: Workspace, wish: Wanted, known: Known) -> bool:
    last = known.get((wish.placement_id, wish.panel))
    if last is None or last.made_of != wish.made_of or wish.held is not None:
        return False
    return lost_words(workspace, last) is None


def _planned(
    workspace: Workspace,
    wanted: tuple[Wanted, Placed],
    known: Known,
    *,
    weigh: bool,
) -> Planned:
    wish, placed = wanted
    tally, noted = figures_of(placed)
    weights = weights_of(workspace, placed.photo, measure=weigh)
    lying, about = placed.lying, None
    if weights is not None:
        part = part_in(lying.crop, lying.surface, placed.photo.facts.orientation)
        about = estimate(
            weights, drawn_pixels(lying.size, lying.asked), tally.scale, lying.size.file, part
        )
    same = _as_last_time(workspace, wish, known)
    return Planned(
        placement_id=wish.placement_id,
        name=wish.name,
        pixels=f"{wish.asked.width} × {wish.asked.height}",
        ppi=wish.asked.ppi,
        at_most=wish.asked.at_most,
        about_bytes=about,
        held=wish.held,
        stop=stopped(placed),
        to_look_at=any(note.level == "look" for note in noted),
        same_as=known[wish.placement_id, wish.panel].name if same else None,
        panel=wish.panel,
    )


def pause(workspace: Workspace, delivery_id: int, now: datetime) -> DeliveryView:
    """Begin no further file until it goes on; what is being made is finished."""
    return _turned(workspace, delivery_id, "paused", now)


def go_on(workspace: Workspace, delivery_id: int, now: datetime) -> DeliveryView:
    """Go on with a delivery that was paused."""
    _turned(workspace, delivery_id, "queued", now)
    with transaction(workspace.sessions) as session:
        deliveries.settle(session, delivery_id)
    have_made(workspace, now)
    return view(workspace, delivery_id, now)


def stop(workspace: Workspace, delivery_id: int, now: datetime) -> DeliveryView:
    """Leave what has not been begun; what is made stays made."""
    with transaction(workspace.sessions) as session:
        find_delivery(session, delivery_id)
        deliveries.drop_queued(session, delivery_id, LEFT_OUT, now)
    return _turned(workspace, delivery_id, "stopped", now)


def again(workspace: Workspace, delivery_id: int, file_id: int, now: datetime) -> DeliveryView:
    """Make one file of a delivery once more, as its piece lies now; under its name, but its ending.

    All panels of its piece are made again with it, as they are one picture. The file that is there
    stays until the new one has taken its place.

    Raises
    ------
    RequestError
        If the delivery has no such file, it is being made, its piece was taken away, is stopped, or
        is cut in another number of panels by now.
    """
    msg = f"Delivery {delivery_id} has no file {file_id} that could be made again now."
    with transaction(workspace.sessions) as session:
        files = find_delivery(session, delivery_id).files
        file = next((file for file in files if file.id == file_id), None)
        if file is None:
            raise RequestError(msg)
        if file.sheet is not None:
            _queue_again(session, file, msg)
        else:
            _piece_again(workspace, session, files, file, msg)
    have_made(workspace, now)
    return view(workspace, delivery_id, now)


def _queue_again(session: Session, file: DeliveryFile, msg: str) -> None:
    """Queue a sheet's file as it was asked for; laid out otherwise since, it is made from its page."""
    again = Wanted(
        placement_id=file.placement_id,
        photo_id=file.photo_id,
        name=file.name or "",
        asked=file.asked,
        made_of=file.made_of or "",
        photo_hash=file.photo_hash,
        size=file.size,
        placement=file.placement,
        retouches=file.retouches,
    )
    if not deliveries.again(session, file.delivery_id, file.id, again):
        raise RequestError(msg)


def _piece_again(
    workspace: Workspace,
    session: Session,
    files: Sequence[DeliveryFile],
    file: DeliveryFile,
    msg: str,
) -> None:
    placed = placements.find(session, file.placement_id)
    job = jobs.find(session, placed.job_id) if placed else None
    if placed is None or job is None:
        raise RequestError(msg)
    order = list(dict.fromkeys(file.placement_id for file in files))
    number = order.index(placed.id) + 1
    piece = [file for file in files if file.placement_id == placed.id]
    taken = {file.name.casefold() for file in files if file.name and file not in piece}
    wanted = _wanted_of(workspace, job.name, placed, number, taken)
    if wanted[0].held is not None:
        held = f"It can't be made again as its piece lies now. {wanted[0].held}"
        raise RequestError(held)
    if len(wanted) != len(piece):
        cut = f"Its piece was made as {_files(len(piece))} and is {_files(len(wanted))} now"
        msg = f"{cut}. Make it in a new delivery."
        raise RequestError(msg)
    for was, now_wanted in zip(piece, wanted, strict=True):
        same = was.name is not None and was.made_of == now_wanted.made_of
        again = replace(now_wanted, name=was.name or now_wanted.name) if same else now_wanted
        if not deliveries.again(session, file.delivery_id, was.id, again):
            raise RequestError(msg)


def _files(count: int) -> str:
    return "one file" if count == 1 else f"{count} panels"


def _turned(
    workspace: Workspace, delivery_id: int, state: DeliveryState, now: datetime
) -> DeliveryView:
    with transaction(workspace.sessions) as session:
        if find_delivery(session, delivery_id).state not in ("done", "stopped"):
            deliveries.set_state(session, delivery_id, state)
    return view(workspace, delivery_id, now)
