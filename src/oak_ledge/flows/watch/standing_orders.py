"""Standing orders: given, paused, ended; and what came of them, read from beside the photos."""

from __future__ import annotations

import os
from collections.abc import Iterator
from datetime import datetime
from functools import lru_cache
from pathlib import Path
from typing import Literal

from pydantic import BaseModel

from oak_ledge.core.errors import sentence
from oak_ledge.core.sizes.geometry import written_pixels
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.several import Several
from oak_ledge.core.sizes.text.write import size_name, write_size
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.library.entry import meant_in
from oak_ledge.flows.watch import receipts
from oak_ledge.flows.watch.beside import ENDING, Beside, read_note
from oak_ledge.flows.watch.folder import prepare_out
from oak_ledge.flows.watch.seal import Seal, read_seal, seal_path
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import standing_orders
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.errors import disk_words
from oak_ledge.store.standing_orders import StandingOrder

# Orders: each is a process of its own.
MOST_ORDERS = 12
# Photos told of each.
LATEST = 5

# How a stop is taken that an order met.
TO_TAKE = "bring the photo into a job, where it can be taken as it is"


class OrderedSize(BaseModel):
    """A size of an order; `across` and `along` draw it, at most 1 each."""

    name: str
    text: str
    across: float
    along: float


class Arrived(BaseModel):
    """A photo that arrived, and what was made of it."""

    photo: str
    when: str
    files: list[str]
    reasons: list[str]
    sent: list[str]
    """what came of each file at the receiver"""


class StandingOrderView(BaseModel):
    """A standing order, and what came of it lately."""

    id: int
    folder: str
    out: str
    sizes: list[OrderedSize]
    on: bool
    state: Literal["watching", "paused", "not watching"]
    trouble: str | None
    """why it is not followed just now"""
    photos: int
    """photos that arrived and are over with"""
    files: int
    """files made of them"""
    receiver_id: int | None
    """who its files are sent to"""
    failed: int
    """photos of which something could not be made"""
    latest: list[Arrived]


def every(workspace: Workspace) -> list[StandingOrderView]:
    """Return all standing orders."""
    with reading(workspace.sessions) as session:
        orders = standing_orders.every(session)
    return [_view(order) for order in orders]


def find(workspace: Workspace, order_id: int) -> StandingOrder:
    """Return a standing order; one that is not here is refused."""
    with reading(workspace.sessions) as session:
        return _find(session, order_id)


def _find(session: Session, order_id: int) -> StandingOrder:
    order = standing_orders.find(session, order_id)
    if order is None:
        msg = f"There is no standing order {order_id}."
        raise NotFoundError(msg)
    return order


def give(
    workspace: Workspace,
    folder: str,
    size_texts: list[str],
    out: str,
    now: datetime,
    receiver_id: int | None = None,
) -> StandingOrderView:
    """Begin a standing order; where `out` is empty, files go to `made` within the folder.

    Each file then goes to a receiver, if one is named.

    Raises
    ------
    RequestError
        If the folder can't be watched, or its files would come back to it.
    SizeTextError
        If a text is no size.
    """
    watched = _folder(folder, "watch")
    files = _absolute(out, "put files into") if out.strip() else watched / "made"
    files = files.resolve()
    _keep_apart(workspace, watched, files)
    with transaction(workspace.sessions) as session:
        sizes = tuple(size for size, _ in meant_in(session, size_texts))
        if not sizes:
            msg = "Say which sizes, such as 8x10in@300 or the name of a saved size."
            raise RequestError(msg)
        others = standing_orders.every(session)
        if len(others) >= MOST_ORDERS:
            msg = f"There are {MOST_ORDERS} standing orders already, the most there may be. End one first."
            raise RequestError(msg)
        for other in others:
            _keep_orders_apart(other, watched, files)
        _prepare(files)
        order_id = standing_orders.add(
            session, str(watched), str(files), Several(sizes=sizes), now, receiver_id
        )
    return _view(find(workspace, order_id))


def followed(workspace: Workspace, order_id: int) -> StandingOrder:
    """Return an order that is about to be followed.

    Raises
    ------
    NotFoundError
        If it is no more.
    RequestError
        If by now, through links that were laid since, its files would be photos of an order.
    """
    with reading(workspace.sessions) as session:
        order = _find(session, order_id)
        others = [other for other in standing_orders.every(session) if other.id != order_id]
    watched, files = Path(order.folder).resolve(), Path(order.out).resolve()
    _keep_apart(workspace, watched, files)
    for other in others:
        _keep_orders_apart(other, watched, files)
    return order


def set_on(workspace: Workspace, order_id: int, *, on: bool) -> StandingOrderView:
    """Follow an order, or pause it; what it is at is finished first."""
    with transaction(workspace.sessions) as session:
        _find(session, order_id)
        standing_orders.set_on(session, order_id, on=on)
    return _view(find(workspace, order_id))


