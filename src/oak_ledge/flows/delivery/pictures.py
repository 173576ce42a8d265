"""Pictures of a delivery's files: what was made, and before that what was asked for, never the piece as it lies now."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from oak_ledge.core.pixels.show.preview import draw_preview
from oak_ledge.flows.delivery.deliveries import find_delivery, folder_of
from oak_ledge.flows.errors import NotFoundError
from oak_ledge.flows.pieces.pictures import piece_preview
from oak_ledge.flows.pieces.pieces import PieceView, piece_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import placements
from oak_ledge.store.database import reading
from oak_ledge.store.folders import is_fresh, replace_file
from oak_ledge.store.placements import Placed
from oak_ledge.store.work.deliveries import DeliveryFile


def file_picture(workspace: Workspace, delivery_id: int, file_id: int, edge: int) -> Path:
    """Draw a file of a delivery, its longer edge at most `edge` pixels.

    A file that is made is drawn from its own bytes. One of several panels, and one that is not made,
    is drawn as its piece was frozen when it was asked for.

    Raises
    ------
    NotFoundError
        If there is no such file, or its piece is gone and nothing was made of it.
    """
    with reading(workspace.sessions) as session:
        delivery = find_delivery(session, delivery_id)
        file = next((file for file in delivery.files if file.id == file_id), None)
        if file is None:
            msg = f"Delivery {delivery_id} has no file {file_id}."
            raise NotFoundError(msg)
        placed = placements.find(session, file.placement_id) if file.sheet is None else None
    path = folder_of(workspace, delivery_id) / (file.name or "")
    if file.state == "made" and file.panel is None and file.sheet is None and path.is_file():
        return _of_file(workspace, path, file, edge)
    if placed is None:
        msg = f"File {file_id} has no picture: its piece is gone."
        raise NotFoundError(msg)
    return piece_preview(workspace, _frozen(placed, file), edge)


def _of_file(workspace: Workspace, made_file: Path, file: DeliveryFile, edge: int) -> Path:
    sha256 = file.measured.sha256 if file.measured is not None else None
    name = sha256 or f"{file.id}-{made_file.stat().st_mtime_ns}"
    path = workspace.previews / "files" / name[:2] / f"{name}-{edge}.jpg"
    if not is_fresh(path):
        replace_file(path, draw_preview(made_file, edge))
    return path


def frozen_pieces(workspace: Workspace, delivery_id: int) -> list[tuple[int, PieceView]]:
    """Return each piece of a delivery once, as it was when it was asked for, and its first file's id."""
    with reading(workspace.sessions) as session:
        files = [file for file in find_delivery(session, delivery_id).files if file.sheet is None]
        there = placements.find_many(session, [file.placement_id for file in files])
    first = {file.placement_id: file for file in reversed(files)}
    return [
        (first[placement].id, piece_of(_frozen(there[placement], first[placement])))
        for placement in dict.fromkeys(file.placement_id for file in files)
        if placement in there
    ]


def _frozen(placed: Placed, file: DeliveryFile) -> Placed:
    photo = replace(placed.photo, retouches=file.retouches)
    return replace(placed, photo=photo, size=file.size, placement=file.placement)
