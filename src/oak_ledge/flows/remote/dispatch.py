"""What the server hands to workers on other machines, and what it takes back from them."""

from __future__ import annotations

import re
import threading
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from functools import partial
from pathlib import Path
from typing import IO
from uuid import uuid4

from oak_ledge.core.errors import FileError
from oak_ledge.core.pixels.kept_arrays import is_sound_file
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.sizes.file.formats import format_of
from oak_ledge.flows.delivery.deliveries import folder_of
from oak_ledge.flows.delivery.filling import filled_or_why
from oak_ledge.flows.delivery.making import measured_part
from oak_ledge.flows.delivery.workshop import write_down
from oak_ledge.flows.errors import LateError, NotFoundError, NotMadeError
from oak_ledge.flows.photos.scene_pictures import prime
from oak_ledge.flows.photos.scenes import is_made, maker_of, path_of
from oak_ledge.flows.remote.presence import Presence
from oak_ledge.flows.remote.ticket import FileSent, Message, PhotoSent, sealed
from oak_ledge.flows.remote.ticket_queue import Post, fits
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import photos
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.folders import place_over, replace_file
from oak_ledge.store.photos import Photo, present
from oak_ledge.store.work import claims, fills
from oak_ledge.store.work.deliveries import DeliveryFile

# So long what a worker holds that is not heard of stays its own.
LEASE = timedelta(seconds=20)
# Tickets out for each worker: one it is at, one that waits for it.
AHEAD = 2
TOO_LARGE = (
    "All that it is made from, such as very many brush strokes, is too much to be sent to another "
    "machine. Ask again while only workers beside the server are at work."
)
_NAME = re.compile(r"[0-9a-f]{64}-[0-9a-f]{32}")


@dataclass
class Elsewhere:
    """The workers on other machines of one server, and the way to them."""

    workspace: Workspace
    key: bytes
    post: Post
    presence: Presence = field(default_factory=Presence)
    look: threading.Event = field(default_factory=threading.Event)
    """set when something may have changed that `hand_out` looks at"""


def hand_out(here: Elsewhere, now: datetime) -> bool:
    """Send as many tickets as there is work, and workers for it; False where Redis is away."""
    most = AHEAD * sum(here.presence.machines(now).values())
    while most:
        with reading(here.workspace.sessions) as session:  # mostly there is nothing to write
            out = claims.handed_out(session) + fills.handed_out(session)
            if out >= most or not (fills.waiting(session) or claims.groups_waiting(session)):
                return True
        with transaction(here.workspace.sessions) as session:
            message = _next(session, here.workspace, now)
        if message is None:
            return True
        text, seal = sealed(message, here.key)
        if not fits(text, seal):
            _not_sent(here, message, now)
        elif not here.post.send(text, seal):
            with transaction(here.workspace.sessions) as session:  # nobody has begun it
                claims.put_back(session, message.ticket, now)
                fills.put_back(session, message.ticket)
            return False
    return True


def _not_sent(here: Elsewhere, message: Message, now: datetime) -> None:
    """Mark what can't be sent as failed, with the reason; handed out again it would wait for ever."""
    for file in message.files:
        failed(here, message.ticket, file.id, TOO_LARGE, now)
    if message.fill is not None:
        filled(here, message.ticket, TOO_LARGE)


def _next(session: Session, workspace: Workspace, now: datetime) -> Message | None:
    """Claim what waits longest, under a new ticket; what is laid over photos comes first."""
    ticket, most = uuid4().hex, workspace.limits.making_pixels
    base = {"ticket": ticket, "output_pixels": workspace.limits.output_pixels}
    fill = fills.claim(session, ticket, most, now, now + LEASE, elsewhere=True)
    if fill is not None:
        photo = photos.find(session, fill.photo_id)
        sent = () if photo is None else (_sent(photo),)
        return Message(**base, photos=sent, fill=fill.work)
    files = claims.claim(session, ticket, most, now + LEASE, elsewhere=True)
    if not files:
        return None
    needed = {file.photo_id for file in files}
    for file in files:
        needed |= {piece.photo_id for piece in (file.sheet.pieces if file.sheet else ())}
    rows = [photos.find(session, rows) for rows in sorted(needed)]
    there = {photo.hash: photo for photo in rows if photo is not None}
    for sha256 in _behind(files):
        photo = photos.find_by_hash(session, sha256)
        if photo is not None:
            there[photo.hash] = photo
    return Message(
        **base,
        photos=tuple(_sent(photo) for photo in there.values()),
        files=tuple(_file_sent(file) for file in files),
    )


def _behind(files: Sequence[DeliveryFile]) -> set[str]:
    """Return the photos that stand behind pieces, by their hashes."""
    sizes = [size_at(file.size, file.placement) for file in files]
    for file in files:
        pieces = file.sheet.pieces if file.sheet else ()
        sizes += [size_at(piece.size, piece.placement) for piece in pieces]
    return {size.backdrop.hash for size in sizes if size.backdrop is not None}


def _sent(photo: Photo) -> PhotoSent:
    return PhotoSent(hash=photo.hash, name=photo.name, facts=photo.facts)


def _file_sent(file: DeliveryFile) -> FileSent:
    return FileSent(
        id=file.id,
        placement_id=file.placement_id,
        photo_hash=file.photo_hash,
        panel=file.panel,
        size=file.size,
        placement=file.placement,
        retouches=file.retouches,
        name=file.name or "",
        sheet=file.sheet,
    )