def end(workspace: Workspace, order_id: int) -> None:
    """End an order; photos, files and what stands beside them stay."""
    with transaction(workspace.sessions) as session:
        _find(session, order_id)
        standing_orders.remove(session, order_id)


def _absolute(text: str, what: str) -> Path:
    if "\0" in text or len(text) > 4000:
        msg = "That is no name of a folder."
        raise RequestError(msg)
    path = Path(text.strip()).expanduser() if text.strip().startswith("~") else Path(text.strip())
    if not path.is_absolute():
        msg = f"Say the whole path of the folder to {what}, such as {Path.home() / 'quay'}."
        raise RequestError(msg)
    return Path(os.path.normpath(path))


def _folder(text: str, what: str) -> Path:
    path = _absolute(text, what)
    if os.path.isdir(path) and os.access(path, os.R_OK | os.W_OK | os.X_OK):  # noqa: PTH112 - a name too long is none
        return path.resolve()
    there = "can't be read and written" if os.path.isdir(path) else "is no folder"  # noqa: PTH112
    msg = f"{path} {there}. Make it first, or name another."
    raise RequestError(msg)


def _prepare(files: Path) -> None:
    try:
        prepare_out(files)
    except (OSError, ValueError) as exc:
        why = disk_words(exc) if isinstance(exc, OSError) else "That is no name of a folder."
        msg = f"Files can't be put into {files}. {why} Name another folder."
        raise RequestError(msg) from exc


def _keep_orders_apart(other: StandingOrder, watched: Path, files: Path) -> None:
    """Refuse two orders that watch one folder, or of which one's files are the other's photos."""
    folder, out = Path(other.folder).resolve(), Path(other.out).resolve()
    if folder == watched:
        msg = f"{watched} is watched already. End that order, or name another folder."
        raise RequestError(msg)
    if files == folder or out == watched:
        msg = (
            f"The files of one order would be the photos of another, in {other.folder}. "
            "Choose another folder."
        )
        raise RequestError(msg)


def _keep_apart(workspace: Workspace, watched: Path, files: Path) -> None:
    if files.resolve() == watched:
        msg = (
            "Its files would be made of again: choose another folder for them than the watched one."
        )
        raise RequestError(msg)
    own = workspace.data.resolve()
    for path in (watched, files.resolve()):
        if path.is_relative_to(own):
            msg = f"{path} is Oak Ledge's own. Choose a folder outside {own}."
            raise RequestError(msg)


def _view(order: StandingOrder) -> StandingOrderView:
    notes = list(_told(Path(order.folder)))
    newest = sorted(notes, key=lambda beside: beside.made_at, reverse=True)[:LATEST]
    state: Literal["watching", "paused", "not watching"] = "watching"
    if not order.on:
        state = "paused"
    elif order.trouble is not None:
        state = "not watching"
    return StandingOrderView(
        id=order.id,
        folder=order.folder,
        out=order.out,
        sizes=[_drawn(size) for size in order.sizes.sizes],
        on=order.on,
        receiver_id=order.receiver_id,
        state=state,
        trouble=order.trouble if order.on else None,
        photos=len(notes),
        files=sum(len(beside.files) for beside in notes),
        failed=sum(bool(beside.failed) for beside in notes),
        latest=[
            Arrived(
                photo=beside.photo,
                when=beside.made_at,
                files=[Path(file.file).name for file in beside.files],
                sent=receipts.words_of(Path(order.folder) / beside.photo),
                reasons=list(dict.fromkeys(sentence(failed.reason) for failed in beside.failed)),
            )
            for beside in newest
        ],
    )


def _drawn(size: Size) -> OrderedSize:
    wide, high = written_pixels(size) or size.shape.ratio or (3, 2)
    longer = max(wide, high)
    return OrderedSize(
        name=size_name(size),
        text=write_size(size),
        across=float(wide / longer),
        along=float(high / longer),
    )


def notes_of(order: StandingOrder) -> Iterator[Beside]:
    """Return what was made of each photo of an order, as it stands beside them."""
    return _told(Path(order.folder))


def _told(folder: Path) -> Iterator[Beside]:
    """Return what stands beside the photos of a folder; a note that can't be read or believed is none."""
    seal = read_seal(seal_path(folder))
    try:
        with os.scandir(folder) as entries:
            notes = [entry for entry in entries if entry.name.endswith(ENDING)]
            for entry in notes:
                written = entry.stat(follow_symlinks=False).st_mtime_ns
                beside = _read(folder / entry.name, seal, written)
                if beside is not None:
                    yield beside
    except OSError:
        return


@lru_cache(maxsize=20_000)
def _read(note: Path, seal: Seal | None, written: int) -> Beside | None:
    """Read a note as it was written at a time, in nanoseconds."""
    return read_note(note, seal)
