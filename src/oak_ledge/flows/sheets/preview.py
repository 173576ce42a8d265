"""A page of a sheet as it will look."""

from __future__ import annotations

from oak_ledge.core.pixels.paper.sheet_picture import Small, draw_small
from oak_ledge.core.sizes.edges.panels import PanelBox
from oak_ledge.flows.errors import NotFoundError
from oak_ledge.flows.pieces.pictures import piece_preview
from oak_ledge.flows.sheets.view import placed_on, sheet_in, view_in
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.database import reading


def page_preview(workspace: Workspace, sheet_id: int, page: int, edge: int) -> bytes:
    """Draw a page, its longer edge `edge` pixels, as a JPEG.

    Raises
    ------
    NotFoundError
        If the sheet has no such page.
    """
    with reading(workspace.sessions) as session:
        kept = sheet_in(session, sheet_id)
        shown, placed = view_in(session, kept), placed_on(session, kept.sheet)
    if page >= shown.pages:
        msg = f"Sheet {sheet_id} has no page {page + 1}."
        raise NotFoundError(msg)
    scale = edge / max(shown.width, shown.height)
    pieces = []
    for piece in shown.pieces:
        if piece.page == page:
            left, top = round(piece.x * scale), round(piece.y * scale)
            right, bottom = (
                round((piece.x + piece.width) * scale),
                round((piece.y + piece.height) * scale),
            )
            box = PanelBox(left, top, right - left, bottom - top)
            whole = max(box.width, box.height) / min(piece.cut[2:])
            path = piece_preview(
                workspace, placed[piece.placement_id], max(16, min(1600, round(whole)))
            )
            pieces.append(Small(path, piece.cut, box, piece.turned))
    canvas = (max(1, round(shown.width * scale)), max(1, round(shown.height * scale)))
    return draw_small(canvas, shown.ground, pieces)
