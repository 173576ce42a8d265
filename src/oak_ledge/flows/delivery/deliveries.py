"""Deliveries as they stand: what was asked for, measured, what became of it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from datetime import datetime
from functools import lru_cache
from pathlib import Path

from pydantic import BaseModel

from oak_ledge.core.files.proof import Asked, Measured, ProofLine, prove
from oak_ledge.core.measures.bytes import EXCEEDS
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.prove.measure import file_hash
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.sheets.print_order import SheetOrder
from oak_ledge.core.sizes.file_geometry import picture_of
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.errors import NotFoundError
from oak_ledge.flows.photos.previews import weights_of
from oak_ledge.flows.pieces.fingerprint import hash_of
from oak_ledge.flows.pieces.stopped import Stopped, stopped, too_heavy
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs, photos, placements
from oak_ledge.store.database import Session, reading
from oak_ledge.store.errors import disk_words
from oak_ledge.store.placements import Placed
from oak_ledge.store.work import deliveries
from oak_ledge.store.work.deliveries import Delivery, DeliveryFile, DeliveryState, FileState

# Seconds by which a disk's clock may be off.
MOMENT = 2.0


class FileView(BaseModel):
    """A file of a delivery: what was asked of it, what was measured, or why it failed."""

    id: int
    placement_id: int
    photo_id: int
    delivery_id: int
    name: str | None
    photo_name: str
    size_name: str
    panel: int | None
    """which panel of its piece it is, from 1"""
    panels: int
    """how many files its piece has"""
    picture: Pixels
    """the pixels of all its piece's files together"""
    sheet_id: int | None
    """the sheet it is of"""
    sheet: str
    """what of it the file holds, in words; empty where it is of one piece"""
    page: int
    """the first of the sheet's pages it holds, from 0"""
    state: FileState
    reason: str | None
    asked: Asked
    measured: Measured | None
    proof: tuple[ProofLine, ...]
    head: bool
    """its size asks for a head, whose lines a contact sheet can show"""
    allowed: tuple[str, ...]
    """codes of the stops it was made in spite of, on a person's word"""
    stop: Stopped | None
    """of a file that is held, or was too heavy: what to do about its piece as it lies now"""
    machine: str | None
    """the other machine that makes it, or made it; None: that of the server"""
    changed: bool
    """made, and its piece was worked on since"""


class DeliveryView(BaseModel):
    """A delivery as it stands, with its files and how long it still takes."""

    id: int
    job_id: int
    job_name: str
    added: datetime
    state: DeliveryState
    files: list[FileView]
    counts: dict[str, int]
    seconds_left: int | None
    """by how long the files so far took; None before the first and when nothing is left"""
    bytes: int
    """of all files made"""
    waits: str | None
    """what it waits for, where no worker is there to go on"""


def find_delivery(session: Session, delivery_id: int) -> Delivery:
    """Return a delivery; one that is not here is refused."""
    delivery = deliveries.find(session, delivery_id)
    if delivery is None:
        msg = f"There is no delivery {delivery_id}."
        raise NotFoundError(msg)
    return delivery


def folder_of(workspace: Workspace, delivery_id: int) -> Path:
    """Return the folder a delivery's files lie in."""
    return workspace.deliveries / str(delivery_id)


def view(
    workspace: Workspace,
    delivery_id: int,
    now: datetime | None = None,
    *,
    with_pieces: bool = True,
) -> DeliveryView:
    """Return a delivery as it stands; with `now` also how long it still takes.

    How its pieces stand by now is told once it is over, and only `with_pieces`.
    """
    with reading(workspace.sessions) as session:
        delivery = find_delivery(session, delivery_id)
        job = jobs.find(session, delivery.job_id)
        names = photos.names(session, {file.photo_id for file in delivery.files})
        over = with_pieces and delivery.state in ("done", "stopped")
        pieces = {
            placement.id: placement
            for placement in jobs.placements(session, delivery.job_id)
            if over
        }
    files = [
        _file_view(workspace, names, file, pieces.get(file.placement_id)) for file in delivery.files
    ]
    return DeliveryView(
        id=delivery.id,
        job_id=delivery.job_id,
        job_name=job.name if job else "",
        added=delivery.added,
        state=delivery.state,
        files=files,
        counts=dict(Counter(file.state for file in files)),
        seconds_left=_seconds_left(delivery, now),
        waits=_waits(workspace, delivery),
        bytes=sum(file.measured.bytes for file in files if file.measured and file.state == "made"),
    )


def _waits(workspace: Workspace, delivery: Delivery) -> str | None:
    if delivery.state not in deliveries.OPEN or workspace.anyone is None or workspace.anyone():
        return None
    return (
        "No worker is there. Start one on another machine with oak-ledge work, or the server with "
        "--workers auto."
    )


def _seconds_left(delivery: Delivery, now: datetime | None) -> int | None:
    done = [file.finished for file in delivery.files if file.finished is not None]
    left = sum(file.state in ("queued", "running") for file in delivery.files)
    if now is None or not done or not left or delivery.state == "paused":
        return None
    took = (max(done) - delivery.added).total_seconds()
    return max(1, round(took / len(done) * left))


def newest_file(workspace: Workspace, placement_id: int) -> FileView | None:
    """Return the last file made of a placement, for its proof on the bench."""
    with reading(workspace.sessions) as session:
        file = deliveries.newest_file(session, placement_id)
        names = {} if file is None else photos.names(session, {file.photo_id})
        piece = placements.find(session, placement_id)
    return None if file is None else _file_view(workspace, names, file, piece)


def _file_view(
    workspace: Workspace, names: Mapping[int, str], file: DeliveryFile, piece: Placed | None
) -> FileView:
    """Return a file and how its piece stands now.

    One that was made and is not there any more as it was is shown as failed; what was measured of
    it is kept, as it may come back.
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
        panel=file.panel,
        panels=file.panels,
        picture=picture_of(size, (file.asked.width, file.asked.height)),
        sheet_id=file.sheet_id,
        page=0 if file.sheet is None else file.sheet.pages[0],
        sheet="" if file.sheet is None else sheet_words(file.sheet),
        state=file.state if lost is None else "failed",
        reason=file.reason if lost is None else lost,
        asked=file.asked,
        measured=file.measured,
        proof=() if file.measured is None else prove(size, file.asked, file.measured),
        head=size_at(file.size, file.placement).head is not None,
        allowed=file.placement.allow,
        stop=_stop(workspace, file, piece),
        machine=file.machine,
        changed=piece is not None
        and file.sheet is None
        and file.state == "made"
        and file.made_of != hash_of(piece),
    )


def _stop(workspace: Workspace, file: DeliveryFile, piece: Placed | None) -> Stopped | None:
    if piece is None or file.sheet is not None:
        return None
    if file.state == "failed" and EXCEEDS in (file.reason or ""):
        return too_heavy(piece, weights_of(workspace, piece.photo, measure=True))
    return stopped(piece) if file.state == "held" else None


def sheet_words(order: SheetOrder) -> str:
    """Return what a sheet's file holds: how many pieces, on which pages."""
    count = len(order.places)
    pieces = "1 piece" if count == 1 else f"{count} pieces"
    pages = "" if len(order.pages) == 1 else f" on {len(order.pages)} pages"
    return f"{pieces}{pages}"


def lost_words(workspace: Workspace, file: DeliveryFile, *, surely: bool = False) -> str | None:
    """Return why a made file can't be handed out; None while it lies there as it was measured.

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
    """Return the hash of a file as it was written at a time, in nanoseconds."""
    return file_hash(path)