def begun(here: Elsewhere, ticket: str, machine: str, now: datetime) -> None:
    """Note that a worker took a ticket from the queue.

    Raises
    ------
    LateError
        If it has waited too long, and what it asks for is another's, or not wanted any more.
    """
    with transaction(here.workspace.sessions) as session:
        its = claims.begin(session, ticket, machine, now + LEASE)
        if not its and not fills.begin(session, ticket, now, now + LEASE):
            raise LateError
    here.look.set()


def still_at(here: Elsewhere, ticket: str, now: datetime) -> bool:
    """Note that a worker is at a ticket still; False where it need not go on."""
    with transaction(here.workspace.sessions) as session:
        its = claims.renew(session, ticket, now + LEASE)
        return its or fills.renew(session, ticket, now + LEASE)


def given_back(here: Elsewhere, ticket: str, reason: str, now: datetime) -> None:
    """Note that a worker can't do what a ticket asks for, for a reason of its own machine: another shall."""
    with transaction(here.workspace.sessions) as session:
        claims.put_back(session, ticket, now, reason)
        fills.put_back(session, ticket)
    here.look.set()


def original_of(workspace: Workspace, digest: str) -> Path:
    """Where the original of a hash lies."""
    with reading(workspace.sessions) as session:
        photo = photos.find_by_hash(session, digest)
    if photo is None:
        msg = "There is no photo of this hash."
        raise NotFoundError(msg)
    return present(workspace.originals, photo)


def arrived(
    here: Elsewhere, ticket: str, file_id: int, parts: Iterable[bytes], now: datetime
) -> str | None:
    """Take in a finished file: measured from this disk before it is called made.

    Gives why it isn't, where it is not what was asked for.

    Raises
    ------
    LateError
        If its ticket is not out any more; what came is gone.
    """
    file = _file_of(here.workspace, ticket, file_id)
    folder, name = folder_of(here.workspace, file.delivery_id), file.name or ""
    size = file.size if file.sheet is not None else size_at(file.size, file.placement)
    stem = name.removesuffix(format_of(file.asked.format).ending)
    try:
        with measured_part(size, file.asked, parts, folder, stem) as (part, measured):
            place = partial(place_over, part, folder / name)
            if not write_down(here.workspace, file, measured, ticket, now, place):
                raise LateError
    except FileError as exc:
        failed(here, ticket, file_id, str(exc), now)
        return str(exc)
    here.look.set()
    return None


def failed(here: Elsewhere, ticket: str, file_id: int, reason: str, now: datetime) -> None:
    """Note that a worker could not make a file, for a reason that lies in the file.

    Raises
    ------
    LateError
        If its ticket is not out any more.
    """
    file = _file_of(here.workspace, ticket, file_id)
    if not write_down(here.workspace, file, reason, ticket, now):
        raise LateError
    here.look.set()


def _file_of(workspace: Workspace, ticket: str, file_id: int) -> DeliveryFile:
    with reading(workspace.sessions) as session:
        out = claims.of_ticket(session, ticket)
    file = next((file for file in out if file.id == file_id), None)
    if file is None:
        raise LateError
    return file


def kept_file(workspace: Workspace, name: str) -> Path | None:
    """Where something made of a photo lies; None where it isn't made, or is no such name."""
    if not _NAME.fullmatch(name):
        return None
    path = path_of(workspace, name)
    return path if path.is_file() else None


def keep(workspace: Workspace, ticket: str, name: str, file: IO[bytes]) -> None:
    """Keep what a worker made of a photo of its ticket.

    Raises
    ------
    LateError
        If its ticket is not out any more, or is of another photo.
    FileError
        If it is no file of arrays.
    """
    with reading(workspace.sessions) as session:
        out = claims.of_ticket(session, ticket)
        hashes = {file.photo_hash for file in out}
        for sent_file in out:
            hashes |= {
                piece.photo_hash for piece in (sent_file.sheet.pieces if sent_file.sheet else ())
            }
        fill = fills.of_ticket(session, ticket)
        photo = None if fill is None else photos.find(session, fill.photo_id)
    if photo is not None:
        hashes.add(photo.hash)
    if not _NAME.fullmatch(name) or name.partition("-")[0] not in hashes:
        raise LateError
    if not is_sound_file(file):
        msg = "What was made of the photo came damaged, or is no such thing."
        raise FileError(msg)
    file.seek(0)
    replace_file(path_of(workspace, name), file.read())


def filled(here: Elsewhere, ticket: str, reason: str | None) -> None:
    """Note that a worker is done with a ground or a retouch; what it made is kept already.

    Raises
    ------
    LateError
        If its ticket is not out any more.
    """
    workspace = here.workspace
    with reading(workspace.sessions) as session:
        fill = fills.of_ticket(session, ticket)
        photo = None if fill is None else photos.find(session, fill.photo_id)
    if fill is None:
        raise LateError
    if photo is None:
        reason = "Its photo was taken away meanwhile."
    elif reason is None and not is_made(workspace, photo, fill.work):
        reason = "What was made of it did not arrive. Ask for it again."
    elif reason is None:
        reason = _primed(workspace, photo, fill)
    with transaction(workspace.sessions) as session:
        if reason is None:
            fills.set_made(session, fill.id, ticket)
        else:
            fills.failed(session, fill.id, ticket, reason)
    here.look.set()


def _primed(workspace: Workspace, photo: Photo, fill: fills.Fill) -> str | None:
    """Draw the picture of what arrived; give why it can't be, where it can't."""
    maker = maker_of(workspace, photo, fill.work.retouches, make=False)

    def draw() -> None:
        try:
            prime(workspace, photo, maker, fill.work)
        except NotMadeError as exc:
            msg = "A part of it did not arrive. Ask for it again."
            raise FileError(msg) from exc

    return filled_or_why(draw)
