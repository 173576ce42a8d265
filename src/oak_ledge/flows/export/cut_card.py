"""The cut card of a framed piece: what a framer cuts for it, on one page."""

from __future__ import annotations

from oak_ledge.core.pixels.paper.cut_card import draw_cut_card
from oak_ledge.core.reports.cut_card import cut_card
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.errors import NotFoundError
from oak_ledge.flows.workspace import Workspace


def card_of(workspace: Workspace, placement_id: int) -> bytes:
    """Draw the cut card of a piece, as a PDF.

    Raises
    ------
    NotFoundError
        If it has no frame.
    """
    placed = load(workspace, placement_id)
    card = cut_card(placed.lying.size, placed.lying.asked)
    if card is None:
        msg = f"{placed.photo.name} on {size_name(placed.size)} has no frame, so nothing is cut for it."
        raise NotFoundError(msg)
    return draw_cut_card(card, placed.photo.name, f"{size_name(placed.lying.size)} · {placed.job}")
