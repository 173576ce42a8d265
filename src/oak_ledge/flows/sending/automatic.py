"""What is sent by itself: the files of standing orders, and of deliveries that end in a receiver."""

from __future__ import annotations

from contextlib import suppress
from datetime import datetime
from pathlib import Path

from oak_ledge.core.errors import OakLedgeError
from oak_ledge.core.receivers.receiver import Receiver
from oak_ledge.flows.commands.make import MadeFile
from oak_ledge.flows.receivers.check import check_files
from oak_ledge.flows.sending.sendings import Key, key_of, send, wish_for
from oak_ledge.flows.watch import receipts, standing_orders as orders
from oak_ledge.flows.watch.beside import Beside
from oak_ledge.flows.watch.receipts import Receipts, SentFile
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import standing_orders
from oak_ledge.store.database import reading, transaction
from oak_ledge.store.receivers import receivers, sendings
from oak_ledge.store.receivers.receivers import KeptReceiver
from oak_ledge.store.receivers.sendings import Sending, Wish
from oak_ledge.store.standing_orders import StandingOrder
from oak_ledge.store.work import deliveries


def hand_over(workspace: Workspace, now: datetime) -> None:
    """Write down what shall be sent by itself and is not yet; put receipts beside watched photos.

    Called again and again: what is written down is not written twice.
    """
    with reading(workspace.sessions) as session:
        ready = deliveries.to_send(session)
        following = [order for order in standing_orders.every(session) if order.receiver_id]
        there = {kept.id: kept for kept in receivers.every(session)}
    for delivery_id, receiver_id in ready:
        with suppress(OakLedgeError):  # such as nothing of it is for the receiver: said on its page
            send(workspace, receiver_id, delivery_id, now)
        with transaction(workspace.sessions) as session:
            deliveries.set_sent(session, delivery_id)
    for order in following:
        kept = there.get(order.receiver_id or 0)
        if kept is not None and order.on:
            _of_order(workspace, order, kept, now)


def _of_order(
    workspace: Workspace, order: StandingOrder, kept: KeptReceiver, now: datetime
) -> None:
    notes = [note for note in orders.notes_of(order) if note.files]
    files = {_key(file): Path(file.file) for note in notes for file in note.files}
    with reading(workspace.sessions) as session:
        rows = {
            (row.name, row.sha256): row
            for row in sendings.of_files(session, [*files])
            if row.receiver_id == kept.id and row.rehearsed == kept.rehearsing
        }
    new = [(key, path) for key, path in files.items() if key not in rows and path.is_file()]
    for key, path in new:
        with transaction(workspace.sessions) as session:
            sendings.wish(session, _wish(kept, key, path), now, again=False)
    for note in notes:
        with suppress(OSError):  # the folder may be away; it is looked at again
            _keep_receipts(Path(order.folder), note, kept.receiver, rows)


def _key(file: MadeFile) -> Key:
    return key_of(Path(file.file).name, file.measured)


def _wish(kept: KeptReceiver, key: Key, path: Path) -> Wish:
    ((_, answer, measured),) = check_files(kept.receiver, [path])
    return wish_for(kept, key, path.resolve(), measured, answer)


def _keep_receipts(
    folder: Path, note: Beside, receiver: Receiver, rows: dict[Key, Sending]
) -> None:
    """Put beside a photo what came of its files, once all of them are over with."""
    known = [rows.get(_key(file)) for file in note.files]
    if not known or any(row is None or row.state in sendings.OPEN for row in known):
        return
    sent = tuple(
        SentFile(
            file=row.name,
            receiver=receiver.name,
            state=row.state,
            receipt=row.receipt,
            reasons=row.reasons,
            rehearsed=row.rehearsed,
        )
        for row in known
        if row is not None
    )
    receipts.keep(folder / note.photo, Receipts(photo=note.photo, files=sent))
