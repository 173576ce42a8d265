"""Files made by workers: claimed for a lease, made photo by photo, measured."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import suppress
from datetime import datetime, timedelta
from functools import partial
from itertools import groupby
from typing import TypeVar

from oak_ledge.core.errors import CoreError, PhotoError, sentence
from oak_ledge.core.files.proof import Measured
from oak_ledge.core.pixels.open.photo import Source, decoded_once
from oak_ledge.core.sheets.order import OrderedPiece
from oak_ledge.flows.delivery.deliveries import folder_of
from oak_ledge.flows.delivery.filling import AtWork, fill_next
from oak_ledge.flows.delivery.making import Work, draw, finish
from oak_ledge.flows.delivery.sheet_file import finish_sheet
from oak_ledge.flows.photos.scenes import kept, maker_of
from oak_ledge.flows.pieces.made_of import hash_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import photos, placements
from oak_ledge.store.database import reading, transaction
from oak_ledge.store.errors import StoreError, disk_words
from oak_ledge.store.folders import sweep_parts
from oak_ledge.store.photos import Photo, present
from oak_ledge.store.work import claims, deliveries, fills
from oak_ledge.store.work.deliveries import DeliveryFile

T = TypeVar("T")


LEASE = timedelta(seconds=60)  # so long a worker that is not heard of is taken for alive


def ask_for_all(workspace: Workspace) -> None:
    """Ask the workers for all that waits, also again: what was asked before may be lost."""
    if workspace.ask is not None:
        with reading(workspace.sessions) as session:
            waiting = claims.groups_waiting(session) + fills.waiting(session)
        workspace.ask(waiting)


def ask_again(workspace: Workspace, now: datetime) -> None:
    """Ask for what waits while nobody is at work: what was asked may be lost with its queue.

    What a worker holds that has not been heard of since its lease ended waits again.
    """
    with reading(workspace.sessions) as session:
        ended = claims.any_ended(session, now) or fills.any_ended(session, now)
        idle = ended or not claims.any_running(session)
    if ended:
        with transaction(workspace.sessions) as session:
            claims.put_back_ended(session, now)
            fills.put_back_ended(session, now)
    if idle:
        ask_for_all(workspace)


def lost_worker(workspace: Workspace, worker: str, pid: int) -> None:
    """A worker is no more: what it wrote by half goes, what it was at is asked for again."""
    sweep_parts(workspace.deliveries, pid)
    with transaction(workspace.sessions) as session:
        claims.put_back(session, worker)
        fills.put_back(session, worker)
    ask_for_all(workspace)


def still_at_work(workspace: Workspace, worker: str, now: datetime) -> None:
    """A worker lives: what it is at stays its own."""
    with transaction(workspace.sessions) as session:
        claims.renew(session, worker, now + LEASE)
        fills.renew(session, worker, now + LEASE)


def make_what_waits(
    workspace: Workspace,
    worker: str,
    clock: Callable[[], datetime],
    at_work: AtWork | None = None,
) -> None:
    """Make photo after photo until nothing waits; what is laid over photos comes first."""
    while fill_next(workspace, worker, clock, at_work) or make_next(workspace, worker, clock):
        pass


def make_next(workspace: Workspace, worker: str, clock: Callable[[], datetime]) -> bool:
    """Make the next files of one photo, decoded once; False where nothing waits."""
    with transaction(workspace.sessions) as session:
        most = workspace.limits.making_pixels
        files = claims.claim(session, worker, most, clock() + LEASE)
        if not files:
            return False
        photo = photos.find(session, files[0].photo_id)
    source = None
    pieces = {file.placement_id for file in files if file.sheet is None}
    if len(pieces) > 1 and photo is not None:
        with suppress(Exception):  # what is wrong with it is told file by file
            source = _source_of(workspace, photo, files)
    for file in files:
        if file.sheet is not None:
            _write_down(workspace, file, _sheet_made(workspace, file), worker, clock())
    alone = [file for file in files if file.sheet is None]
    for _, piece in groupby(alone, key=lambda file: file.placement_id):
        _make_piece(workspace, photo, source, tuple(piece), worker, clock)
    return True


def _source_of(workspace: Workspace, photo: Photo, files: Sequence[DeliveryFile]) -> Source | None:
    """Decode what several files are cut from once, where they are cut from the same."""
    retouches = files[0].retouches
    if any(file.retouches != retouches for file in files):
        return None
    scene = maker_of(workspace, photo, retouches, make=True).scene()
    return decoded_once(scene, most_bytes=workspace.limits.held_bytes)


def _make_piece(
    workspace: Workspace,
    photo: Photo | None,
    source: Source | None,
    files: Sequence[DeliveryFile],
    worker: str,
    clock: Callable[[], datetime],
) -> None:
    """Draw a piece once as it was asked for, and make its file, or those of its panels in order."""
    drawn = _or_why(lambda: _drawn(workspace, photo, source, files[0]))
    for file in files:
        made = drawn if isinstance(drawn, str) else _or_why(partial(_made, workspace, drawn, file))
        _write_down(workspace, file, made, worker, clock())


def _sheet_made(workspace: Workspace, file: DeliveryFile) -> Measured | str:
    """Make the file of a sheet as it was asked for, from its photos; or say why it can't be."""
    order, folder = file.sheet, folder_of(workspace, file.delivery_id)
    assert order is not None
    with reading(workspace.sessions) as session:
        found = {piece.photo_id: photos.find(session, piece.photo_id) for piece in order.pieces}

    def work_of(piece: OrderedPiece) -> Work:
        photo = found[piece.photo_id]
        if photo is None or photo.hash != piece.photo_hash:
            msg = f"{piece.photo_name} was taken away meanwhile"
            raise PhotoError(msg)
        return _work(workspace, photo, piece)

    stem = (file.name or "sheet").rpartition(".")[0]
    return _or_why(
        lambda: finish_sheet(order, work_of, workspace.limits, folder, stem, file.name).measured
    )


