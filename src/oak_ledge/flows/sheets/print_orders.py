"""Sheets made: frozen as they are, through the same queue and proof as any file."""

from __future__ import annotations

import hashlib
from datetime import datetime

from oak_ledge.core.files.names import unlike
from oak_ledge.core.notes.note import stops
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.sheets.print_order import OrderedPiece, SheetOrder, files_of, sheet_stem
from oak_ledge.core.sheets.sheet import Kind, Sheet, layout_from
from oak_ledge.core.sizes.file.formats import format_of
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.delivery.deliveries import DeliveryView, view
from oak_ledge.flows.delivery.orders import have_made
from oak_ledge.flows.delivery.sheet_file import asked_of_sheet
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.pieces.fingerprint import made_with
from oak_ledge.flows.pieces.pieces import figures_of
from oak_ledge.flows.sheets.view import placed_on, sheet_in
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.database import transaction
from oak_ledge.store.placements import Placed
from oak_ledge.store.work import deliveries
from oak_ledge.store.work.deliveries import Wanted


def make(
    workspace: Workspace, sheet_id: int, now: datetime, kind: Kind | None = None
) -> DeliveryView:
    """Make a sheet, each of its files measured; `kind` replaces its own for this time.

    Raises
    ------
    RequestError
        If nothing lies on it.
    CoreError
        If a face shall be a PDF.
    """
    with transaction(workspace.sessions) as session:
        kept = sheet_in(session, sheet_id)
        sheet = kept.sheet
        if kind is not None:
            layout = layout_from(**dict(sheet.layout) | {"kind": kind})
            sheet = sheet.model_copy(update={"layout": layout})
        placed = placed_on(session, sheet)
        wanted = _wanted(sheet, placed, sheet_id, kept.name)
        if not wanted:
            msg = "Nothing lies on this sheet yet: put a piece on it first."
            raise RequestError(msg)
        delivery_id = deliveries.add(session, kept.job_id, wanted, now)
    have_made(workspace, now)
    return view(workspace, delivery_id, now)


def _wanted(sheet: Sheet, placed: dict[int, Placed], sheet_id: int, name: str) -> list[Wanted]:
    pieces = tuple(_ordered(piece) for piece in placed.values())
    orders = files_of(sheet.layout, pieces, sheet.places)
    names: set[str] = set()
    return [_one(order, placed, sheet_id, name, len(orders), names) for order in orders]


def _ordered(placed: Placed) -> OrderedPiece:
    return OrderedPiece(
        number=placed.id,
        photo_id=placed.photo.id,
        photo_name=placed.photo.name,
        photo_hash=placed.photo.hash,
        size=placed.size,
        placement=made_with(placed),
        retouches=placed.photo.retouches,
    )


def _one(
    order: SheetOrder,
    placed: dict[int, Placed],
    sheet_id: int,
    name: str,
    files: int,
    taken: set[str],
) -> Wanted:
    here = [placed[piece.number] for piece in order.pieces]
    heaviest = max(
        here, key=lambda other: other.photo.facts.upright[0] * other.photo.facts.upright[1]
    )
    stem = sheet_stem(f"{heaviest.job} {name}", order.pages[0], files)
    return Wanted(
        placement_id=heaviest.id,
        photo_id=heaviest.photo.id,
        name=unlike(stem, format_of(order.layout.kind).ending, taken),
        asked=asked_of_sheet(order),
        made_of=hashlib.sha256(order.model_dump_json().encode()).hexdigest(),
        photo_hash=heaviest.photo.hash,
        size=order.layout.canvas,
        placement=Placement(cx=0, cy=0, width=1),
        retouches=heaviest.photo.retouches,
        sheet_id=sheet_id,
        sheet=order,
        held=_held(here),
    )


def _held(pieces: list[Placed]) -> str | None:
    """Return which piece of a sheet is stopped, and by what."""
    for piece in pieces:
        stop = next(stops(figures_of(piece)[1]), None)
        if stop is not None:
            return f"{piece.photo.name} on {size_name(piece.lying.size)}: {stop.text}"
    return None
