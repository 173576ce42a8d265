"""Files made by workers: claimed for a lease, made photo by photo, measured."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta
from functools import partial

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.files.proof import Measured
from oak_ledge.core.photos.retouches import Retouches
from oak_ledge.core.pixels.open.photo import Source
from oak_ledge.core.pixels.scene_maker import Maker
from oak_ledge.core.sheets.print_order import OrderedPiece
from oak_ledge.flows.delivery.deliveries import folder_of
from oak_ledge.flows.delivery.drawing import draw_files, or_why
from oak_ledge.flows.delivery.filling import AtWork, fill_next
from oak_ledge.flows.delivery.making import Work, finish
from oak_ledge.flows.marks.laid import files_here, laid_on
from oak_ledge.flows.photos.backdrops import behind
from oak_ledge.flows.photos.scenes import kept, maker_of
from oak_ledge.flows.pieces.fingerprint import hash_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import photos, placements
from oak_ledge.store.database import reading, transaction
from oak_ledge.store.folders import sweep_parts
from oak_ledge.store.photos import Photo, present
from oak_ledge.store.work import claims, deliveries, fills
from oak_ledge.store.work.deliveries import DeliveryFile

# So long a worker that is not heard of is taken for alive.
LEASE = timedelta(seconds=60)


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


def lost_worker(workspace: Workspace, worker: str, pid: int, now: datetime) -> None:
    """Note that a worker is no more: what it wrote by half goes, what it was at is asked for again."""
    sweep_parts(workspace.deliveries, pid)
    with transaction(workspace.sessions) as session:
        claims.put_back(session, worker, now)
        fills.put_back(session, worker)
    ask_for_all(workspace)


def still_at_work(workspace: Workspace, worker: str, now: datetime) -> None:
    """Note that a worker lives: what it is at stays its own."""
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
    for file in files:
        if file.sheet is not None:
            write_down(workspace, file, _sheet_made(workspace, file), worker, clock())
    alone = [file for file in files if file.sheet is None]

    def work_of(file: DeliveryFile, source: Source | None) -> Work:
        return _work(workspace, _still_there(photo, file), file, source)

    def photo_maker(retouches: Retouches) -> Maker:
        return maker_of(workspace, _still_there(photo, files[0]), retouches, make=True)

    for file, drawn in draw_files(alone, work_of, photo_maker, workspace.limits):
        measured = (
            drawn if isinstance(drawn, str) else or_why(partial(_made, workspace, drawn, file))
        )
        write_down(workspace, file, measured, worker, clock())
    return True


def _still_there(photo: Photo | None, file: DeliveryFile) -> Photo:
    if photo is None or photo.hash != file.photo_hash:
        msg = "Its photo was taken away meanwhile."
        raise PhotoError(msg)
    return photo


def _sheet_made(workspace: Workspace, file: DeliveryFile) -> Measured | str:
    """Make the file of a sheet as it was asked for, from its photos; or say why it can't be.

    What makes sheets is loaded with the first of them: most workers never make any.
    """
    from oak_ledge.flows.delivery.sheet_file import finish_sheet

    order, folder = file.sheet, folder_of(workspace, file.delivery_id)
    assert order is not None
    with reading(workspace.sessions) as session:
        photo_of = {piece.photo_id: photos.find(session, piece.photo_id) for piece in order.pieces}

    def work_of(piece: OrderedPiece) -> Work:
        photo = photo_of[piece.photo_id]
        if photo is None or photo.hash != piece.photo_hash:
            msg = f"{piece.photo_name} was taken away meanwhile"
            raise PhotoError(msg)
        return _work(workspace, photo, piece)

    stem = (file.name or "sheet").rpartition(".")[0]
    return or_why(
        lambda: finish_sheet(order, work_of, workspace.limits, folder, stem, file.name).measured
    )


def _work(
    workspace: Workspace,
    photo: Photo,
    task: DeliveryFile | OrderedPiece,
    source: Source | None = None,
) -> Work:
    return Work(
        source=source or present(workspace.originals, photo),
        photo_name=photo.name,
        photo=photo.facts,
        size=task.size,
        placement=task.placement,
        retouches=task.retouches,
        keep=kept(workspace, photo.hash, make=True),
        mark=laid_on(task.size, task.placement, files_here(workspace)),
        behind=behind(workspace, task.size, task.placement),
    )


def _made(workspace: Workspace, drawn: tuple[Work, bytes], file: DeliveryFile) -> Measured:
    work, data = drawn
    return finish(work, data, folder_of(workspace, file.delivery_id), file.name).measured


def write_down(
    workspace: Workspace,
    file: DeliveryFile,
    outcome: Measured | str,
    worker: str,
    now: datetime,
    place: Callable[[], None] | None = None,
) -> bool:
    """Write down what became of a file; its piece is made once all its files are.

    What is to be done only if it is still this worker's, to `place` it, is done before anybody else
    can take it. Gives False where it is another's by now: what comes late is nothing.
    """
    with transaction(workspace.sessions) as session:
        if isinstance(outcome, str):
            return deliveries.file_failed(session, file, worker, outcome, now)
        if not deliveries.file_made(session, file, worker, outcome, now):
            return False
        if place is not None:
            place()
        if file.sheet is None:
            placed = placements.find(session, file.placement_id)
            of_now = placed is not None and hash_of(placed) == file.made_of
            if of_now and deliveries.all_made(session, file):
                placements.set_state(session, file.placement_id, "made", now)
    if file.sheet is None and file.former is not None and file.former.name != file.name:
        former = folder_of(workspace, file.delivery_id) / file.former.name
        former.unlink(missing_ok=True)
    return True