def _drawn(
    workspace: Workspace, photo: Photo | None, source: Source | None, file: DeliveryFile
) -> tuple[Work, list[bytes]]:
    if photo is None or photo.hash != file.photo_hash:
        raise PhotoError(_GONE)
    work = _work(workspace, photo, file, source)
    return work, draw(work, workspace.limits)


def _work(
    workspace: Workspace,
    photo: Photo,
    asked: DeliveryFile | OrderedPiece,
    source: Source | None = None,
) -> Work:
    return Work(
        source=source or present(workspace.originals, photo),
        photo_name=photo.name,
        photo=photo.facts,
        size=asked.size,
        placement=asked.placement,
        retouches=asked.retouches,
        keep=kept(workspace, photo.hash, make=True),
    )


_GONE = "Its photo was taken away meanwhile."


def _made(workspace: Workspace, drawn: tuple[Work, list[bytes]], file: DeliveryFile) -> Measured:
    work, parts = drawn
    folder = folder_of(workspace, file.delivery_id)
    return finish(work, parts[(file.panel or 1) - 1], folder, file.name).measured


def _or_why(do: Callable[[], T]) -> T | str:
    """Do something for a file, or say why it can't be done.

    Whatever goes wrong is this file's own: it ends as failed, and never as one that is being made.
    """
    try:
        return do()
    except (CoreError, StoreError) as exc:
        return sentence(str(exc))
    except OSError as exc:
        return disk_words(exc)
    except MemoryError:
        return "There was not enough memory. Close other programs, or ask for fewer pixels."
    except Exception as exc:  # noqa: BLE001 - see above
        return f"It could not be made: {type(exc).__name__}. Change the piece, or bring its photo in anew."


def _write_down(
    workspace: Workspace, file: DeliveryFile, made: Measured | str, worker: str, now: datetime
) -> None:
    """Write down what became of a file; its piece is made once all its files are."""
    with transaction(workspace.sessions) as session:
        if isinstance(made, str):
            deliveries.file_failed(session, file, worker, made, now)
            return
        if not deliveries.file_made(session, file, worker, made, now):
            return
        if file.sheet is not None:
            return
        placed = placements.find(session, file.placement_id)
        of_now = placed is not None and hash_of(placed) == file.made_of
        if of_now and deliveries.all_made(session, file):
            placements.set_state(session, file.placement_id, "made", now)
    if file.former is not None and file.former.name != file.name:
        former = folder_of(workspace, file.delivery_id) / file.former.name
        former.unlink(missing_ok=True)
